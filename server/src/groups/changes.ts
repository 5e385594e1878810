import { planDeleteGroups } from './delete-groups.ts';
import { planEditGroup } from './edit-group.ts';
import { planMakeClient } from './make-client.ts';
import { planMakeGroups } from './make-groups.ts';
import { planMoveGroups } from './move-groups.ts';
import { planSetGroupState } from './set-group-state.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const groupsChanges = {
  'make-groups': { power: 'shapeGroups', plan: planMakeGroups },
  'make-client': { power: 'shapeGroups', plan: planMakeClient },
  'edit-group': { power: 'shapeGroups', plan: planEditGroup },
  'move-groups': { power: 'shapeGroups', plan: planMoveGroups, plansAhead: 'always' },
  'set-group-state': { power: 'shapeGroups', plan: planSetGroupState },
  'delete-groups': { power: 'shapeGroups', plan: planDeleteGroups },
} satisfies Partial<ChangeModules>;
