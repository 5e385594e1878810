import type { RouteLocationRaw } from 'vue-router';

/** The page of a course, or of a course set, seen from a group. */
export const courseLink = (groupId: number, thing: number, part: 'courses' | 'sets' = 'courses'): RouteLocationRaw => ({
  name: 'access',
  params: { groupId, part, thing },
});
