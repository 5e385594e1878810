import type { DeepReadonly } from 'vue';

/** A column of a list, as data. */
export interface ListColumn {
  /** Names the slot of its cells. */
  key: string;
  title: string;
  /** The title is only read out. */
  hasHiddenTitle?: boolean;
  isNumber?: boolean;
  /** The orders that clicks on its title go through; the one that comes first is what is most often wanted. */
  sorts?: readonly string[];
  /** Left out while the list is narrower than so many pixels. */
  roomFrom?: number;
}

/** @param pixels How wide the list is; 0 while it is not known. */
export const shownColumns = <C extends DeepReadonly<ListColumn>>(columns: readonly C[], pixels: number): C[] =>
  columns.filter(({ roomFrom = 0 }) => pixels === 0 || pixels >= roomFrom);

/** Which order a click on the title brings. */
export const sortAfter = ({ sorts = [] }: ListColumn, sort: string): string => sorts[(sorts.indexOf(sort) + 1) % sorts.length] ?? sort;

/** Is the list sorted by this column, and which way? An order with a minus goes down. */
export const sortedAs = ({ sorts = [] }: ListColumn, sort: string): 'ascending' | 'descending' | 'none' =>
  !sorts.includes(sort) ? 'none' : sort.startsWith('-') ? 'descending' : 'ascending';

/** Behind the title of the column that a list is sorted by. */
export const sortArrows = { ascending: ' ↑', descending: ' ↓', none: '' } as const;
