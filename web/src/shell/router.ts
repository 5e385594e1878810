import { createRouter, createWebHistory, type RouteLocationRaw } from 'vue-router';
import { call } from '../api/call.ts';
import { useSession } from './session.ts';

declare module 'vue-router' {
  interface RouteMeta {
    /** Screens for people who lead, or administer. */
    leads?: boolean;
    open?: boolean;
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'home', component: { render: () => null } },
    { path: '/sign-in', name: 'sign-in', component: () => import('../accounts/SignIn.vue'), meta: { open: true } },
    { path: '/begin', name: 'begin', component: () => import('../accounts/BeginSite.vue'), meta: { open: true } },
    { path: '/my-courses', name: 'my-courses', component: () => import('../courses/MyCourses.vue') },
    { path: '/settings', name: 'settings', component: () => import('../accounts/SettingsPage.vue') },
    { path: '/groups/:groupId(\\d+)', name: 'groups', component: () => import('../groups/GroupPage.vue'), meta: { leads: true } },
    { path: '/ways-in/:groupId(\\d+)', name: 'ways-in', component: () => import('../entry/BringIn.vue'), meta: { leads: true } },
    { path: '/access/:groupId(\\d+)', name: 'access', component: () => import('../access/AccessPage.vue'), meta: { leads: true } },
    { path: '/progress/:groupId(\\d+)', name: 'progress', component: () => import('../progress/ProgressPage.vue'), meta: { leads: true } },
    { path: '/log', name: 'log', component: () => import('../changes/LogPage.vue'), meta: { leads: true } },
    { path: '/:path(.*)*', name: 'nowhere', component: () => import('./NotHere.vue'), meta: { open: true } },
  ],
});

router.beforeEach(async (to): Promise<RouteLocationRaw | boolean> => {
  const session = useSession();
  const me = await session.load();
  if (to.meta.open && to.name !== 'sign-in') return true;
  if (!me) {
    if (to.name === 'sign-in') return (await call('site', {})).empty ? { name: 'begin' } : true;
    return { name: 'sign-in', query: to.name === 'home' ? {} : { next: to.fullPath } };
  }
  const home: RouteLocationRaw = me.homeGroupId === null ? { name: 'my-courses' } : { name: 'groups', params: { groupId: me.homeGroupId } };
  if (to.name === 'home' || to.name === 'sign-in') return home;
  return to.meta.leads && !session.isLeader ? home : true;
});
