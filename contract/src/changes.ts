import { type Effects, rosterFields, rowOutcomes } from '@gate-roster/core';
import { z } from 'zod';
import { accessChanges } from './access.changes.ts';
import { accountsChanges } from './accounts.changes.ts';
import { certificatesChanges } from './certificates.changes.ts';
import type { MatchingPeople } from './chosen-people.ts';
import { coursesChanges } from './courses.changes.ts';
import { entryChanges, rosterRow } from './entry.changes.ts';
import { groupsChanges } from './groups.changes.ts';
import { messagesChanges } from './messages.changes.ts';
import { ordersChanges } from './orders.changes.ts';
import { peopleChanges } from './people.changes.ts';
import { periodsChanges } from './periods.changes.ts';
import { rulesChanges } from './rules.changes.ts';
import { seatsChanges } from './seats.changes.ts';
import { splitsChanges } from './splits.changes.ts';
import { defineRoutes } from './route.ts';
import { workChanges } from './work.changes.ts';
import { day, id, idInPath, moment, named, numberInAddress } from './shapes.ts';

/** Every act that alters the roster, access or seats. All are looked at, applied, logged and undone in the same way, no matter who makes them. */
export const change = z.discriminatedUnion('kind', [
  ...groupsChanges,
  ...peopleChanges,
  ...accountsChanges,
  ...entryChanges,
  ...accessChanges,
  ...coursesChanges,
  ...seatsChanges,
  ...ordersChanges,
  ...messagesChanges,
  ...rulesChanges,
  ...workChanges,
  ...certificatesChanges,
  ...splitsChanges,
  ...periodsChanges,
  /** With `actIds`: acts of rules that followed from the change, which are undone with it. */
  z.strictObject({ kind: z.literal('undo'), changeId: id, actIds: z.array(id).max(500).optional() }),
]);
/** As it is sent. */
export type AskedChange = z.output<typeof change>;
/** With its people by number, in place of the filter that they match. */
export type Change = Named<AskedChange>;
export type Named<C> = C extends { personIds: unknown }
  ? { [K in keyof C]: Exclude<C[K], MatchingPeople> }
  : C extends { audience: unknown }
    ? { [K in keyof C]: K extends 'audience' ? Named<C[K]> : C[K] }
    : C;
export type ChangeKind = Change['kind'];
export const changeKinds: readonly ChangeKind[] = change.options.map(({ shape }) => shape.kind.value);

const courseEffect = z.object({
  courseId: id,
  course: z.string(),
  day: day.nullable(),
  people: z.number().int(),
  /** For how many of them it is a part of the course: other units of it are open to them as well. */
  partly: z.number().int(),
});
/** Below zero: a group that would be made. */
const groupEffect = z.object({ groupId: z.number().int(), group: z.string(), people: z.number().int() });
const conflict = z.object({
  code: z.string() as z.ZodType<Effects['conflicts'][number]['code']>,
  blocks: z.boolean(),
  count: z.number().int(),
  /** Some of the people and groups it is about, as far as the reader knows them. */
  about: z.array(z.string()),
});
const checkedRow = z.object({
  row: z.number().int(),
  outcome: z.enum(['new', 'joins', 'changes', 'nothing', 'needs a look']),
  reason: z.record(z.string(), z.unknown()).nullable() as unknown as z.ZodType<Effects['rows'][number]['reason']>,
  field: z.enum(rosterFields).nullable(),
  cells: rosterRow.shape.cells,
  changes: z.array(z.object({ field: z.string(), before: z.string(), after: z.string() })) as unknown as z.ZodType<
    Effects['rows'][number]['changes']
  >,
});

