import { z } from 'zod';
import { day, id } from './shapes.ts';

export const due = z.strictObject({
  at: z.union([z.strictObject({ day }), z.strictObject({ days: z.number().int().min(0).max(3650) })]),
  leastDays: z.number().int().min(0).max(3650).nullable(),
  firm: z.boolean(),
});

/** A grant that is not made yet. `payers`: which licences pay for an open; left out or null: it costs nobody a seat. */
export const grantDraft = z.strictObject({
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
});
export type GrantDraft = z.output<typeof grantDraft>;

/** Kinds of change of this room. */
export const accessChanges = [
  z.strictObject({
    kind: z.literal('grant-access'),
    begin: z.array(grantDraft).max(500),
    end: z.array(id).max(500),
  }),
] as const;
