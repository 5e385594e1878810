import { beforeEach, expect, test } from '@jest/globals';
import { computed, ref } from 'vue';
import { usePagedRows } from './paged-rows.ts';

/** Rows 11 to 15, of which none is chosen. */
function list() {
  const opened: number[] = [];
  const rows = computed(() => [11, 12, 13, 14, 15].map((id) => ({ id })));
  const paged = usePagedRows(
    ref(null),
    rows,
    { hasNextPage: ref(false), isFetchingNextPage: ref(false), fetchNextPage: () => undefined },
    37,
    (id) => opened.push(id),
  );
  const press = (key: string, index: number, shiftKey = false): boolean => {
    let isTaken = false;
    paged.onKey({ key, shiftKey, preventDefault: () => (isTaken = true) } as unknown as KeyboardEvent, index);
    return isTaken;
  };
  const chosen = (): number[] => rows.value.flatMap(({ id }) => (paged.selection.has(id) ? [id] : []));
  return { paged, press, chosen, opened };
}
beforeEach(() => {
  (globalThis as { requestAnimationFrame?: unknown }).requestAnimationFrame = () => 0;
});

test('space chooses a row and lets it go, Enter opens it, other keys are left to the page', () => {
  const { press, chosen, opened } = list();
  expect([press(' ', 1), chosen()]).toEqual([true, [12]]);
  press(' ', 1);
  expect(chosen()).toEqual([]);
  expect([press('Enter', 3), opened]).toEqual([true, [14]]);
  expect([press('a', 0), press('Tab', 0), chosen()]).toEqual([false, false, []]);
});

test('arrows alone choose nothing; with shift they choose every row on the way, and go over no edge', () => {
  const { press, chosen, paged } = list();
  press('ArrowDown', 0);
  expect(chosen()).toEqual([]);
  press('ArrowDown', 1, true);
  press('ArrowDown', 2, true);
  expect(chosen()).toEqual([12, 13, 14]);
  press('ArrowDown', 4, true);
  expect(chosen()).toEqual([12, 13, 14]);
  expect(paged.isAllChosen.value).toBe(false);
  press('ArrowUp', 1, true);
  press('ArrowDown', 3, true);
  expect([chosen(), paged.isAllChosen.value]).toEqual([[11, 12, 13, 14, 15], true]);
});
