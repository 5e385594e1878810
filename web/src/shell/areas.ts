import type { Power } from '@gate-roster/core';
import type { Component } from 'vue';

interface AreaPlan {
  name: string;
  /** After `g`. */
  key: string;
  path: string;
  page: () => Promise<{ default: Component }>;
  /** One of these powers shows it to a leader; none: every leader sees it. */
  needs: readonly Power[];
}

/** Areas whose screens have a scope, in the order in which people work. Router, top band, keys and their help follow from it. */
export const areas = [
  {
    name: 'groups',
    key: 'g',
    path: '/groups/:groupId(\\d+)/:part(splits|period)?/:thing(\\d+)?',
    page: () => import('../groups/GroupsArea.vue'),
    needs: [],
  },
  {
    name: 'ways-in',
    key: 'w',
    path: '/ways-in/:groupId(\\d+)/:part(asking|codes|invitations|file|letters)?',
    page: () => import('../entry/EntryPage.vue'),
    needs: ['managePeople', 'decideEntry', 'openCourses'],
  },
  {
    name: 'access',
    key: 'a',
    path: '/access/:groupId(\\d+)/:part(courses|sets|rules|coming)?/:thing(\\d+)?',
    page: () => import('../access/AccessPage.vue'),
    needs: [],
  },
  { name: 'seats', key: 's', path: '/seats/:groupId(\\d+)', page: () => import('../seats/SeatsPage.vue'), needs: [] },
  {
    name: 'progress',
    key: 'p',
    path: '/progress/:groupId(\\d+)',
    page: () => import('../progress/ProgressPage.vue'),
    needs: ['seeProgress'],
  },
  {
    name: 'messages',
    key: 'm',
    path: '/messages/:groupId(\\d+)/:part(going-out|reminders|happened)?',
    page: () => import('../messages/MessagesArea.vue'),
    needs: [],
  },
] as const satisfies readonly AreaPlan[];

export type Area = (typeof areas)[number]['name'];
