import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';

export interface Place {
  row: number;
  column: number;
}

export interface Columns {
  left: number;
  right: number;
}

export interface GridCursor {
  at: Ref<Place>;
  /** The columns of the range in a row, as one and the same object for all its rows; null: it does not reach the row. */
  inRow: (row: number) => Columns | null;
  /** Goes there; with `extend` everything from where one was is in the range. */
  goTo: (place: Place, extend: boolean) => void;
  /** Draws the range over these columns, in the rows in which it stands. */
  across: (from: number, to: number) => void;
  /** Goes on by an arrow key, never over the edge; false for any other key. */
  step: (key: string, extend: boolean) => boolean;
  places: ComputedRef<Place[]>;
  /** Where the range was begun. */
  begun: ComputedRef<Place>;
}

const steps: Record<string, [number, number]> = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] };

/** Where one is in a grid, and the range that shift has drawn. */
export function useGridCursor(rows: () => number, columns: () => number): GridCursor {
  const at = ref<Place>({ row: 0, column: 0 });
  const anchor = ref<Place | null>(null);
  // What is looked for, or folded, may leave fewer of them.
  watch([rows, columns], ([rowCount, columnCount]) => {
    if (at.value.row < rowCount && at.value.column < columnCount) return;
    anchor.value = null;
    at.value = { row: Math.max(0, Math.min(at.value.row, rowCount - 1)), column: Math.max(0, Math.min(at.value.column, columnCount - 1)) };
  });
  const range = computed(() => {
    const from = anchor.value ?? at.value;
    const [top, bottom] = [from.row, at.value.row].sort((a, b) => a - b);
    const [left, right] = [from.column, at.value.column].sort((a, b) => a - b);
    return { top: top ?? 0, bottom: bottom ?? 0, left: left ?? 0, right: right ?? 0 };
  });
  const columnsOfRange = computed((): Columns => ({ left: range.value.left, right: range.value.right }));
  const inRow = (row: number): Columns | null => (row >= range.value.top && row <= range.value.bottom ? columnsOfRange.value : null);
  function goTo(place: Place, extend: boolean): void {
    anchor.value = extend ? (anchor.value ?? { ...at.value }) : null;
    at.value = place;
  }
  return {
    at,
    inRow,
    goTo,
    across(from, to) {
      const { top, bottom } = range.value;
      anchor.value = { row: top, column: from };
      at.value = { row: bottom, column: to };
    },
    step(key, extend) {
      const by = steps[key];
      if (!by) return false;
      const within = (wanted: number, count: number): number => Math.max(0, Math.min(count - 1, wanted));
      goTo({ row: within(at.value.row + by[0], rows()), column: within(at.value.column + by[1], columns()) }, extend);
      return true;
    },
    begun: computed(() => anchor.value ?? at.value),
    places: computed(() => {
      const { top, bottom, left, right } = range.value;
      return Array.from({ length: bottom - top + 1 }, (_, row) =>
        Array.from({ length: right - left + 1 }, (__, column) => ({ row: top + row, column: left + column })),
      ).flat();
    }),
  };
}
