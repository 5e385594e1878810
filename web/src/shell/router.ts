import type { Me } from '@gate-roster/contract';
import { createRouter, createWebHistory, type RouteLocationNormalized, type RouteLocationRaw } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import { placeOf } from '../progress/shown-view.ts';
import { areas } from './areas.ts';
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
    { path: '/enter', name: 'enter', component: () => import('../accounts/EnterOnce.vue'), meta: { open: true } },
    { path: '/address', name: 'address', component: () => import('../accounts/AddressLink.vue'), meta: { open: true } },
    { path: '/forgot', name: 'forgot', component: () => import('../accounts/ForgotPassword.vue'), meta: { open: true } },
    { path: '/invited', name: 'invited', component: () => import('../accounts/FollowInvitation.vue'), meta: { open: true } },
    { path: '/branches', name: 'branches', component: () => import('./ChooseBranch.vue'), meta: { leads: true } },
    { path: '/begin', name: 'begin', component: () => import('../accounts/BeginSite.vue'), meta: { open: true } },
    { path: '/join', name: 'join', component: () => import('../entry/JoinPage.vue'), meta: { open: true } },
    { path: '/join/paying', name: 'join-paying', component: () => import('../entry/JoinPaying.vue'), meta: { open: true } },
    { path: '/my-courses/:courseId(\\d+)?', name: 'my-courses', component: () => import('../courses/MyCourses.vue') },
    { path: '/my-groups/:groupId(\\d+)?', name: 'my-groups', component: () => import('../groups/MyGroups.vue') },
    { path: '/my-work/:courseId(\\d+)', name: 'my-work', component: () => import('../work/MyWork.vue') },
    { path: '/check/:number?', name: 'check', component: () => import('../certificates/CheckPage.vue'), meta: { open: true } },
    { path: '/learner/:personId(\\d+)', name: 'learner', component: () => import('../progress/LearnerStory.vue'), meta: { leads: true } },
    { path: '/kept/:viewId(\\d+)', name: 'kept', component: () => import('../progress/KeptTable.vue'), meta: { leads: true } },
    { path: '/results', name: 'results', component: () => import('../progress/ResultsPage.vue'), meta: { leads: true } },
    { path: '/report/:letterId(\\d+)', name: 'report', component: () => import('../progress/OpenReport.vue'), meta: { leads: true } },
    { path: '/shared', name: 'shared', component: () => import('../progress/SharedPage.vue'), meta: { open: true } },
    { path: '/my-messages', name: 'my-messages', component: () => import('../messages/MyMessages.vue') },
    { path: '/stop-letters', name: 'stop-letters', component: () => import('../messages/StopLetters.vue'), meta: { open: true } },
    { path: '/settings', name: 'settings', component: () => import('../accounts/SettingsPage.vue') },
    ...areas.map(({ name, path, page }) => ({ path, name, component: page, meta: { leads: true } })),
    { path: '/cards', name: 'cards', component: () => import('../entry/CardsPage.vue'), meta: { leads: true } },
    { path: '/help/:personId(\\d+)?', name: 'help', component: () => import('../accounts/HelpPage.vue'), meta: { leads: true } },
    { path: '/door/:codeId(\\d+)', name: 'door', component: () => import('../entry/DoorSheet.vue'), meta: { leads: true } },
    { path: '/away', name: 'away', component: () => import('./AwayPage.vue'), meta: { open: true } },
    { path: '/log', name: 'log', component: () => import('../changes/LogPage.vue'), meta: { leads: true } },
    { path: '/:path(.*)*', name: 'nowhere', component: () => import('./NotHere.vue'), meta: { open: true } },
  ],
});

router.beforeEach(async (to): Promise<RouteLocationRaw | boolean> => {
  if (to.meta.open && to.name !== 'sign-in') return true;
  try {
    return await whereTo(to);
  } catch (error) {
    // The server or its database is away: a page says so, and comes back to where one wanted to go.
    if (error instanceof Failure) return { name: 'away', query: { next: to.fullPath } };
    throw error;
  }
});

async function whereTo(to: RouteLocationNormalized): Promise<RouteLocationRaw | boolean> {
  const session = useSession();
  const me = await session.load();
  if (!me) {
    if (to.name === 'sign-in') return (await call('site', {})).empty ? { name: 'begin' } : true;
    return { name: 'sign-in', query: to.name === 'home' ? {} : { next: to.fullPath } };
  }
  const home = homeOf(me);
  if (to.name === 'home' || to.name === 'sign-in') return home;
  return to.meta.leads && !session.isLeader ? home : true;
}

/** A learner's own courses, a leader's own branch, or the choice among several. */
function homeOf(me: Me): RouteLocationRaw {
  if (me.homeGroupId === null) return { name: 'my-courses' };
  if (me.start) return placeOf(me.start.groupId, me.start.shown);
  if (me.role === 'none' && me.leaderships.length > 1) return { name: 'branches' };
  return { name: 'groups', params: { groupId: me.homeGroupId } };
}

/** Where to go on to; only a path of our own, since `//elsewhere` would be another site. */
export const nextOf = (wanted: unknown): string => (typeof wanted === 'string' && /^\/(?!\/)/u.test(wanted) ? wanted : '/');
