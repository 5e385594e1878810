import { letterKinds } from '@gate-roster/core';
import { z } from 'zod';
import { id } from './shapes.ts';

/** Kinds of change of this room. */
export const messagesChanges = [
  z.strictObject({
    kind: z.literal('edit-letter'),
    groupId: id,
    letter: z.enum(letterKinds),
    text: z.strictObject({ subject: z.string().max(300), body: z.string().max(10_000) }).nullable(),
  }),
] as const;
