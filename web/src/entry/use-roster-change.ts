import type { Change } from '@gate-roster/contract';
import { watchDebounced } from '@vueuse/core';
import { type Ref, ref, shallowRef, watch } from 'vue';
import type { useRosterFile } from './use-roster-file.ts';

type RosterFile = Pick<ReturnType<typeof useRosterFile>, 'version' | 'isLarge' | 'isReady' | 'change'>;

/** The change that a file asks for, once its check and what was chosen have settled. Large files wait to be put on the server. */
export function useRosterChange(file: RosterFile, options: Ref<Parameters<RosterFile['change']>[0]>) {
  // Few rows go along and are looked at by themselves; many are put on the server when somebody asks. Shallow: there may be thousands.
  const change = shallowRef<Change | null>(null);
  const isWorkedOut = ref(true);
  /** A cell was corrected, and the change does not contain it yet: nothing can be applied. */
  const isChanging = ref(false);
  let latest = 0;
  watch(
    [file.version, options],
    () => {
      isChanging.value = true;
    },
    { deep: true, flush: 'sync' },
  );
  watchDebounced(
    [file.version, options],
    async () => {
      const mine = ++latest;
      isWorkedOut.value = !file.isLarge.value;
      const next = file.isReady.value && !file.isLarge.value ? await file.change(options.value) : null;
      if (mine !== latest) return;
      change.value = next;
      isChanging.value = false;
    },
    { debounce: 250, deep: true },
  );
  /** Puts a large file on the server, which works out what it would do. */
  async function workOut(): Promise<void> {
    change.value = await file.change(options.value, crypto.randomUUID());
    isWorkedOut.value = true;
  }
  return { change, isWorkedOut, isChanging, workOut };
}
