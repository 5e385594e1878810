import type { ChangeModules } from '../changes/plan.ts';
import { planEndRule, planSetRule } from './set-rule.ts';

/** Kinds of change of this room. */
export const rulesChanges = {
  'set-rule': { power: 'managePeople', plan: planSetRule },
  'end-rule': { power: 'managePeople', plan: planEndRule },
} satisfies Partial<ChangeModules>;
