import { powers } from '@gate-roster/core';
import { z } from 'zod';
import { shownView } from './kept-views.ts';
import { defineRoutes } from './route.ts';
import { id, idInPath, password } from './shapes.ts';

export const me = z.object({
  personId: id,
  givenName: z.string(),
  familyName: z.string(),
  role: z.enum(['administrator', 'none']),
  leaderships: z.array(z.object({ groupId: id, name: z.string(), powers: z.array(z.enum(powers)) })),
  /** Where to begin: the root for an administrator, the first own branch for a leader; null for a learner. */
  homeGroupId: id.nullable(),
  /** The kept view that one begins with. */
  start: z.object({ groupId: id, shown: shownView }).nullable(),
  organisation: z.string(),
  /** Calendar day and time zone of the platform. */
  today: z.string(),
  timeZone: z.string(),
  /** Somebody is looked at: nothing can be changed. Who looks. */
  seenBy: z.string().nullable(),
  /** Signed in by a lasting card: only this group's courses, and out again after so many idle minutes. */
  card: z.object({ groupId: id, idleMinutes: z.number().int() }).nullable(),
});
export type Me = z.output<typeof me>;

export const siteSettings = z.strictObject({
  organisation: z.string().trim().min(1).max(120),
  /** An open enrolment is due soon from so many days before its due day. */
  dueSoonDays: z.number().int().min(1).max(90),
  /** A change can be undone for so many days. */
  undoDays: z.number().int().min(1).max(730),
  /** Markers are written to about work that has waited for so many days; 0: never. */
  markReminderDays: z.number().int().min(0).max(90),
  /** Emails about messages wait from this hour on until that one, in the platform's time zone; the same hour twice: they never wait. */
  quietFrom: z.number().int().min(0).max(23),
  quietUntil: z.number().int().min(0).max(23),
});
export type SiteSettings = z.output<typeof siteSettings>;

const oneTimeToken = z.string().min(20).max(60);
/** A token, or the word of a card or of somebody who helps, with the sign-in name. */
const oneTimeKey = z.union([
  z.strictObject({ token: oneTimeToken }),
  z.strictObject({ signInName: z.string().trim().min(1).max(254), word: z.string().trim().min(6).max(20) }),
]);
const address = z.string().trim().min(3).max(254);
const signInName = z.string().trim().min(1).max(254);

