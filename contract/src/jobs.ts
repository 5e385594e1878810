import { z } from 'zod';
import { change } from './changes.ts';
import { defineRoutes } from './route.ts';
import { id } from './shapes.ts';

/* What goes on without a browser having to wait: large changes, and files of many rows (take-away.ts). */

export const jobSheet = z.object({
  id: z.uuid(),
  state: z.enum(['waiting', 'done', 'failed', 'stopped']),
  done: z.number().int(),
  ofAll: z.number().int().nullable(),
  /** What came of it. */
  changeId: id.nullable(),
  newPeople: z.number().int(),
  /** The name of the file that it made. */
  fileName: z.string().nullable(),
  /** Why it failed: a code of the registry of problems. */
  problem: z.string().nullable(),
});
export type JobSheet = z.output<typeof jobSheet>;

export const jobRoutes = defineRoutes({
  startJob: {
    method: 'POST',
    path: '/api/v1/jobs',
    room: 'changes',
    who: 'leader',
    summary: 'Apply a large change that was looked at, without a browser having to wait',
    body: z.strictObject({ change, digest: z.string().max(100), requestId: z.uuid() }),
    response: z.object({ jobId: z.uuid() }),
  },
  job: {
    method: 'GET',
    path: '/api/v1/jobs/:jobId',
    room: 'changes',
    who: 'leader',
    summary: 'How far a job of one’s own is',
    params: z.object({ jobId: z.uuid() }),
    response: jobSheet,
  },
  stopJob: {
    method: 'DELETE',
    path: '/api/v1/jobs/:jobId',
    room: 'changes',
    who: 'leader',
    summary: 'Stop a job of one’s own that has not begun to write',
    params: z.object({ jobId: z.uuid() }),
    response: 'nothing',
  },
});
