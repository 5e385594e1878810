import { planEditLetter } from './edit-letter.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const lettersChanges = {
  'edit-letter': { power: 'writeMessages', plan: planEditLetter },
} satisfies Partial<ChangeModules>;
