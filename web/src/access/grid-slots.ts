import type { GridColumn, ShownSet } from './shown-grid.ts';

/** A column as it is drawn: of a course, or of a set that is folded. */
export interface Slot {
  set: ShownSet;
  /** null: the set is folded. */
  column: GridColumn | null;
  /** Its place among the columns of courses. */
  place: number;
  pixels: number;
}

export const coursePixels = 84;
const foldedPixels = 28;

/** The columns of sets, from left to right. */
export function slotsOf(sets: readonly ShownSet[]): Slot[] {
  let place = 0;
  return sets.flatMap((set): Slot[] =>
    set.isFolded
      ? [{ set, column: null, place: -1, pixels: foldedPixels }]
      : set.columns.map((column) => ({ set, column, place: place++, pixels: coursePixels })),
  );
}

/** The sets over the columns that are drawn, each over how many of them. */
export function headsOf(slots: readonly Slot[]): { set: ShownSet; span: number }[] {
  const heads: { set: ShownSet; span: number }[] = [];
  for (const { set } of slots) {
    const last = heads.at(-1);
    if (last?.set === set) last.span++;
    else heads.push({ set, span: 1 });
  }
  return heads;
}
