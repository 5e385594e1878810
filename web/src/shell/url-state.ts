import { customRef, type Ref } from 'vue';
import { type LocationQueryRaw, useRoute, useRouter } from 'vue-router';

/** How a value is written into the address, and read from it; what is not there, or makes no sense, is the first value. */
export interface UrlCode<T> {
  read: (text: string) => T | undefined;
  write: (value: T) => string;
}

export const textCode: UrlCode<string> = { read: (text) => text, write: (value) => value };
/** A text that may be left out. */
export const maybeTextCode: UrlCode<string | null> = { read: (text) => text, write: (value) => value ?? '' };
export const idsCode: UrlCode<number[]> = {
  read: (text) => (/^\d{1,15}(,\d{1,15})*$/u.test(text) ? text.split(',').map(Number) : undefined),
  write: (value) => value.join(),
};
export const idCode: UrlCode<number | null> = {
  read: (text) => (/^\d{1,15}$/u.test(text) ? Number(text) : undefined),
  write: (value) => (value === null ? '' : String(value)),
};
export const oneOf = <T extends string>(choices: readonly T[]): UrlCode<T> => ({
  read: (text) => choices.find((choice) => choice === text),
  write: (value) => value,
});

/** Changes of one moment go into the address together. */
let pending: Record<string, string | undefined> | null = null;

/**
 * State that is kept in the address: it survives a reload, and a link opens the same view for a colleague. The first value is
 * left out of the address.
 */
export function useUrlState<T>(name: string, first: T, { read, write }: UrlCode<T>): Ref<T> {
  const route = useRoute();
  const router = useRouter();
  const unchanged = write(first);
  return customRef((track, trigger) => ({
    get() {
      track();
      const text = pending && name in pending ? pending[name] : route.query[name];
      return typeof text === 'string' ? (read(text) ?? first) : first;
    },
    set(value) {
      const text = write(value);
      if (!pending) {
        const changes: Record<string, string | undefined> = {};
        pending = changes;
        void Promise.resolve().then(() => {
          pending = null;
          const query: LocationQueryRaw = Object.fromEntries(
            Object.entries({ ...route.query, ...changes }).filter(([, each]) => each !== undefined),
          );
          return router.replace({ query });
        });
      }
      pending[name] = text === unchanged ? undefined : text;
      trigger();
    },
  }));
}
