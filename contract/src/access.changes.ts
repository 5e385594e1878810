import { z } from 'zod';
import { chosenPeople } from './chosen-people.ts';
import { day, id } from './shapes.ts';

export const due = z.strictObject({
  at: z.union([z.strictObject({ day }), z.strictObject({ days: z.number().int().min(0).max(3650) })]),
  leastDays: z.number().int().min(0).max(3650).nullable(),
  firm: z.boolean(),
});

/** A grant that is not made yet, about a course or a course set. `payers`: which licences pay for an open; left out or null: it costs nobody a seat. */
export const grantDraft = z.strictObject({
  groupId: id,
  /** null: it is about a course set. */
  courseId: id.nullable(),
  courseSetId: id.optional(),
  effect: z.enum(['open', 'block']),
  withSubgroups: z.boolean(),
  firm: z.boolean(),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  units: z.array(id).nullable(),
  due: due.nullable(),
  note: z.string().trim().min(1).max(500).nullable().optional(),
  payers: z
    .strictObject({ licences: z.array(id).max(50), others: z.boolean() })
    .nullable()
    .optional(),
});
/** Of a course or a set, and not of both. */
export const isAboutOne = ({ courseId, courseSetId }: z.output<typeof grantDraft>): boolean =>
  (courseId === null) === (courseSetId !== undefined);
export type GrantDraft = z.output<typeof grantDraft>;

const reason = z.string().trim().min(1).max(500).nullable();

/** What holds for chosen people in one course, whatever their groups say. `none` ends all that was said of them so. */
export const exception = z.discriminatedUnion('what', [
  z.strictObject({
    what: z.literal('open'),
    firstDay: day.nullable(),
    lastDay: day.nullable(),
    units: z.array(id).min(1).max(200).nullable(),
    due: due.nullable(),
  }),
  z.strictObject({ what: z.literal('block'), firstDay: day.nullable(), lastDay: day.nullable() }),
  /** Not due before that day. */
  z.strictObject({ what: z.literal('more time'), day }),
  z.strictObject({ what: z.literal('exempt'), reason }),
  z.strictObject({
    what: z.literal('done elsewhere'),
    day,
    reason,
    proof: z
      .url({ protocol: /^https?$/u })
      .max(500)
      .nullable(),
  }),
  z.strictObject({ what: z.literal('none') }),
]);
export type Exception = z.output<typeof exception>;

/** Kinds of change of this room. */
export const accessChanges = [
  z.strictObject({
    kind: z.literal('grant-access'),
    begin: z.array(grantDraft.refine(isAboutOne, 'About a course or a course set')).max(500),
    end: z.array(id).max(500),
    /** Who comes first of those who then need a seat; not before those who are in line already. */
    seatsFirst: z.array(id).max(2000).optional(),
  }),
  z.strictObject({
    kind: z.literal('except-people'),
    /** The group of theirs in whose name it is said. */
    groupId: id,
    personIds: chosenPeople,
    courseId: id,
    exception,
  }),
  z.strictObject({
    kind: z.literal('decide-course-requests'),
    requestIds: z.array(id).min(1).max(2000),
    decision: z.enum(['open', 'turn away']),
    /** The last day on which the course is open to them. */
    lastDay: day.nullable(),
    word: z.string().trim().max(1000).nullable(),
  }),
] as const;
