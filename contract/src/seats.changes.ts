import { onLeavings } from '@gate-roster/core';
import { z } from 'zod';
import { mostSeatPrice } from './orders.changes.ts';
import { day, id, personIds, shortText } from './shapes.ts';

export const mostSeats = z.number().int().min(0).max(1_000_000);
const licenceTerms = {
  name: shortText,
  seats: mostSeats,
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  onLeaving: z.enum(onLeavings),
  byHand: z.boolean(),
  /** What a seat costs without tax, in minor units; null: none can be ordered. */
  price: z.number().int().min(0).max(mostSeatPrice).nullable().optional(),
  /** An administrator decides about orders of leaders. */
  needsApproval: z.boolean().optional(),
  /** What a split opens in its branch asks for no seat while it runs. */
  duringSplits: z.boolean().optional(),
  /** Months by which it can be renewed; null: it ends. */
  renewMonths: z.number().int().min(1).max(120).nullable().optional(),
  idNumber: z.string().trim().max(60).nullable().optional(),
  /** A seat with which nothing is begun for so many days comes back by itself. */
  idleDays: z.number().int().min(1).max(3650).nullable().optional(),
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
  z.strictObject({
    kind: z.literal('take-back-seats'),
    licenceId: id,
    /** Seats that are charged in the branch of this group. */
    groupId: id,
    /** null: everybody who has had one for so many days and begun nothing that it pays for. */
    personIds: personIds.nullable(),
    idleDays: z.number().int().min(1).max(3650).nullable(),
  }),
  z.strictObject({ kind: z.literal('give-seats'), licenceId: id, groupId: id, personIds }),
  /** They wait for no seat of this licence until they are put back by `give-seats`. */
  z.strictObject({ kind: z.literal('give-up-places'), licenceId: id, groupId: id, personIds }),
  z.strictObject({ kind: z.literal('move-seats'), licenceId: id, toLicenceId: id, groupId: id, personIds }),
  /** In the line of a branch: people go before its others, or two change places. */
  z.strictObject({ kind: z.literal('arrange-line'), licenceId: id, groupId: id, personIds, how: z.enum(['first', 'swap']) }),
] as const;
