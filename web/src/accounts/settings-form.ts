import { useQuery } from '@tanstack/vue-query';
import { type Ref, ref, watch } from 'vue';
import type { z } from 'zod';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';

export interface SettingsForm<T> {
  /** As they are typed; null: not read yet. */
  values: Ref<T | null>;
  error: Ref<Error | null>;
  isPending: Ref<boolean>;
  refetch: () => unknown;
  isBusy: Ref<boolean>;
  /** Why they were not saved, in words. */
  problem: Ref<string | null>;
  save: () => Promise<void>;
}

/** Settings that are read, typed, and saved as a whole. `wrong` and `saved` are what is said then. */
export function useSettingsForm<T extends object>(
  key: string,
  {
    read,
    write,
    shape,
    wrong,
    saved,
  }: {
    read: (signal: AbortSignal) => Promise<T>;
    write: (values: T) => Promise<unknown>;
    shape: z.ZodType<T>;
    wrong: string;
    saved: string;
  },
): SettingsForm<T> {
  const { data, error, isPending, refetch } = useQuery({ queryKey: [key], queryFn: ({ signal }) => read(signal) });
  const values = ref<T | null>(null) as Ref<T | null>;
  watch(data, (now) => (values.value = now ? { ...now } : null), { immediate: true });
  const isBusy = ref(false);
  const problem = ref<string | null>(null);
  return {
    values,
    error,
    isPending,
    refetch,
    isBusy,
    problem,
    async save() {
      const typed = shape.safeParse(values.value);
      problem.value = typed.success ? null : wrong;
      if (!typed.success) return;
      isBusy.value = true;
      try {
        await write(typed.data);
        await refetch();
        tell(saved);
      } catch (failure) {
        problem.value = failureWords(failure);
      } finally {
        isBusy.value = false;
      }
    },
  };
}
