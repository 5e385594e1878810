import type { ChangeModules } from '../changes/plan.ts';
import { planAnswerRule } from './answer-rule.ts';
import { planEndRule, planSetRule } from './set-rule.ts';

/** Kinds of change of this room. */
export const rulesChanges = {
  'set-rule': { power: 'managePeople', plan: planSetRule },
  'answer-rule': { power: 'managePeople', plan: planAnswerRule },
  'end-rule': { power: 'managePeople', plan: planEndRule },
} satisfies Partial<ChangeModules>;
