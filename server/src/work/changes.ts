import type { ChangeModules } from '../changes/plan.ts';
import { planMarkWork } from './mark-work.ts';
import { planSetSkills } from './skills.ts';

/** Kinds of change of this room. */
export const workChanges = {
  'mark-work': { power: 'markWork', plan: planMarkWork },
  'set-skills': { power: null, plan: planSetSkills },
} satisfies Partial<ChangeModules>;
