import { powers } from '@gate-roster/core';
import { z } from 'zod';
import { day, id } from './shapes.ts';

/** A person who will lead: known, or by name and address. */
export const newLeader = z.strictObject({
  who: z.union([
    z.strictObject({ personId: id }),
    z.strictObject({ givenName: z.string().max(120), familyName: z.string().max(120), email: z.string().trim().max(254) }),
  ]),
  powers: z.array(z.enum(powers)).min(1),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
});
export type NewLeader = z.output<typeof newLeader>;

/** One thing that somebody is responsible for, and who takes it over; null: it ends with them. `codeId` with `code`. */
export const handOverLine = z.strictObject({
  what: z.enum(['leads', 'contact', 'code']),
  groupId: id,
  codeId: id.optional(),
  toId: id.nullable(),
});
export type HandOverLine = z.output<typeof handOverLine>;

/** Kinds of change of this room. */
export const accountsChanges = [
  z.strictObject({ kind: z.literal('set-leaders'), groupId: id, begin: z.array(newLeader).max(100), end: z.array(id).max(100) }),
  z.strictObject({
    kind: z.literal('hand-over'),
    fromId: id,
    lines: z.array(handOverLine).min(1).max(1000),
    cover: z.strictObject({ firstDay: day, lastDay: day }).nullable(),
  }),
] as const;
