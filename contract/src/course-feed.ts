import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { id, named, shortText } from './shapes.ts';

/* The courses that the course platform offers, as it sends them: JSON, `{"courses": […]}`, to GET with a bearer key. */

const number = z.string().trim().min(1).max(200);
const maybeText = (most: number) => z.string().trim().max(most).nullish();

/** Fields that are not known are left out, and named. */
export const feedCourse = z.object({
  id: number,
  title: shortText,
  code: maybeText(40),
  subject: maybeText(120),
  description: maybeText(2000),
  units: z
    .array(
      z.object({
        id: number,
        title: shortText,
        activities: z
          .array(z.object({ id: number, title: shortText, scored: z.boolean().default(true) }))
          .min(1)
          .max(200),
      }),
    )
    .min(1)
    .max(200),
});

export const mostCoursesOffered = 10_000;
/** As many are taken by one change. */
export const mostCoursesTaken = 500;

const offered = z.object({ number: z.string(), name: z.string(), code: z.string().nullable(), units: z.number().int() });

const changedCourse = z.object({
  number: z.string(),
  course: named,
  /** What is otherwise; none: it was typed in here, and is known from now on as the platform's. */
  fields: z.array(z.enum(['name', 'code', 'subject', 'description', 'units', 'archived'])),
  newName: z.string().nullable(),
  unitsMade: z.array(z.string()),
  unitsRenamed: z.array(z.object({ from: z.string(), to: z.string() })),
  activitiesRenamed: z.number().int(),
  unitsGone: z.array(z.string()),
  activitiesMade: z.number().int(),
  activitiesGone: z.number().int(),
  underWay: z.number().int(),
});

export const feedProblems = ['no number', 'twice', 'does not fit'] as const;

export const courseFeedRoutes = defineRoutes({
  checkFeed: {
    method: 'POST',
    path: '/api/v1/course-feed',
    room: 'courses',
    who: 'administrator',
    summary: 'Fetches what the course platform offers, and compares it with what is here; nothing is altered',
    response: z.object({
      feedId: id,
      platform: z.string(),
      fresh: z.array(offered),
      changed: z.array(changedCourse),
      /** Came from the platform, and is not offered any more. */
      gone: z.array(named.extend({ underWay: z.number().int() })),
      /** In all; the lists hold as many as one change can take. */
      counts: z.object({ fresh: z.number().int(), changed: z.number().int(), gone: z.number().int(), same: z.number().int() }),
      /** Courses that are left out. */
      left: z.array(z.object({ what: z.string(), why: z.enum(feedProblems), where: z.string().nullable() })),
      /** Fields that are not read. */
      ignored: z.array(z.string()),
    }),
  },
});
