import { accessChanges } from '../access/changes.ts';
import { accountsChanges } from '../accounts/changes.ts';
import { certificatesChanges } from '../certificates/changes.ts';
import { coursesChanges } from '../courses/changes.ts';
import { entryChanges } from '../entry/changes.ts';
import { groupsChanges } from '../groups/changes.ts';
import { lettersChanges } from '../letters/changes.ts';
import { messagesChanges } from '../messages/changes.ts';
import { peopleChanges } from '../people/changes.ts';
import { periodsChanges } from '../periods/changes.ts';
import { rulesChanges } from '../rules/changes.ts';
import { seatsChanges } from '../seats/changes.ts';
import { splitsChanges } from '../splits/changes.ts';
import { workChanges } from '../work/changes.ts';
import type { ChangeModules } from './plan.ts';
import { planUndo } from './undo.ts';

/** Every kind of change. One that the contract names and no room brings does not compile. */
export const changeModules: ChangeModules = {
  ...groupsChanges,
  ...peopleChanges,
  ...accountsChanges,
  ...entryChanges,
  ...accessChanges,
  ...coursesChanges,
  ...seatsChanges,
  ...lettersChanges,
  ...messagesChanges,
  ...rulesChanges,
  ...workChanges,
  ...certificatesChanges,
  ...splitsChanges,
  ...periodsChanges,
  undo: { power: null, plan: planUndo },
};