export const accountRoutes = defineRoutes({
  site: {
    method: 'GET',
    path: '/api/v1/site',
    room: 'accounts',
    who: 'anyone',
    summary: 'Has this site begun, and under which name?',
    response: z.object({ empty: z.boolean(), organisation: z.string().nullable() }),
  },
  siteSettings: {
    method: 'GET',
    path: '/api/v1/site/settings',
    room: 'accounts',
    who: 'administrator',
    summary: 'Settings of the site',
    response: siteSettings,
  },
  editSite: {
    method: 'PUT',
    path: '/api/v1/site/settings',
    room: 'accounts',
    who: 'administrator',
    summary: 'Change the settings of the site',
    body: siteSettings,
    response: 'nothing',
  },
  beginSite: {
    method: 'POST',
    path: '/api/v1/site',
    room: 'accounts',
    who: 'anyone',
    summary: 'Make the first administrator and the root of the tree; only on an empty site',
    body: z.strictObject({
      organisation: z.string().trim().min(1).max(120),
      givenName: z.string().trim().min(1).max(120),
      familyName: z.string().trim().max(120),
      signInName,
      password,
      timeZone: z.string().max(60),
    }),
    response: me,
  },
  me: {
    method: 'GET',
    path: '/api/v1/session',
    room: 'accounts',
    who: 'signed in',
    summary: 'Who is signed in, and what they may do',
    response: me,
  },
  signIn: {
    method: 'POST',
    path: '/api/v1/session',
    room: 'accounts',
    who: 'anyone',
    summary: 'Sign in with a sign-in name or an address',
    body: z.strictObject({ signInName, password: z.string().min(1).max(200) }),
    response: me,
  },
  signOut: { method: 'DELETE', path: '/api/v1/session', room: 'accounts', who: 'signed in', summary: 'Sign out', response: 'nothing' },
  changePassword: {
    method: 'PUT',
    path: '/api/v1/session/password',
    room: 'accounts',
    who: 'signed in',
    summary: 'Change the own password; all other sessions of the account end',
    body: z.strictObject({ current: z.string().min(1).max(200), next: password }),
    response: 'nothing',
  },
  seeAs: {
    method: 'POST',
    path: '/api/v1/session/see-as',
    room: 'accounts',
    who: 'administrator',
    summary: 'Look at the application as somebody else sees it; nothing can be changed meanwhile',
    body: z.strictObject({ personId: id }),
    response: me,
  },
  stopSeeing: {
    method: 'DELETE',
    path: '/api/v1/session/see-as',
    room: 'accounts',
    who: 'signed in',
    summary: 'Be oneself again',
    response: me,
  },
  oneTime: {
    method: 'POST',
    path: '/api/v1/one-time/look',
    room: 'accounts',
    who: 'anyone',
    summary: 'Whose one-time sign-in this is; it is not used up by asking',
    body: oneTimeKey,
    response: z.object({ name: z.string(), organisation: z.string(), kind: z.enum(['link', 'card', 'lasting']) }),
  },
  useOneTime: {
    method: 'POST',
    path: '/api/v1/one-time',
    room: 'accounts',
    who: 'anyone',
    summary: 'Sign in once; with a password of one’s own for the next time',
    body: z.strictObject({ key: oneTimeKey, password: password.nullable() }),
    response: me,
  },
  forgot: {
    method: 'POST',
    path: '/api/v1/forgot',
    room: 'accounts',
    who: 'anyone',
    summary: 'Send a letter by which a new password can be chosen; the answer is the same whether or not there is an account',
    body: z.strictObject({ signInName: address }),
    response: 'nothing',
  },
  addressLink: {
    method: 'POST',
    path: '/api/v1/address/look',
    room: 'accounts',
    who: 'anyone',
    summary: 'Which account the link of a letter would confirm; asking changes nothing',
    body: z.strictObject({ token: oneTimeToken }),
    response: z.object({
      organisation: z.string(),
      address: z.string(),
      signInName: z.string(),
      group: z.string().nullable(),
      madeOn: z.string(),
      /** Who has cards only signs in afresh by this link; everybody else chooses a new password. */
      needsPassword: z.boolean(),
      /** Another account has confirmed this address: this one can only be joined with it. */
      isTaken: z.boolean(),
      /** Sign-in name of the caller's own account, when they are signed in to another one. */
      mine: z.string().nullable(),
    }),
  },
  confirmAddress: {
    method: 'POST',
    path: '/api/v1/address',
    room: 'accounts',
    who: 'anyone',
    summary: 'This is my account: ends every session, card, link and password there was, and confirms the address',
    body: z.strictObject({ token: oneTimeToken, password: password.nullable() }),
    response: me,
  },
  refuseAddress: {
    method: 'POST',
    path: '/api/v1/address/not-mine',
    room: 'accounts',
    who: 'anyone',
    summary: 'Not mine: the address is taken off the account',
    body: z.strictObject({ token: oneTimeToken }),
    response: 'nothing',
  },
  joinAddress: {
    method: 'POST',
    path: '/api/v1/address/join',
    room: 'accounts',
    who: 'signed in',
    summary: 'Join with my account: what the other account has moves to the caller’s own, and the other ends',
    body: z.strictObject({ token: oneTimeToken, requestId: z.uuid() }),
    response: z.object({ changeId: id }),
  },
  myAccount: {
    method: 'GET',
    path: '/api/v1/my/account',
    room: 'accounts',
    who: 'signed in',
    summary: 'The own sign-in name and address, and accounts joined with it lately',
    response: z.object({
      signInName: z.string().nullable(),
      address: z.string().nullable(),
      isConfirmed: z.boolean(),
      /** An address that a letter was sent to, and that nobody has confirmed yet. */
      pending: z.string().nullable(),
      joined: z.array(z.object({ changeId: id, on: z.string() })),
    }),
  },
  undoJoin: {
    method: 'DELETE',
    path: '/api/v1/my/joined/:changeId',
    room: 'accounts',
    who: 'signed in',
    once: true,
    summary: 'Part the own account again from one that was joined with it in the last 14 days',
    params: z.object({ changeId: idInPath }),
    response: 'nothing',
  },
  changeAddress: {
    method: 'PUT',
    path: '/api/v1/my/address',
    room: 'accounts',
    who: 'signed in',
    summary: 'Ask for another own address: a letter goes there, and it counts once it is confirmed',
    body: z.strictObject({ address, current: z.string().min(1).max(200) }),
    response: 'nothing',
  },
  invitationOf: {
    method: 'POST',
    path: '/api/v1/invitation/look',
    room: 'accounts',
    who: 'anyone',
    summary: 'What an invitation asks one into',
    body: z.strictObject({ token: oneTimeToken }),
    response: z.object({
      group: z.string(),
      organisation: z.string(),
      leads: z.boolean(),
      givenName: z.string(),
      familyName: z.string(),
      /** Has the address an account? Only whoever reads its mail can ask this. */
      isKnown: z.boolean(),
    }),
  },
  acceptInvitation: {
    method: 'POST',
    path: '/api/v1/invitation',
    room: 'accounts',
    who: 'anyone',
    summary: 'Say yes to an invitation; whoever has no account gives a name and a password',
    body: z.strictObject({
      token: oneTimeToken,
      givenName: z.string().trim().max(120),
      familyName: z.string().trim().max(120),
      password: password.nullable(),
      requestId: z.uuid(),
    }),
    response: z.object({ isSignedIn: z.boolean() }),
  },
  myInvitations: {
    method: 'GET',
    path: '/api/v1/my/invitations',
    room: 'accounts',
    who: 'signed in',
    summary: 'What one is asked into oneself',
    response: z.object({ invitations: z.array(z.object({ id, group: z.string(), leads: z.boolean() })) }),
  },
  acceptMine: {
    method: 'POST',
    path: '/api/v1/my/invitations/:invitationId',
    room: 'accounts',
    who: 'signed in',
    summary: 'Say yes to an invitation of one’s own',
    params: z.object({ invitationId: idInPath }),
    body: z.strictObject({ requestId: z.uuid() }),
    response: 'nothing',
  },
});
