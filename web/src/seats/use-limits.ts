import type { LicenceSheet, Change } from '@gate-roster/contract';
import { computed, type ComputedRef, ref, type Ref, watch } from 'vue';

/** Limits that were typed for groups of a licence, until they are applied as one change or discarded. */
export interface LimitsDraft {
  change: ComputedRef<Change | null>;
  /** What a group's limit would be. */
  at: (group: LicenceSheet['groups'][number]) => number | null;
  put: (groupId: number, typed: string | null) => void;
  clear: () => void;
}

export function useLimits(licence: Ref<LicenceSheet | undefined>): LimitsDraft {
  const typed = ref(new Map<number, number | null>());
  const clear = (): void => {
    typed.value = new Map();
  };
  watch(() => licence.value?.id, clear);
  return {
    change: computed(() => {
      const standing = new Map(licence.value?.groups.map(({ id, most }) => [id, most]));
      const limits = [...typed.value].flatMap(([groupId, most]) => (standing.get(groupId) === most ? [] : [{ groupId, most }]));
      return licence.value && limits.length > 0 ? { kind: 'limit-seats', licenceId: licence.value.id, limits } : null;
    }),
    at: (group) => {
      const draft = typed.value.get(group.id);
      return draft === undefined ? group.most : draft;
    },
    put(groupId, text) {
      const number = Number(text);
      const most = text === null || text.trim() === '' ? null : number;
      if (most !== null && (!Number.isInteger(most) || most < 0)) return;
      typed.value = new Map(typed.value).set(groupId, most);
    },
    clear,
  };
}
