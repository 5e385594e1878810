import type { ChangeModules } from '../changes/plan.ts';
import { planClosePeriod } from './close-period.ts';
import { planMakeNextPeriod } from './next-period.ts';

/** Kinds of change of this room. */
export const periodsChanges = {
  'close-period': { power: 'shapeGroups', plan: planClosePeriod },
  'make-next-period': { power: 'shapeGroups', plan: planMakeNextPeriod },
} satisfies Partial<ChangeModules>;
