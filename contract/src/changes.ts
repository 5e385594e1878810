import { type Change, type Effects, rosterFields } from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, id, idInPath, moment, named } from './shapes.ts';

const due = z.strictObject({
  at: z.union([z.strictObject({ day }), z.strictObject({ days: z.number().int().min(0).max(3650) })]),
  leastDays: z.number().int().min(0).max(3650).nullable(),
  firm: z.boolean(),
});

const cell = z.string().max(2000);
const rosterRow = z.strictObject({
  row: z.number().int().positive(),
  cells: z.strictObject(
    Object.fromEntries(rosterFields.map((field) => [field, cell.optional()])) as Record<
      (typeof rosterFields)[number],
      z.ZodOptional<typeof cell>
    >,
  ),
});

export const change = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('bring-in-roster'),
    into: id,
    fileName: z.string().max(255).nullable(),
    hasGroupColumn: z.boolean(),
    dateOrder: z.enum(['dayFirst', 'monthFirst', 'yearFirst']),
    rows: z.array(rosterRow).min(1).max(50_000),
  }),
  z.strictObject({
    kind: z.literal('grant-access'),
    begin: z
      .array(
        z.strictObject({
          groupId: id,
          courseId: id,
          effect: z.enum(['open', 'block']),
          withSubgroups: z.boolean(),
          firm: z.boolean(),
          firstDay: day.nullable(),
          lastDay: day.nullable(),
          units: z.array(id).nullable(),
          due: due.nullable(),
        }),
      )
      .max(500),
    end: z.array(id).max(500),
  }),
  z.strictObject({
    kind: z.literal('add-members'),
    groupId: id,
    personIds: z.array(id).min(1).max(10_000),
    firstDay: day.nullable(),
    lastDay: day.nullable(),
  }),
  z.strictObject({ kind: z.literal('remove-members'), groupId: id, personIds: z.array(id).min(1).max(10_000) }),
  z.strictObject({ kind: z.literal('rename-group'), groupId: id, name: z.string().max(400) }),
  z.strictObject({ kind: z.literal('undo'), changeId: id }),
]);
// The wire and the core name the same changes: this line stops compiling when they part.
export const changeFitsCore = (wire: z.output<typeof change>): Change => wire;

const courseEffect = z.object({ courseId: id, course: z.string(), day: day.nullable(), people: z.number().int() });
const groupEffect = z.object({ groupId: id, group: z.string(), people: z.number().int() });
const conflict = z.object({
  code: z.string() as z.ZodType<Effects['conflicts'][number]['code']>,
  blocks: z.boolean(),
  count: z.number().int(),
});
const checkedRow = z.object({
  row: z.number().int(),
  outcome: z.enum(['new', 'joins', 'changes', 'nothing', 'needs a look']),
  reason: z.record(z.string(), z.unknown()).nullable() as unknown as z.ZodType<Effects['rows'][number]['reason']>,
  field: z.enum(rosterFields).nullable(),
  cells: rosterRow.shape.cells,
});

export const look = z.object({
  /** To be sent with apply: stands for what was shown. */
  digest: z.string(),
  gains: z.array(courseEffect),
  loses: z.array(courseEffect),
  still: z.array(courseEffect),
  /** Distinct people who gain something now or later. */
  gaining: z.number().int(),
  losing: z.number().int(),
  joins: z.array(groupEffect),
  leaves: z.array(groupEffect),
  newPeople: z.number().int(),
  changedPeople: z.number().int(),
  takenBack: z.number().int(),
  rows: z.array(checkedRow),
  conflicts: z.array(conflict),
});
export type Look = z.output<typeof look>;

export const whoList = z.enum(['gains', 'loses', 'still', 'takenBack']);

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
  /** The kind of the change that was undone. */
  undid: z.string().nullable(),
  undoOf: id.nullable(),
  undoneBy: id.nullable(),
  canUndo: z.boolean(),
});
export type LogEntry = z.output<typeof logEntry>;

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
    body: z.strictObject({ change, list: whoList, courseId: id.nullable(), after: id.nullable() }),
    response: z.object({ people: z.array(named), newcomers: z.number().int(), next: id.nullable() }),
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
      after: idInPath.optional(),
      groupId: idInPath.optional(),
      kind: z.string().max(40).optional(),
      limit: z.coerce.number().int().min(1).max(100).default(50),
    }),
    response: z.object({ entries: z.array(logEntry), next: id.nullable() }),
  },
});
