import { z } from 'zod';
import { id, shortText, tagName } from './shapes.ts';
import { finishing, isFinishing } from './work.changes.ts';

/** What a course says of itself, but for its units. */
export const courseValues = z.strictObject({
  name: shortText,
  code: z.string().trim().min(1).max(40).nullable(),
  subject: z.string().trim().min(1).max(120).nullable(),
  description: z.string().trim().min(1).max(2000).nullable(),
  terms: z.enum(['everyone', 'group', 'request']),
  archived: z.boolean(),
  /** 0 to 100; null: any score will do. */
  passScore: z.number().int().min(0).max(100).nullable(),
  /** Activities that make it done; null: all of the open units. */
  doneByActivities: z.array(id).min(1).max(2000).nullable(),
  validMonths: z.number().int().min(1).max(600).nullable(),
  /** It opens again so many days before it is no longer valid; null: on that day. */
  reopensDays: z.number().int().min(0).max(3650).nullable(),
  /** The branch whose own course it is; null: everybody's. */
  homeId: id.nullable(),
  tags: z.array(tagName).max(20),
});
export type CourseValues = z.output<typeof courseValues>;

/** Units and activities in order, as they are wished: those without a number are made, those left out are taken out. */
export const wishedUnits = z
  .array(
    z.strictObject({
      id: id.nullable(),
      name: shortText,
      activities: z
        .array(
          z
            .strictObject({ id: id.nullable(), name: shortText, scored: z.boolean(), ...finishing })
            .refine(isFinishing, 'What is marked says what is to be handed in; what the player shows has no words here'),
        )
        .min(1)
        .max(200),
    }),
  )
  .min(1)
  .max(200);
export type WishedUnits = z.output<typeof wishedUnits>;

const setItems = z.strictObject({ courses: z.array(id).max(1000), sets: z.array(id).max(200) });

/** Kinds of change of this room. */
export const coursesChanges = [
  z.strictObject({
    kind: z.literal('make-courses'),
    courses: z
      .array(
        z.strictObject({
          name: shortText,
          code: courseValues.shape.code.optional(),
          subject: courseValues.shape.subject.optional(),
          description: courseValues.shape.description.optional(),
          tags: courseValues.shape.tags.optional(),
          units: z
            .array(z.strictObject({ name: shortText, activities: z.array(shortText).min(1).max(200) }))
            .min(1)
            .max(200),
        }),
      )
      .min(1)
      .max(1000),
    /** The branch whose own courses they are: their activities are ticked off by the learner. null: everybody's. */
    homeId: id.nullable().default(null),
  }),
  z.strictObject({
    kind: z.literal('edit-course'),
    courseId: id,
    values: courseValues.partial(),
    /** Left out: they stay as they are. */
    units: wishedUnits.optional(),
  }),
  /** Takes what the course platform offered: new courses, those that changed, and archives some that it offers no more. */
  z.strictObject({
    kind: z.literal('take-feed'),
    feedId: id,
    /** The platform's numbers of the new and changed ones. */
    take: z.array(z.string().min(1).max(200)).max(500),
    archive: z.array(id).max(500),
  }),
  z.strictObject({ kind: z.literal('make-course-set'), name: shortText, holds: setItems }),
  z.strictObject({
    kind: z.literal('edit-course-set'),
    courseSetId: id,
    name: shortText.optional(),
    add: setItems,
    takeOut: setItems,
  }),
  z.strictObject({ kind: z.literal('delete-course-set'), courseSetId: id }),
] as const;
