import { z } from 'zod';
import { me } from './accounts.ts';
import { joinAsks } from './entry.changes.ts';
import { defineRoutes } from './route.ts';
import { idInPath, moment, password } from './shapes.ts';

const code = z.string().min(1).max(60);
/** What is paid to come in, in minor units of a currency. */
const entryPrice = z.object({ net: z.number().int(), vat: z.number().int(), total: z.number().int(), currency: z.string() });

/** What a code opens, for whoever holds it, before anything is given. */
export const joinOffer = z.object({
  code: z.string(),
  organisation: z.string(),
  groups: z.array(z.object({ name: z.string(), path: z.array(z.string()), leaders: z.array(z.string()) })),
  /** `inLine`: there are too few seats, who joins now would be in line. */
  courses: z.array(z.object({ name: z.string(), opensOn: z.string().nullable(), inLine: z.boolean() })),
  leads: z.boolean(),
  youngLearners: z.boolean(),
  needsDecision: z.boolean(),
  emailEnding: z.string().nullable(),
  until: moment.nullable(),
  asks: joinAsks,
  /** null: it costs nothing. */
  price: entryPrice.nullable(),
  /** Of whoever is signed in: in all of its groups already, asking, or about to pay. */
  mine: z.enum(['in', 'asking', 'paying', 'not in']).nullable(),
});
export type JoinOffer = z.output<typeof joinOffer>;

export const joinGiven = z.strictObject({
  givenName: z.string().trim().max(120),
  familyName: z.string().trim().max(120),
  email: z.string().trim().max(254),
  idNumber: z.string().trim().max(60),
  answers: z.record(z.string().max(40), z.string().max(1000)),
});

const outcome = z.enum(['in', 'asking', 'paying', 'already']);
/** Courses for which one is now in line for a seat. */
const inLine = z.array(z.string());

/** Somebody who comes in by a code that has a price: how far that is. */
const paying = z.object({
  state: z.enum(['paying', 'paid', 'given up']),
  groups: z.array(z.string()),
  total: z.number().int(),
  currency: z.string(),
  /** Until then a place is held; null: none is, and one is looked for when they pay. */
  heldUntil: moment.nullable(),
  /** Of the last try; null: none. */
  payment: z.enum(['begun', 'paid', 'refused', 'refunded']).nullable(),
  signInName: z.string().nullable(),
  /** Number of the receipt. */
  receipt: z.number().int().nullable(),
  /** Who is in now, when it is the one who paid in this browser. */
  me: me.nullable(),
});
export type PayingEntry = z.output<typeof paying>;

/** The price that was shown before, with tax; it is the one that is paid. */
const total = z.number().int().nullable().optional();
/** The page of the payment service; null: nothing is to be paid, or the service does not answer now. */
const page = z.url().nullable();

export const joinRoutes = defineRoutes({
  joinLook: {
    method: 'POST',
    path: '/api/v1/join/look',
    room: 'entry',
    who: 'anyone',
    summary: 'What a join code opens; wrong, ended, paused and full codes answer alike',
    body: z.strictObject({ code, confirmed: z.string().max(60).optional() }),
    response: joinOffer.extend({ confirmedEmail: z.string().nullable() }),
  },
  joinConfirm: {
    method: 'POST',
    path: '/api/v1/join/confirm',
    room: 'entry',
    who: 'anyone',
    summary: 'Have a letter sent that shows an address to be one’s own, for codes that ask for it',
    body: z.strictObject({ code, email: z.string().trim().min(3).max(254) }),
    response: 'nothing',
  },
  join: {
    method: 'POST',
    path: '/api/v1/join',
    room: 'entry',
    who: 'anyone',
    summary: 'Register and come in by a code, in one step; signed in afterwards when one is in',
    body: z.strictObject({ code, confirmed: z.string().max(60).optional(), password, given: joinGiven, requestId: z.uuid(), total }),
    response: z.object({ outcome, signInName: z.string().nullable(), me: me.nullable(), inLine, page }),
  },
  joinAsMyself: {
    method: 'POST',
    path: '/api/v1/my/join',
    room: 'entry',
    who: 'signed in',
    summary: 'Come in by a code with the account one has',
    body: z.strictObject({ code, answers: joinGiven.shape.answers, requestId: z.uuid(), total }),
    response: z.object({ outcome, inLine, page }),
  },
  payingEntry: {
    method: 'GET',
    path: '/api/v1/join/paying',
    room: 'entry',
    who: 'anyone',
    summary: 'What whoever joined in this browser still has to pay, or has paid; signed in as soon as they are in',
    response: z.object({ entry: paying.nullable() }),
  },
  payEntry: {
    method: 'POST',
    path: '/api/v1/join/paying',
    room: 'entry',
    who: 'anyone',
    summary: 'Begin to pay for coming in, once more: answers with the page of the payment service',
    body: z.strictObject({ requestId: z.uuid() }),
    response: z.object({ page: z.url() }),
  },
  giveUpEntry: {
    method: 'DELETE',
    path: '/api/v1/join/paying',
    room: 'entry',
    who: 'anyone',
    summary: 'Give up coming in by a code that has a price: the place is free again',
    response: 'nothing',
  },
  receipt: {
    method: 'GET',
    path: '/api/v1/my/receipts/:number',
    room: 'entry',
    who: 'signed in',
    summary: 'The invoice of a way in that one has paid, as PDF',
    params: z.object({ number: idInPath }),
    query: z.strictObject({ paper: z.enum(['A4', 'Letter']).default('A4') }),
    response: 'file',
  },
});
