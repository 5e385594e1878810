import { z } from 'zod';
import { countedOn } from './progress-shapes.ts';
import { learnerSort, reportQuery, rowsQuery } from './report-query.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, idInPath } from './shapes.ts';

/* Views of progress as files: what is shown, under the filter that is set, with what was asked in it. */

/** Views that have a file. */
export const takenViews = ['groups', 'learners', 'course', 'beside'] as const;
export type TakenView = (typeof takenViews)[number];

/** So many rows are answered with at once; a file of more is made as a job. */
export const mostRowsAtOnce = 10_000;

const takenQuery = rowsQuery.extend({
  view: z.enum(takenViews),
  groups: z.string().max(200).optional(),
  count: countedOn,
  courseId: idInPath.optional(),
  sort: learnerSort,
  /** The filter in words, as the reader was shown it. */
  says: z.string().max(2000).optional(),
});

export const takeAwayRoutes = defineRoutes({
  progressInsideFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/inside.csv',
    room: 'progress',
    who: 'leader',
    summary: 'Inside one course as a CSV file: everybody who fits the filter, a column for each activity',
    params: groupParams,
    query: reportQuery.extend({ courseId: idInPath.optional() }),
    response: 'csv',
  },
  progressLearnersFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/learners.csv',
    room: 'progress',
    who: 'leader',
    summary: 'Learner by course as a CSV file: everybody who fits the filter',
    params: groupParams,
    query: reportQuery.extend({ sort: learnerSort }),
    response: 'csv',
  },
  progressFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.csv',
    room: 'progress',
    who: 'leader',
    summary: 'The same numbers as a CSV file',
    params: groupParams,
    query: rowsQuery,
    response: 'csv',
  },
  progressWorkbook: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.xlsx',
    room: 'progress',
    who: 'leader',
    summary: 'A view of progress as a workbook, with what was asked on a sheet of its own',
    params: groupParams,
    /** `sheets`: one for each group that has learners of its own, beside the one of the whole scope. */
    query: takenQuery.extend({ sheets: z.enum(['one', 'groups']).default('one') }),
    response: 'file',
  },
  progressJson: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.json',
    room: 'progress',
    who: 'leader',
    summary: 'A view of progress as JSON: what was asked, and a row for each line',
    params: groupParams,
    query: takenQuery,
    response: z.object({
      about: z.object({
        group: z.string(),
        subgroups: z.boolean(),
        day,
        view: z.enum(takenViews),
        filter: z.array(z.unknown()),
        says: z.string(),
        takenBy: z.string(),
      }),
      columns: z.array(z.string()),
      rows: z.array(z.record(z.string(), z.union([z.string(), z.number(), z.null()]))),
    }),
  },
  progressPdf: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.pdf',
    room: 'progress',
    who: 'leader',
    summary: 'A view of progress on paper, with its charts',
    params: groupParams,
    query: takenQuery.extend({ paper: z.enum(['A4', 'Letter']).default('A4') }),
    response: 'file',
  },
});

export const fileNames = [
  'progressFile',
  'progressLearnersFile',
  'progressInsideFile',
  'progressWorkbook',
  'progressJson',
  'progressPdf',
] as const satisfies readonly (keyof typeof takeAwayRoutes)[];
export type FileName = (typeof fileNames)[number];

/** Files of more rows than are answered with at once. */
export const madeFileRoutes = defineRoutes({
  startFile: {
    method: 'POST',
    path: '/api/v1/groups/:groupId/progress/files',
    room: 'progress',
    who: 'leader',
    summary: 'Make as a job what one of the routes for files would answer with; the same request id is one job',
    params: groupParams,
    body: z.strictObject({ file: z.enum(fileNames), query: z.record(z.string().max(40), z.string().max(20_000)), requestId: z.uuid() }),
    response: z.object({ jobId: z.uuid() }),
  },
  madeFile: {
    method: 'GET',
    path: '/api/v1/jobs/:jobId/file',
    room: 'progress',
    who: 'leader',
    summary: 'The file that a job of one’s own has made; it is kept for a day',
    params: z.object({ jobId: z.uuid() }),
    response: 'file',
  },
});
