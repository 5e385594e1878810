import { z } from 'zod';
import { id } from './shapes.ts';

/** So that no sum leaves what numbers hold exactly. */
export const mostOrderedSeats = 100_000;
export const mostSeatPrice = 1_000_000;
export const orderedSeats = z.number().int().min(1).max(mostOrderedSeats);
const word = z.string().trim().max(500).nullable();

/** Kinds of change about orders of seats. */
export const ordersChanges = [
  /** For whom: a group of the home's branch, with all above it up to the home. */
  z.strictObject({ kind: z.literal('order-seats'), licenceId: id, groupId: id, seats: orderedSeats, word }),
  /** The months that the licence says, for all its seats. */
  z.strictObject({ kind: z.literal('order-renewal'), licenceId: id, word }),
  z.strictObject({ kind: z.literal('decide-order'), orderId: id, approve: z.boolean(), word }),
  z.strictObject({ kind: z.literal('give-up-order'), orderId: id }),
  /** Of seats that are paid and free: a credit note, and the money goes back. */
  z.strictObject({ kind: z.literal('credit-order'), orderId: id, seats: orderedSeats, word }),
] as const;
