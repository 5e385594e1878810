import { z } from 'zod';
import { id, personIds, shortText } from './shapes.ts';

/** What a certificate says, and when it is given. */
export const certificateValues = z
  .strictObject({
    /** One course, or one set; neither: all that the group opens. */
    courseId: id.nullable(),
    courseSetId: id.nullable(),
    title: shortText,
    /** With fields such as {name} and {course}. */
    words: z.string().trim().min(1).max(1000),
    logoId: id.nullable(),
    showsScore: z.boolean(),
    byItself: z.boolean(),
  })
  .refine(({ courseId, courseSetId }) => courseId === null || courseSetId === null, 'For a course or for a set');
export type CertificateValues = z.output<typeof certificateValues>;

const certificateNumbers = z
  .array(z.string().regex(/^[A-Z0-9]{12}$/u))
  .min(1)
  .max(1000);

/** Kinds of change of this room. */
export const certificatesChanges = [
  z.strictObject({ kind: z.literal('set-certificate'), formId: id.nullable(), groupId: id, values: certificateValues }),
  z.strictObject({ kind: z.literal('end-certificate'), formId: id }),
  z.strictObject({ kind: z.literal('give-certificates'), formId: id, personIds }),
  /** `replace`: another is given in its place, with what is true now. */
  z.strictObject({ kind: z.literal('withdraw-certificates'), numbers: certificateNumbers, replace: z.boolean() }),
] as const;
