import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { id, named } from './shapes.ts';
import { finishing } from './work.changes.ts';

/* What outside course platforms report, and ask for. */

const iri = z.string().max(500);
/** The shape of an xAPI statement, as far as it is read. */
export const xapiStatement = z.looseObject({
  id: z.uuid(),
  actor: z.looseObject({ account: z.strictObject({ homePage: iri, name: z.uuid() }) }),
  verb: z.looseObject({ id: iri }),
  object: z.looseObject({ id: iri }),
  result: z
    .looseObject({
      completion: z.boolean().optional(),
      duration: z.iso.duration().optional(),
      score: z.looseObject({ scaled: z.number().min(0).max(1) }).optional(),
    })
    .optional(),
  timestamp: z.iso.datetime({ offset: true }),
});

/** Takes back a statement that the same source sent, or will send. */
export const voidStatement = z.looseObject({
  id: z.uuid(),
  verb: z.looseObject({ id: z.literal('http://adlnet.gov/expapi/verbs/voided') }),
  object: z.looseObject({ objectType: z.literal('StatementRef'), id: z.uuid() }),
});

export const sourceRoutes = defineRoutes({
  report: {
    method: 'POST',
    path: '/api/v1/source/statements',
    room: 'progress',
    who: 'source',
    summary: 'An outside course platform reports work, or takes a report back, xAPI-shaped, signed with its own key',
    body: z
      .array(z.union([voidStatement, xapiStatement]))
      .min(1)
      .max(100),
    response: z.object({ taken: z.number().int() }),
  },
  sourceWork: {
    method: 'POST',
    path: '/api/v1/source/work',
    room: 'work',
    who: 'source',
    summary: 'An outside course platform hands in what a learner wrote there, once per id',
    body: z.strictObject({
      id: z.uuid(),
      launchId: z.uuid(),
      activityId: id,
      words: z.string().trim().max(20_000),
      link: z
        .url({ protocol: /^https?$/u, hostname: z.regexes.domain })
        .max(2000)
        .nullable(),
    }),
    response: z.object({ versionId: id }),
  },
  outline: {
    method: 'GET',
    path: '/api/v1/source/launches/:launchId',
    room: 'courses',
    who: 'source',
    summary: 'What a launch opens: the course, its units and activities, and what is finished',
    params: z.object({ launchId: z.uuid() }),
    response: z.object({
      course: named,
      learner: z.string(),
      units: z.array(
        z.object({
          id,
          name: z.string(),
          activities: z.array(
            z.object({
              id,
              name: z.string(),
              scored: z.boolean(),
              finishedBy: finishing.finishedBy.unwrap(),
              /** What is to be read or opened for it; its file is fetched where it is ticked off. */
              content: z.object({ words: z.string(), link: z.string().nullable(), hasFile: z.boolean() }).nullable(),
              finished: z.boolean(),
              score: z.number().nullable(),
            }),
          ),
        }),
      ),
    }),
  },
});
