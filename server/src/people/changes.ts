import { planEditPerson } from './edit-person.ts';
import { planErasePerson } from './erase-person.ts';
import { planAddMembers, planRemoveMembers, planMoveMembers } from './members.ts';
import { planMergePeople } from './merge-people.ts';
import { planSetPersonState } from './set-person-state.ts';
import { planTagPeople, planEditTag, planMergeTags } from './tags.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const peopleChanges = {
  'add-members': { power: 'managePeople', plan: planAddMembers },
  'remove-members': { power: 'managePeople', plan: planRemoveMembers, plansAhead: 'of many' },
  'move-members': { power: 'managePeople', plan: planMoveMembers, plansAhead: 'of many' },
  'tag-people': { power: 'managePeople', plan: planTagPeople },
  'edit-tag': { power: 'managePeople', plan: planEditTag },
  'merge-tags': { power: 'managePeople', plan: planMergeTags },
  'edit-person': { power: 'managePeople', plan: planEditPerson },
  'set-person-state': { power: 'managePeople', plan: planSetPersonState, plansAhead: 'of many' },
  'merge-people': { power: 'managePeople', plan: planMergePeople },
  'erase-person': { power: null, plan: planErasePerson },
} satisfies Partial<ChangeModules>;
