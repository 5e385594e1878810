import { z } from 'zod';
import { day, id } from './shapes.ts';

/** How the days of a period are moved to the next. */
export const dayShift = z.union([
  z.strictObject({ years: z.number().int().min(0).max(20) }),
  z.strictObject({ days: z.number().int().min(-3650).max(3650) }),
]);

/** Kinds of change of this room. */
export const periodsChanges = [
  z.strictObject({
    kind: z.literal('close-period'),
    groupId: id,
    /** The last day on which the branch gives anything; null: it stays as it is. */
    lastDay: day.nullable(),
    /** Its join codes are paused; one that opens other groups too goes on for those. */
    codes: z.boolean(),
    invitations: z.boolean(),
    /** Those who ask to join are turned away, with a word or without; null: they go on waiting. */
    asking: z.strictObject({ word: z.string().trim().max(1000).nullable() }).nullable(),
    /** Automatic rules of the branch are switched off. */
    rules: z.boolean(),
    /** Nobody in the branch is reminded of anything any more. */
    reminders: z.boolean(),
    /** Splits that run end. */
    splits: z.boolean(),
    /** Also the seats that stay used until the licence ends are taken back, once the last day is past. */
    seats: z.boolean(),
    /** What becomes of people who are in no other group. */
    people: z.discriminatedUnion('do', [
      z.strictObject({ do: z.literal('stay') }),
      /** Their accounts work until the last day. */
      z.strictObject({ do: z.literal('end') }),
      z.strictObject({ do: z.literal('move'), intoId: id }),
    ]),
  }),
  z.strictObject({
    kind: z.literal('make-next-period'),
    /** The branch that is copied. */
    groupId: id,
    parentId: id,
    /** What the copy of its top is called; those below keep their names. */
    name: z.string().max(400),
    shift: dayShift,
    copies: z.strictObject({ courses: z.boolean(), leaders: z.boolean(), codes: z.boolean(), limits: z.boolean() }),
    /** For each group of the branch, the group whose copy its people go to; null: they leave. */
    moves: z.array(z.strictObject({ fromId: id, toCopyOf: id.nullable() })).max(2000),
  }),
] as const;
