import { planHandOver } from './hand-over.ts';
import { planSetLeaders } from './set-leaders.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const accountsChanges = {
  'set-leaders': { power: 'appointLeaders', plan: planSetLeaders },
  'hand-over': { power: 'appointLeaders', plan: planHandOver },
} satisfies Partial<ChangeModules>;
