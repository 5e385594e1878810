import { fileLimits, mostQuestions, powers, rosterFields } from '@gate-roster/core';
import { z } from 'zod';
import { mostSeatPrice } from './orders.changes.ts';
import { id, moment, shortText, tagName } from './shapes.ts';

const cell = z.string().max(2000);
/** Rows that go along with a change; more are put on the server before, in parts of as many. */
export const rowsAtOnce = 5000;

export const rosterRow = z.strictObject({
  row: z.number().int().positive(),
  cells: z.strictObject(
    Object.fromEntries(rosterFields.map((field) => [field, cell.optional()])) as Record<
      (typeof rosterFields)[number],
      z.ZodOptional<typeof cell>
    >,
  ),
  isRagged: z.boolean().optional(),
});

const asking = z.enum(['no', 'may', 'must']);
export const joinAsks = z.strictObject({
  email: asking,
  idNumber: asking,
  questions: z
    .array(
      z.strictObject({
        key: z.string().min(1).max(40),
        label: shortText,
        kind: z.enum(['text', 'choice', 'date']),
        choices: z.array(shortText).max(50),
        required: z.boolean(),
      }),
    )
    .max(mostQuestions),
});
export const joinCodeValues = z.strictObject({
  groupIds: z.array(id).min(1).max(100),
  chosen: z.string().trim().max(60).nullable(),
  note: z.string().trim().max(200).nullable(),
  tags: z.array(tagName).max(20),
  powers: z.array(z.enum(powers)).min(1).nullable(),
  firstAt: moment.nullable(),
  lastAt: moment.nullable(),
  useLimit: z.number().int().min(1).max(100_000).nullable(),
  emailEnding: z.string().trim().max(100).nullable(),
  needsDecision: z.boolean(),
  paused: z.boolean(),
  /** What coming in costs without tax, in minor units of the site’s currency. */
  price: z.number().int().min(1).max(mostSeatPrice).nullable().optional(),
  asks: joinAsks,
});

export type JoinCodeValues = z.output<typeof joinCodeValues>;

/** Kinds of change of this room. */
export const entryChanges = [
  z.strictObject({
    kind: z.literal('bring-in-roster'),
    into: id,
    fileName: z.string().max(255).nullable(),
    hasGroupColumn: z.boolean(),
    dateOrder: z.enum(['dayFirst', 'monthFirst', 'yearFirst']),
    rows: z.array(rosterRow).max(rowsAtOnce),
    fileId: z.uuid().nullable().optional(),
    newGroups: z.array(z.string().max(2000)).max(fileLimits.newGroups).optional(),
    declined: z.array(z.string().max(60)).max(50_000).optional(),
    mode: z.enum(['add', 'replace']).optional(),
    mostLeaving: z.number().int().min(0).max(100).optional(),
    write: z.strictObject({ at: moment.nullable() }).nullable().optional(),
  }),
  z.strictObject({ kind: z.literal('take-back-invitation'), invitationId: id }),
  z.strictObject({
    kind: z.literal('invite-people'),
    groupIds: z.array(id).min(1).max(50),
    people: z
      .array(z.strictObject({ givenName: z.string().max(120), familyName: z.string().max(120), email: z.string().trim().max(254) }))
      .min(1)
      .max(2000),
    words: z.string().trim().max(2000).nullable(),
  }),
  z.strictObject({ kind: z.literal('send-invitations-again'), invitationIds: z.array(id).min(1).max(2000) }),
  z.strictObject({ kind: z.literal('make-code'), values: joinCodeValues }),
  z.strictObject({ kind: z.literal('edit-code'), codeId: id, values: joinCodeValues.partial(), replace: z.boolean() }),
  z.strictObject({ kind: z.literal('delete-code'), codeId: id }),
  z.strictObject({
    kind: z.literal('decide-requests'),
    requestIds: z.array(id).min(1).max(5000),
    decision: z.enum(['let in', 'turn away']),
    asPerson: id.nullable(),
    word: z.string().trim().max(1000).nullable(),
  }),
] as const;
