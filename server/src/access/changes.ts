import { planDecideCourseRequests } from './decide-course-requests.ts';
import { planExceptPeople } from './except-people.ts';
import { planGrantAccess } from './grant-access.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const accessChanges = {
  'grant-access': { power: 'openCourses', plan: planGrantAccess, plansAhead: 'always' },
  'except-people': { power: 'openCourses', plan: planExceptPeople },
  'decide-course-requests': { power: 'openCourses', plan: planDecideCourseRequests },
} satisfies Partial<ChangeModules>;
