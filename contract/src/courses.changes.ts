import { z } from 'zod';
import { shortText } from './shapes.ts';

/** Kinds of change of this room. */
export const coursesChanges = [
  z.strictObject({
    kind: z.literal('make-courses'),
    courses: z
      .array(
        z.strictObject({
          name: shortText,
          units: z
            .array(z.strictObject({ name: shortText, activities: z.array(shortText).min(1).max(200) }))
            .min(1)
            .max(200),
        }),
      )
      .min(1)
      .max(200),
  }),
] as const;
