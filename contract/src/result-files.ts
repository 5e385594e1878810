import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, id, idInPath, moment } from './shapes.ts';

/* Results of learners from a file (core, ResultRow): checked, brought in, taken back. */

export const mostResults = 5000;

const resultRow = z.strictObject({
  row: z.number().int().min(1).max(1_000_000),
  person: z.string().trim().min(1).max(320),
  course: z.string().trim().min(1).max(200),
  activity: z.string().trim().min(1).max(200).nullable(),
  finished: z.boolean(),
  day: day.nullable(),
  score: z.number().min(0).max(100).nullable(),
});

const results = z.array(resultRow).min(1).max(mostResults);

export const resultTroubles = [
  'nobody',
  'several people',
  'no such course',
  'no such activity',
  'not by the player',
  'day to come',
  'not open',
] as const;
export type ResultTrouble = (typeof resultTroubles)[number];

const resultFile = z.object({
  id,
  name: z.string(),
  by: z.string(),
  at: moment,
  rows: z.number().int(),
  takenBackAt: moment.nullable(),
});
export type ResultFile = z.output<typeof resultFile>;

export const resultFileRoutes = defineRoutes({
  checkResults: {
    method: 'POST',
    path: '/api/v1/results/check',
    room: 'progress',
    who: 'administrator',
    summary: 'What lines of results would do: whom they are about, and which of them cannot count',
    body: z.strictObject({ rows: results }),
    response: z.object({
      /** Lines that would count, and people they are about. */
      counts: z.number().int(),
      people: z.number().int(),
      troubles: z.array(z.object({ row: z.number().int(), code: z.enum(resultTroubles) })),
    }),
  },
  takeResults: {
    method: 'POST',
    path: '/api/v1/results',
    room: 'progress',
    who: 'administrator',
    once: true,
    summary: 'Bring in lines of results; those that cannot count are left out',
    body: z.strictObject({ name: z.string().trim().min(1).max(200), rows: results }),
    response: z.object({ fileId: id, counts: z.number().int() }),
  },
  resultFiles: {
    method: 'GET',
    path: '/api/v1/results',
    room: 'progress',
    who: 'administrator',
    summary: 'Files of results that were brought in, the latest first',
    response: z.object({ files: z.array(resultFile) }),
  },
  takeBackResults: {
    method: 'DELETE',
    path: '/api/v1/results/:fileId',
    room: 'progress',
    who: 'administrator',
    once: true,
    summary: 'Take back all that a file brought; what was done otherwise too stays done',
    params: z.object({ fileId: idInPath }),
    response: 'nothing',
  },
});
