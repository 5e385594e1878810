import type { Obstacle } from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { id, idInPath, moment, named } from './shapes.ts';

const personParams = z.object({ personId: idInPath });

export const signInCard = z.object({
  personId: id,
  name: z.string(),
  signInName: z.string(),
  /** The groups they are in. */
  group: z.string(),
  /** Signs in together with the sign-in name, where there is no camera; kept nowhere but on the card, like the token. */
  word: z.string(),
  /** Signs in; it is not kept anywhere but on the card. */
  token: z.string(),
  link: z.string(),
  isLasting: z.boolean(),
  until: moment.nullable(),
});
export type SignInCard = z.output<typeof signInCard>;

export const papers = ['A4', 'Letter'] as const;
export const cardsOnPage = [8, 10] as const;
export const mostCards = 500;

export const helpSheet = z.object({
  person: named,
  signInName: z.string().nullable(),
  obstacle: z.looseObject({ code: z.string(), act: z.string() }) as unknown as z.ZodType<Obstacle>,
  /** May the reader do what mends it? */
  mayMend: z.boolean(),
  groupId: id.nullable(),
  courses: z.array(named.extend({ open: z.boolean() })),
});
export type HelpSheet = z.output<typeof helpSheet>;

export const helpRoutes = defineRoutes({
  makeCards: {
    method: 'POST',
    path: '/api/v1/cards',
    room: 'entry',
    who: 'leader',
    summary: 'Sign-in cards for people whose account is the reader’s to help with; earlier cards of theirs are worthless from now on',
    body: z.strictObject({ personIds: z.array(id).min(1).max(mostCards) }),
    response: z.object({ cards: z.array(signInCard), notYours: z.number().int(), replaced: z.number().int() }),
  },
  cardsAhead: {
    method: 'POST',
    path: '/api/v1/cards/look',
    room: 'entry',
    who: 'leader',
    summary: 'For how many there would be cards, and how many earlier ones would stop working',
    body: z.strictObject({ personIds: z.array(id).min(1).max(mostCards) }),
    response: z.object({ cards: z.number().int(), notYours: z.number().int(), replaced: z.number().int() }),
  },
  cardFile: {
    method: 'POST',
    path: '/api/v1/cards/file',
    room: 'entry',
    who: 'leader',
    summary: 'Cards that were just made, as a PDF',
    body: z.strictObject({
      /** In the order in which they are printed. */
      cards: z
        .array(z.strictObject({ token: z.string().max(60), word: z.string().max(20) }))
        .min(1)
        .max(mostCards),
      paper: z.enum(papers),
      onPage: z.union([z.literal(8), z.literal(10)]),
    }),
    response: 'file',
  },
  helpFind: {
    method: 'GET',
    path: '/api/v1/help',
    room: 'accounts',
    who: 'leader',
    summary: 'Whom to help: by a number read out from the sign-in page, a join code, a name or an address',
    query: z.strictObject({ q: z.string().trim().min(1).max(100) }),
    response: z.object({
      people: z.array(named.extend({ group: z.string().nullable() })),
      /** A number that was read out; `personId` null: no such account, as far as the reader may know. */
      number: z.object({ personId: id.nullable(), at: moment.nullable() }).nullable(),
      code: z
        .object({ code: z.string(), state: z.enum(['open', 'paused', 'not yet', 'ended', 'full']), groups: z.array(z.string()) })
        .nullable(),
    }),
  },
  helpRecent: {
    method: 'GET',
    path: '/api/v1/help/recent',
    room: 'accounts',
    who: 'leader',
    summary: 'Who could not get in lately and has not since, of those whom one helps',
    response: z.object({ people: z.array(named.extend({ group: z.string().nullable(), at: moment, tries: z.number().int() })) }),
  },
  helpPerson: {
    method: 'GET',
    path: '/api/v1/help/:personId',
    room: 'accounts',
    who: 'leader',
    summary: 'The first thing that stops somebody, and what mends it',
    params: personParams,
    query: z.strictObject({ course: idInPath.optional() }),
    response: helpSheet,
  },
  letInNow: {
    method: 'POST',
    path: '/api/v1/people/:personId/let-in-now',
    room: 'accounts',
    who: 'leader',
    summary: 'A sign-in for somebody who stands beside the helper or is on the telephone, good for ten minutes',
    params: personParams,
    response: z.object({ link: z.string(), word: z.string(), until: moment }),
  },
  changePeople: {
    method: 'GET',
    path: '/api/v1/changes/:changeId/people',
    room: 'changes',
    who: 'leader',
    summary: 'People whom a change of one’s own made',
    params: z.object({ changeId: idInPath }),
    response: z.object({ ids: z.array(id), withoutAddress: z.array(id) }),
  },
});
