import { z } from 'zod';
import { filter } from './filters.ts';
import { id, personIds, yesNo } from './shapes.ts';

/** So many people can be chosen for one act. */
export const mostChosen = 200_000;

/** Everybody whom a list shows when the act takes place, but for some: chosen by its filter, however many they are. */
export const matchingPeople = z.strictObject({
  groupId: id,
  subgroups: yesNo,
  counted: z.enum(['yes', 'no', 'nowhere']),
  /** Progress speaks of counted learners, also when the filter asks for a state. */
  countedOnly: z.boolean(),
  filter,
  fits: yesNo,
  but: z.array(id).max(1000),
});
export type MatchingPeople = z.output<typeof matchingPeople>;

/** People chosen in a list: named one by one, or all who match. */
export const chosenPeople = z.union([personIds, matchingPeople]);
export type ChosenPeople = z.output<typeof chosenPeople>;
