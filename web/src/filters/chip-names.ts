import type { FilterNames } from '@gate-roster/contract';
import type { ChipNames } from '../words/filters.ts';

/** What chips name, while some of it may not be there yet. */
export const chipNamesOf = (known: FilterNames | undefined, groups: Iterable<{ id: number; name: string }>): ChipNames => ({
  tags: known?.tags ?? [],
  lists: known?.lists ?? [],
  leaders: known?.leaders ?? [],
  courses: known?.courses ?? [],
  courseSets: known?.courseSets ?? [],
  skills: known?.skills ?? [],
  groups: new Map([...groups].map(({ id, name }) => [id, name])),
});
