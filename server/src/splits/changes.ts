import type { ChangeModules } from '../changes/plan.ts';
import { planDeleteSplit, planSetSplit, planStartSplit, planStopSplit } from './change-splits.ts';

/** Kinds of change of this room. */
export const splitsChanges = {
  'set-split': { power: 'openCourses', plan: planSetSplit },
  'start-split': { power: 'openCourses', plan: planStartSplit },
  'stop-split': { power: 'openCourses', plan: planStopSplit },
  'delete-split': { power: 'openCourses', plan: planDeleteSplit },
} satisfies Partial<ChangeModules>;
