import { planMakeCourses } from './make-courses.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const coursesChanges = {
  'make-courses': { power: null, plan: planMakeCourses },
} satisfies Partial<ChangeModules>;
