import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, id, idInPath, moment, named, howFar } from './shapes.ts';

/** What can happen to a learner. */
export const storyKinds = [
  'came in',
  'left',
  'opened again',
  'began',
  'finished',
  'done',
  'handed in',
  'sent back',
  'marked',
  'more time',
  'exempt',
  'done elsewhere',
  'certificate',
  'certificate withdrawn',
] as const;

const storyEvent = z.object({
  at: moment,
  kind: z.enum(storyKinds),
  /** The group, or the course that it is about. */
  about: named,
  /** The activity, or what a certificate is called. */
  what: z.string().nullable(),
  score: z.number().nullable(),
  /** How often it was tried, or which version. */
  tries: z.number().int().nullable(),
  /** More time: until when; done elsewhere: when. */
  day: day.nullable(),
});
export type StoryEvent = z.output<typeof storyEvent>;

export const learnerStoryRoutes = defineRoutes({
  learnerStory: {
    method: 'GET',
    path: '/api/v1/people/:personId/story',
    room: 'progress',
    who: 'leader',
    summary: 'One learner: each course, what opened it, and everything that happened in the order of time',
    params: z.object({ personId: idInPath }),
    query: z.strictObject({ day: day.optional() }),
    response: z.object({
      id,
      givenName: z.string(),
      familyName: z.string(),
      groups: z.array(named),
      courses: z.array(
        named.extend({
          open: z.boolean(),
          /** Groups through which it is open, of those that the reader may know. */
          through: z.array(z.string()),
          ...howFar,
          units: z.number().int(),
          unitsDone: z.number().int(),
        }),
      ),
      /** Oldest first. */
      events: z.array(storyEvent),
    }),
  },
});
