import { onLeavings } from '@gate-roster/core';
import { z } from 'zod';
import { day, id, shortText } from './shapes.ts';

export const mostSeats = z.number().int().min(0).max(1_000_000);
const licenceTerms = {
  name: shortText,
  seats: mostSeats,
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  onLeaving: z.enum(onLeavings),
};

export const licenceValues = z.strictObject({
  ...licenceTerms,
  about: z.union([z.strictObject({ course: id }), z.strictObject({ courseSet: id })]),
  homeId: id,
});
export type LicenceValues = z.output<typeof licenceValues>;

/** Kinds of change of this room. */
export const seatsChanges = [
  z.strictObject({
    kind: z.literal('make-licence'),
    values: licenceValues,
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
] as const;
