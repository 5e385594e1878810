import {
  type Change,
  type Effects,
  groupColours,
  fileLimits,
  letterKinds,
  longestGroupName,
  mostQuestions,
  onLeavings,
  powers,
  rosterFields,
  rowOutcomes,
} from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, id, idInPath, moment, named } from './shapes.ts';

export const due = z.strictObject({
  at: z.union([z.strictObject({ day }), z.strictObject({ days: z.number().int().min(0).max(3650) })]),
  leastDays: z.number().int().min(0).max(3650).nullable(),
  firm: z.boolean(),
});

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

const personIds = z.array(id).min(1).max(10_000);
const groupIds = z.array(id).min(1).max(1000);
const shortText = z.string().trim().min(1).max(200);
const tagName = z.string().trim().min(1).max(60);
const colour = z.enum(groupColours);
const newLeader = z.strictObject({
  who: z.union([
    z.strictObject({ personId: id }),
    z.strictObject({ givenName: z.string().max(120), familyName: z.string().max(120), email: z.string().trim().max(254) }),
  ]),
  powers: z.array(z.enum(powers)).min(1),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
});
const newGroup = z.strictObject({
  name: z.string().max(400),
  within: z.number().int().min(0).nullable(),
  like: id.nullable(),
  leaders: z.array(newLeader).max(20),
});
export const groupValues = z.strictObject({
  name: z.string().max(longestGroupName * 3),
  idNumber: z.string().trim().max(60).nullable(),
  description: z.string().trim().max(2000).nullable(),
  colour: colour.nullable(),
  pictureId: id.nullable(),
  contactId: id.nullable(),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  signInPrefix: z.string().trim().max(12).nullable(),
  youngLearners: z.boolean(),
  tags: z.array(tagName).max(50),
  handouts: z.array(z.strictObject({ title: shortText, url: z.string().trim().max(2000).nullable(), uploadId: id.nullable() })).max(50),
});
export const personValues = z.strictObject({
  givenName: z.string().trim().max(120),
  familyName: z.string().trim().max(120),
  email: z.string().trim().max(254).nullable(),
  signInName: z.string().trim().min(2).max(60).nullable(),
  idNumber: z.string().trim().max(60).nullable(),
  nameHidden: z.boolean(),
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
  asks: joinAsks,
});

const mostSeats = z.number().int().min(0).max(1_000_000);
const licenceTerms = {
  name: shortText,
  seats: mostSeats,
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  onLeaving: z.enum(onLeavings),
};

export const change = z.discriminatedUnion('kind', [
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
          payers: z
            .strictObject({ licences: z.array(id).max(50), others: z.boolean() })
            .nullable()
            .optional(),
        }),
      )
      .max(500),
    end: z.array(id).max(500),
  }),
  z.strictObject({
    kind: z.literal('add-members'),
    groupId: id,
    personIds,
    firstDay: day.nullable(),
    lastDay: day.nullable(),
  }),
  z.strictObject({ kind: z.literal('remove-members'), groupId: id, personIds }),
  z.strictObject({ kind: z.literal('move-members'), fromId: id, intoId: id, personIds }),
  z.strictObject({ kind: z.literal('make-groups'), parentId: id, groups: z.array(newGroup).min(1).max(2000) }),
  z.strictObject({ kind: z.literal('edit-group'), groupId: id, values: groupValues.partial() }),
  z.strictObject({ kind: z.literal('move-groups'), groupIds, intoId: id }),
  z.strictObject({ kind: z.literal('set-group-state'), groupIds, state: z.enum(['active', 'archived']) }),
  z.strictObject({ kind: z.literal('delete-groups'), groupIds, subgroups: z.enum(['move up', 'go too']) }),
  z.strictObject({ kind: z.literal('tag-people'), personIds, groupId: id, add: z.array(tagName).max(50), remove: z.array(id).max(50) }),
  z.strictObject({ kind: z.literal('edit-tag'), tagId: id, name: tagName, colour: colour.nullable() }),
  z.strictObject({ kind: z.literal('merge-tags'), tagId: id, gone: z.array(id).min(1).max(50) }),
  z.strictObject({ kind: z.literal('edit-person'), personId: id, values: personValues.partial() }),
  z.strictObject({
    kind: z.literal('set-person-state'),
    personIds,
    state: z.enum(['active', 'paused', 'ended']),
    firstDay: day.nullable(),
    lastDay: day.nullable(),
  }),
  z.strictObject({ kind: z.literal('merge-people'), personId: id, goneId: id }),
  z.strictObject({ kind: z.literal('erase-person'), personId: id }),
  z.strictObject({ kind: z.literal('set-leaders'), groupId: id, begin: z.array(newLeader).max(100), end: z.array(id).max(100) }),
  z.strictObject({
    kind: z.literal('hand-over'),
    fromId: id,
    lines: z
      .array(z.strictObject({ what: z.enum(['leads', 'contact', 'code']), groupId: id, codeId: id.optional(), toId: id.nullable() }))
      .min(1)
      .max(1000),
    cover: z.strictObject({ firstDay: day, lastDay: day }).nullable(),
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
  z.strictObject({
    kind: z.literal('edit-letter'),
    groupId: id,
    letter: z.enum(letterKinds),
    text: z.strictObject({ subject: z.string().max(300), body: z.string().max(10_000) }).nullable(),
  }),
  z.strictObject({
    kind: z.literal('make-courses'),
    courses: z
      .array(
        z.strictObject({
          name: shortText,
          units: z
            .array(z.strictObject({ name: shortText, activities: z.array(shortText).min(1).max(200) }))
            .min(1)
            .max(200),
        }),
      )
      .min(1)
      .max(200),
  }),
  z.strictObject({
    kind: z.literal('make-licence'),
    values: z.strictObject({
      ...licenceTerms,
      about: z.union([z.strictObject({ course: id }), z.strictObject({ courseSet: id })]),
      homeId: id,
    }),
  }),
  z.strictObject({ kind: z.literal('edit-licence'), licenceId: id, values: z.strictObject(licenceTerms).partial() }),
  z.strictObject({
    kind: z.literal('limit-seats'),
    licenceId: id,
    limits: z
      .array(z.strictObject({ groupId: id, most: mostSeats.nullable() }))
      .min(1)
      .max(500),
  }),
  z.strictObject({ kind: z.literal('undo'), changeId: id }),
]);
// The wire and the core name the same changes: this line stops compiling when they part.
export const changeFitsCore = (wire: z.output<typeof change>): Change => wire;

const courseEffect = z.object({ courseId: id, course: z.string(), day: day.nullable(), people: z.number().int() });
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
    /** How many people would stand in line, and in which rows of the file. */
    inLine: z.number().int(),
    rows: z.array(z.number().int()),
  }),
  letters: z.number().int(),
  /** Addresses that are first asked whether the account is theirs. */
  confirming: z.number().int(),
});
export type Look = z.output<typeof look>;

export const whoList = z.enum([
  'gains',
  'loses',
  'still',
  'becomeDone',
  'noLongerDone',
  'joins',
  'leaves',
  'changed',
  'takenBack',
  'seatsNeeded',
  'fromLine',
  'seatsEnded',
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
      limit: z.coerce.number().int().min(1).max(500).default(50),
    }),
    response: z.object({ entries: z.array(logEntry), next: id.nullable() }),
  },
});
