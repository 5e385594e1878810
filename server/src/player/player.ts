import { createHash, createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import path from 'node:path';
import express, { type Router } from 'express';
import { z } from 'zod';
import { ProblemError } from '../http/problem.ts';
import { sign } from '../http/signature.ts';
import { offeredCourses } from './catalogue.ts';
import { exercisesOf, exercisesPerActivity, mark } from './exercises.ts';

const token = z.uuid();
const answers = z.strictObject({
  activityId: z.number().int().positive(),
  answers: z.array(z.number().int().min(-1).max(9)).length(exercisesPerActivity).optional(),
  /** When it was begun, as this server gave it. */
  begun: z.string().max(200).optional(),
});

/**
 * The stand-in for an outside course platform. It knows of Gate Roster only its address and its own key,
 * reports over HTTP, and never reads the cookies that come with a request.
 */
export function player({ gateRoster, secret, pageFolder }: { gateRoster: () => string; secret: string; pageFolder: string }): Router {
  const router = express.Router();
  router.use(express.static(pageFolder, { index: 'index.html', cacheControl: false }));

  // What Gate Roster fetches when it looks for courses: with a key of its own.
  router.get('/courses', (request, response) => {
    const given = createHash('sha256')
      .update(request.get('authorization') ?? '')
      .digest();
    const right = createHash('sha256')
      .update(`Bearer ${feedKeyOf(secret)}`)
      .digest();
    if (!timingSafeEqual(given, right)) throw new ProblemError('bad-signature');
    response.json({ courses: offeredCourses });
  });

  router.get('/course', async (request, response) => {
    response.json(await ask('GET', `/api/v1/source/launches/${launchOf(request.get('x-launch'))}`));
  });

  router.get('/activities/:id', (request, response) => {
    const launch = launchOf(request.get('x-launch'));
    response.json({
      begun: stamp(launch, request.params.id, new Date().toISOString()),
      exercises: exercisesOf(Number(request.params.id)).map(({ question, answers: offered }) => ({ question, answers: offered })),
    });
  });

  router.post('/finish', express.json({ limit: '10kb' }), async (request, response) => {
    const launch = launchOf(request.get('x-launch'));
    const done = answers.safeParse(request.body);
    if (!done.success) throw new ProblemError('bad-request');
    const seconds = secondsSince(launch, done.data);
    const scaled = done.data.answers ? mark(done.data.activityId, done.data.answers) : null;
    await ask('POST', '/api/v1/source/statements', [
      {
        id: randomUUID(),
        actor: { objectType: 'Agent', account: { homePage: gateRoster(), name: launch } },
        verb: { id: 'http://adlnet.gov/expapi/verbs/completed', display: { en: 'completed' } },
        object: { objectType: 'Activity', id: `${gateRoster()}/activities/${done.data.activityId}` },
        result: {
          completion: true,
          ...(seconds === null ? {} : { duration: `PT${seconds}S` }),
          ...(scaled === null ? {} : { score: { scaled } }),
        },
        timestamp: new Date().toISOString(),
      },
    ]);
    response.json({ score: scaled === null ? null : Math.round(scaled * 100) });
  });

  /** A moment that the page keeps and cannot alter. */
  function stamp(launch: string, activity: string, time: string): string {
    return `${time}/${sign(secret, { method: 'begun', path: activity, time, body: launch })}`;
  }

  function secondsSince(launch: string, { activityId, begun }: z.output<typeof answers>): number | null {
    const [time = ''] = begun?.split('/') ?? [];
    if (begun === undefined || begun !== stamp(launch, String(activityId), time)) return null;
    return Math.max(0, Math.round((Date.now() - Date.parse(time)) / 1000));
  }

  async function ask(method: 'GET' | 'POST', at: string, content?: unknown): Promise<unknown> {
    const body = content === undefined ? '' : JSON.stringify(content);
    const time = new Date().toISOString();
    const answer = await fetch(gateRoster() + at, {
      method,
      headers: {
        'X-Source': playerKey,
        'X-Time': time,
        'X-Signature': sign(secret, { method, path: at, time, body }),
        ...(content === undefined ? {} : { 'Content-Type': 'application/json' }),
      },
      ...(content === undefined ? {} : { body }),
    });
    if (answer.status === 404) throw new ProblemError('not-found');
    if (!answer.ok) throw new ProblemError('failed', {}, { cause: new Error(`Gate Roster answered ${answer.status}`) });
    return answer.json();
  }
  return router;
}

export const playerKey = 'player';

/** Opens the stand-in's list of courses. */
export const feedKeyOf = (secret: string): string => createHmac('sha256', secret).update('courses').digest('base64url');

export const pageFolderBeside = (folder: string): string => path.join(folder, 'page');

function launchOf(header: string | undefined): string {
  const launch = token.safeParse(header);
  if (!launch.success) throw new ProblemError('not-found');
  return launch.data;
}
