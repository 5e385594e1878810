import { allowanceModes } from '@gate-roster/core';
import { z } from 'zod';
import { id, moment, shortText } from './shapes.ts';

export const allowance = z.strictObject({
  mode: z.enum(allowanceModes),
  /** `units` null: all of the course. */
  courses: z.array(z.strictObject({ courseId: id, units: z.array(id).min(1).max(200).nullable() })).max(100),
});

/** A named part of a group. */
export const splitPart = z.strictObject({
  /** Tells it from the other parts of its split, whatever it is called. */
  key: z.number().int().min(1).max(999),
  name: z.string().trim().max(60),
  /** It is called by this leader, whose part it is; null: by its name. */
  leaderId: id.nullable(),
  /** Off: its people have what they always have while the split runs. */
  isOn: z.boolean(),
  /** null: nothing is different for them. */
  allowance: allowance.nullable(),
  /** Shown on their page while it runs. */
  link: z
    .url({ protocol: /^https?$/u, hostname: z.regexes.domain })
    .max(500)
    .nullable(),
  words: z.string().trim().max(500),
  personIds: z.array(id).max(1000),
});
export type SplitPart = z.output<typeof splitPart>;

/** Kinds of change of this room. */
export const splitsChanges = [
  z.strictObject({
    kind: z.literal('set-split'),
    /** null: a new one. */
    splitId: id.nullable(),
    groupId: id,
    name: shortText,
    parts: z.array(splitPart).min(1).max(40),
  }),
  z.strictObject({ kind: z.literal('start-split'), splitId: id, until: moment }),
  z.strictObject({ kind: z.literal('stop-split'), splitId: id }),
  z.strictObject({ kind: z.literal('delete-split'), splitId: id }),
] as const;
