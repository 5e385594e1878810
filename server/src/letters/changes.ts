import { planEditLetter } from './edit-letter.ts';
import { planSetLetterLook } from './letter-look.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const lettersChanges = {
  'set-letter-look': { power: 'writeMessages', plan: planSetLetterLook },
  'edit-letter': { power: 'writeMessages', plan: planEditLetter },
} satisfies Partial<ChangeModules>;
