import type { ChangeModules } from '../changes/plan.ts';
import { planDeleteCourseSet, planEditCourseSet, planMakeCourseSet } from './change-sets.ts';
import { planEditCourse } from './edit-course.ts';
import { planMakeCourses } from './make-courses.ts';
import { planTakeFeed } from './take-feed.ts';

/** Kinds of change of this room. */
export const coursesChanges = {
  'make-courses': { power: 'makeCourses', plan: planMakeCourses },
  'edit-course': { power: 'makeCourses', plan: planEditCourse },
  'take-feed': { power: null, plan: planTakeFeed },
  'make-course-set': { power: null, plan: planMakeCourseSet },
  'edit-course-set': { power: null, plan: planEditCourseSet },
  'delete-course-set': { power: null, plan: planDeleteCourseSet },
} satisfies Partial<ChangeModules>;
