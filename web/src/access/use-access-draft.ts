import type { AccessCell, AccessGrid, Change, GrantDraft } from '@gate-roster/contract';
import { computed, type ComputedRef, type Ref, ref, toRaw } from 'vue';

/** What is drafted for one cell; `end` takes back what was said there before. */
export interface CellDraft {
  effect: 'open' | 'block' | 'end';
  more?: Partial<GrantDraft>;
  /** The statements at the cell that it ends; left out: all that one may. */
  ends?: number[];
}

export interface AccessDraft {
  cells: Ref<Map<string, CellDraft>>;
  count: ComputedRef<number>;
  at: (groupId: number, courseId: number) => CellDraft | null;
  put: (groupId: number, courseId: number, what: CellDraft | null) => void;
  /** Adds to what the statements at these cells say. */
  refine: (at: readonly { groupId: number; courseId: number }[], more: Partial<GrantDraft>) => void;
  /** Cells whose draft keeps people out, and that are not said firmly yet. */
  loose: ComputedRef<string[]>;
  /** Says those as firm blocks, which hold whatever other groups say. */
  holdFirmly: () => void;
  clear: () => void;
  change: ComputedRef<Extract<Change, { kind: 'grant-access' }> | null>;
  /** How the cell would look. */
  stateOf: (row: AccessGrid['rows'][number], courseId: number, cell: AccessCell) => AccessCell['state'];
  /** How many units would be open where only some are. */
  unitsOf: (row: AccessGrid['rows'][number], courseId: number, cell: AccessCell) => number;
  touches: (row: AccessGrid['rows'][number], courseId: number) => boolean;
}

const keyOf = (groupId: number, courseId: number): string => `${groupId}/${courseId}`;
export const ofKey = (key: string): { groupId: number; courseId: number } => {
  const [groupId = 0, courseId = 0] = key.split('/').map(Number);
  return { groupId, courseId };
};

/** What all of them say alike. */
export function sameInAll(said: readonly Partial<GrantDraft>[]): Partial<GrantDraft> {
  const [first = {}, ...others] = said;
  return Object.fromEntries(
    Object.entries(first).filter(([key, value]) =>
      others.every((each) => JSON.stringify(each[key as keyof GrantDraft]) === JSON.stringify(value)),
    ),
  );
}

/** Cells that were touched, until they are applied as one change or discarded. */
export function useAccessDraft(grid: Ref<AccessGrid | undefined>, cells: Ref<Map<string, CellDraft>> = ref(new Map())): AccessDraft {
  // Asked for every cell that is drawn: by number, and of the plain answer, not through what watches each of its parts.
  const known = computed(() => {
    const { rows, courses } = toRaw(grid.value) ?? { rows: [], courses: [] };
    return { rows: new Map(rows.map((row) => [row.id, row])), places: new Map(courses.map(({ id }, index) => [id, index])) };
  });
  const standing = (groupId: number, courseId: number): AccessCell['grants'] =>
    known.value.rows.get(groupId)?.cells[known.value.places.get(courseId) ?? -1]?.grants ?? [];
  const at = (groupId: number, courseId: number): CellDraft | null => cells.value.get(keyOf(groupId, courseId)) ?? null;

  const above = ({ parentId }: AccessGrid['rows'][number]) => (parentId === null ? undefined : known.value.rows.get(parentId));

  /** The nearest draft above with subgroups, unless the group says something itself. */
  const fromAbove = (row: AccessGrid['rows'][number], courseId: number): CellDraft | null => {
    if (cells.value.size === 0 || standing(row.id, courseId).length > 0) return null;
    for (let parent = above(row); parent; parent = above(parent)) {
      const draft = at(parent.id, courseId);
      if (draft) return draft.effect === 'end' || draft.more?.withSubgroups === false ? null : draft;
      if (standing(parent.id, courseId).length > 0) return null;
    }
    return null;
  };

  const loose = computed(() =>
    [...cells.value].flatMap(([key, { effect, more }]) => (effect !== 'open' && more?.firm !== true ? [key] : [])),
  );
  return {
    loose,
    holdFirmly() {
      const next = new Map(cells.value);
      for (const key of loose.value) next.set(key, { ...next.get(key), effect: 'block', more: { ...next.get(key)?.more, firm: true } });
      cells.value = next;
    },
    cells,
    count: computed(() => cells.value.size),
    at,
    put(groupId, courseId, what) {
      const next = new Map(cells.value);
      if (what === null || (what.effect === 'end' && standing(groupId, courseId).length === 0)) next.delete(keyOf(groupId, courseId));
      else next.set(keyOf(groupId, courseId), what);
      cells.value = next;
    },
    refine(places, more) {
      const next = new Map(cells.value);
      for (const { groupId, courseId } of places) {
        const draft = at(groupId, courseId);
        if (draft) next.set(keyOf(groupId, courseId), { ...draft, more: { ...draft.more, ...more } });
      }
      cells.value = next;
    },
    clear() {
      cells.value = new Map();
    },
    change: computed(() => {
      if (cells.value.size === 0) return null;
      const begin: GrantDraft[] = [];
      const end: number[] = [];
      for (const [key, { effect, more, ends }] of cells.value) {
        const { groupId, courseId } = ofKey(key);
        // What was said at this very group before gives way: one word stands, not two that contradict.
        for (const { id, mayEnd } of standing(groupId, courseId)) if (ends ? ends.includes(id) : mayEnd || effect === 'end') end.push(id);
        if (effect !== 'end')
          begin.push({
            groupId,
            courseId,
            effect,
            withSubgroups: true,
            firm: false,
            firstDay: null,
            lastDay: null,
            units: null,
            due: null,
            ...more,
          });
      }
      return { kind: 'grant-access', begin, end };
    }),
    stateOf(row, courseId, cell) {
      const own = at(row.id, courseId);
      if (own)
        return own.effect === 'open'
          ? own.more?.firstDay
            ? 'later'
            : own.more?.units
              ? 'part'
              : 'here'
          : own.effect === 'block'
            ? 'blocked'
            : 'closed';
      const inherited = fromAbove(row, courseId);
      if (inherited) return inherited.effect === 'open' ? 'above' : 'blocked';
      return cell.state;
    },
    unitsOf: (row, courseId, cell) => at(row.id, courseId)?.more?.units?.length ?? cell.units,
    touches: (row, courseId) => at(row.id, courseId) !== null || fromAbove(row, courseId) !== null,
  };
}