export const look = z.object({
  /** To be sent with apply: stands for what was shown. */
  digest: z.string(),
  gains: z.array(courseEffect),
  loses: z.array(courseEffect),
  still: z.array(courseEffect),
  becomeDone: z.array(courseEffect),
  noLongerDone: z.array(courseEffect),
  /** The due day moves, or they are exempt or no longer exempt. */
  excepted: z.array(courseEffect),
  /** A split: until it ends. */
  opensForNow: z.array(courseEffect),
  closesForNow: z.array(courseEffect),
  stillForNow: z.array(courseEffect),
  /** Distinct people who gain something now or later. */
  gaining: z.number().int(),
  losing: z.number().int(),
  joins: z.array(groupEffect),
  leaves: z.array(groupEffect),
  newPeople: z.number().int(),
  changedPeople: z.number().int(),
  takenBack: z.number().int(),
  /** Rows of a roster that need a look, as many as are worth showing. */
  rows: z.array(checkedRow),
  rowCounts: z.record(z.enum(rowOutcomes), z.number().int()),
  conflicts: z.array(conflict),
  groups: z.object({ made: z.number().int(), moved: z.number().int(), gone: z.number().int(), back: z.number().int() }),
  seats: z.object({
    /** From when; null: from today. */
    day: day.nullable(),
    /** How many more its people need than they have. */
    needed: z.number().int(),
    /** null: the reader may know only whether there is room. */
    free: z.number().int().nullable(),
    /** Of those in line now, how many get one. */
    fromLine: z.number().int(),
    ended: z.number().int(),
    moved: z.number().int(),
    leftLine: z.number().int(),
    /** How many people would stand in line, and in which rows of the file. */
    inLine: z.number().int(),
    rows: z.array(z.number().int()),
    /** Limits that would keep them in line. `raise`: who looks may set this one. */
    short: z.array(
      z.object({
        licenceId: z.number(),
        licence: z.string(),
        groupId: z.number(),
        group: z.string(),
        most: z.number().int(),
        missing: z.number().int(),
        /** People in line there already, who come before them. */
        waiting: z.number().int(),
        raise: z.boolean(),
      }),
    ),
  }),
  letters: z.number().int(),
  /** Addresses that are first asked whether the account is theirs. */
  confirming: z.number().int(),
  /** Of the letters, those of which it is known to whom they go; and of these those to a guardian. */
  byLetter: z.number().int(),
  guardians: z.number().int(),
  /** People whom a message would reach on their page. */
  reached: z.number().int(),
  /** People who would come to another place in line. */
  reordered: z.number().int(),
  /** Automatic rules that it may set off, and on how many at most; as far as the reader may know of them. */
  rules: z.array(named.extend({ people: z.number().int() })),
});
export type Look = z.output<typeof look>;

export const whoList = z.enum([
  'gains',
  'loses',
  'still',
  'becomeDone',
  'noLongerDone',
  'excepted',
  'opensForNow',
  'closesForNow',
  'stillForNow',
  'joins',
  'leaves',
  'changed',
  'takenBack',
  'reached',
  'byLetter',
  'guardians',
  'reordered',
  'seatsNeeded',
  'fromLine',
  'seatsEnded',
  'seatsMoved',
  'leftLine',
  'inLine',
]);
export type WhoList = z.output<typeof whoList>;

export const logEntry = z.object({
  id,
  kind: z.string(),
  madeAt: moment,
  actor: z.string().nullable(),
  isMine: z.boolean(),
  /** What it was about, for wording: names are resolved for the reader at reading. */
  groups: z.array(named),
  courses: z.array(named),
  people: z.array(named),
  counts: z.record(z.string(), z.number()),
  fileName: z.string().nullable(),
  names: z.object({ before: z.string(), after: z.string() }).nullable(),
  effects: z.array(z.enum(['open', 'block', 'end'])),
  fields: z.array(z.string()),
  /** The kind of the change that was undone. */
  undid: z.string().nullable(),
  undoOf: id.nullable(),
  undoneBy: id.nullable(),
  /** The name of the automatic rule that made it. */
  rule: z.string().nullable(),
  canUndo: z.boolean(),
});
export type LogEntry = z.output<typeof logEntry>;

/** Which part of the log: a branch, a person it touched, who did it, a kind, days. */
export const logFilter = z.strictObject({
  groupId: idInPath.optional(),
  personId: idInPath.optional(),
  actorId: idInPath.optional(),
  kind: z.string().max(40).optional(),
  firstDay: day.optional(),
  lastDay: day.optional(),
  /** What automatic rules did because of this change. */
  followsFrom: idInPath.optional(),
});
export type LogFilter = z.output<typeof logFilter>;

export const changeRoutes = defineRoutes({
  look: {
    method: 'POST',
    path: '/api/v1/changes/look',
    room: 'changes',
    who: 'leader',
    summary: 'What a change would do, without doing it',
    body: z.strictObject({ change }),
    response: look,
  },
  lookPeople: {
    method: 'POST',
    path: '/api/v1/changes/look/people',
    room: 'changes',
    who: 'leader',
    summary: 'The names behind a number of a look, a page at a time',
    body: z.strictObject({
      change,
      list: whoList,
      courseId: id.nullable(),
      groupId: z.number().int().nullable().default(null),
      after: id.nullable(),
    }),
    /** `group`: where somebody is of whose name there are several. */
    response: z.object({
      people: z.array(named.extend({ group: z.string().nullable() })),
      newcomers: z.number().int(),
      next: id.nullable(),
    }),
  },
  apply: {
    method: 'POST',
    path: '/api/v1/changes',
    room: 'changes',
    who: 'leader',
    summary: 'Apply a change that was looked at; the same request id is one change',
    body: z.strictObject({ change, digest: z.string().max(100), requestId: z.uuid() }),
    response: z.object({ changeId: id, gained: z.number().int(), newPeople: z.number().int() }),
  },
  log: {
    method: 'GET',
    path: '/api/v1/changes',
    room: 'changes',
    who: 'leader',
    summary: 'What was done, newest first',
    query: z.strictObject({
      ...logFilter.shape,
      after: idInPath.optional(),
      limit: numberInAddress(1, 500).default(50),
    }),
    response: z.object({ entries: z.array(logEntry), next: id.nullable() }),
  },
});
