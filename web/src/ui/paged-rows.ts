import { computed, type ComputedRef, type Ref, watch } from 'vue';
import { type RowId, type Selection, useSelection } from './selection.ts';
import { useVirtualRows } from './virtual-rows.ts';

export interface Pages {
  hasNextPage: Ref<boolean>;
  isFetchingNextPage: Ref<boolean>;
  fetchNextPage: () => unknown;
}

export interface PagedRows<Row extends { id: RowId }> {
  /** The rows in sight, and a few more. */
  drawn: ComputedRef<{ row: Row; index: number }[]>;
  spaceAbove: ComputedRef<number>;
  spaceBelow: ComputedRef<number>;
  selection: Selection<Row['id']>;
  isAllChosen: ComputedRef<boolean>;
  /** Arrows walk the rows; with shift they choose on the way. Space chooses, Enter opens. */
  onKey: (event: KeyboardEvent, index: number) => void;
}

const askedAhead = 20;

/**
 * A long list that comes a page at a time: drawn where one looks, walked by keys, with rows that can be chosen.
 * @param rowPixels How high all rows are; 0: they differ, and all are drawn.
 */
export function usePagedRows<Row extends { id: RowId }>(
  scroller: Ref<HTMLElement | null>,
  rows: ComputedRef<readonly Row[]>,
  { hasNextPage, isFetchingNextPage, fetchNextPage }: Pages,
  rowPixels: number,
  open: (id: Row['id']) => void,
  selection: Selection<Row['id']> = useSelection<Row['id']>(rows),
): PagedRows<Row> {
  const { items, spaceAbove, spaceBelow, scrollTo } = useVirtualRows(
    scroller,
    () => rows.value.length,
    rowPixels,
    () => rowPixels === 0,
  );
  watch(items, (list) => {
    const last = list.at(-1);
    if (last && last.index >= rows.value.length - askedAhead && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage();
  });
  const isChosen = (index: number): boolean => {
    const row = rows.value[index];
    return row !== undefined && selection.has(row.id);
  };
  function openAt(index: number): void {
    const row = rows.value[index];
    if (row) open(row.id);
  }

  function walk(from: number, to: number, isChoosing: boolean): void {
    if (!rows.value[to]) return;
    if (isChoosing) for (const index of [from, to]) if (!isChosen(index)) selection.click(index, false);
    scrollTo(to);
    requestAnimationFrame(() => scroller.value?.querySelector<HTMLElement>(`[data-row="${to}"]`)?.focus());
  }

  return {
    drawn: computed(() =>
      items.value.flatMap(({ index }) => {
        const row = rows.value[index];
        return row ? [{ row, index }] : [];
      }),
    ),
    spaceAbove,
    spaceBelow,
    selection,
    isAllChosen: computed(
      () =>
        rows.value.length > 0 &&
        (selection.isAll.value ? selection.leftOut.value.size === 0 : rows.value.every(({ id }) => selection.has(id))),
    ),
    onKey(event, index) {
      const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (by !== 0) walk(index, index + by, event.shiftKey);
      else if (event.key === ' ') selection.click(index, event.shiftKey);
      else if (event.key === 'Enter') openAt(index);
      else return;
      event.preventDefault();
    },
  };
}
