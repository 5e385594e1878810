import { type Answer, type Received, type Route, routes, type RouteName, type Routes, type SentFile } from '@gate-roster/contract';
import type { Request, Response, Router } from 'express';
import { z } from 'zod';
import { actorOf, type SignedIn } from '../accounts/actor.ts';
import type { Deps } from './deps.ts';
import { onceByKey, outsideRequest } from '../changes/outside-request.ts';
import { notFound, ProblemError } from './problem.ts';
import { checkText, readBody } from './read-body.ts';

declare module 'express-serve-static-core' {
  interface Request {
    /** Who calls, for the log. */
    actorId?: number;
  }
}

export interface Call<R extends Route> extends Received<R> {
  deps: Deps;
  request: Request;
  response: Response;
  /** Whoever calls; on routes for anyone, nobody. */
  actor: R['who'] extends 'anyone' | 'source' ? null : SignedIn;
}

export type Handler<N extends RouteName> = (call: Call<Routes[N]>) => Promise<Answer<Routes[N]>>;
export type Handlers = { [N in RouteName]?: Handler<N> };

const wideRoutes: readonly RouteName[] = [
  'look',
  'apply',
  'lookPeople',
  'makeList',
  'leaveList',
  'rosterKnown',
  'putRosterPart',
  'startJob',
  'checkResults',
  'takeResults',
];

const uploads: readonly RouteName[] = ['upload', 'addWorkFile'];

/** Hangs handlers on their routes: who may call, parsing of what comes in, shape of what goes out. */
export function register(router: Router, deps: Deps, handlers: Handlers): void {
  for (const [name, handler] of Object.entries(handlers) as [RouteName, Handler<RouteName>][]) {
    const route: Route = routes[name];
    const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
    router[method](route.path, async (request, response) => {
      const actor = route.who === 'anyone' || route.who === 'source' ? null : await actorOf(deps, request);
      if (actor) request.actorId = actor.personId;
      if (actor && !isCaller(route, actor)) throw notFound();
      if (actor && actor.onlyIn !== null && !ofCards.includes(name)) throw notFound();
      if (actor?.seenBy && isKeptFromLooking(name, route)) throw new ProblemError('looking-only');
      const limit = uploads.includes(name) ? 'upload' : wideRoutes.includes(name) ? 'wide' : 'ordinary';
      if (route.body && route.who !== 'source') request.body = await readBody(request, response, limit);
      checkText(request.params, 'path');
      checkText(request.query, 'query');
      const input = {
        params: parse(route.params, request.params, 'path', 'not-found'),
        query: parse(route.query, request.query, 'query'),
        body: parse(route.body, request.body as unknown, 'body'),
      };
      const run = (): Promise<unknown> =>
        (handler as unknown as (call: unknown) => Promise<unknown>)({ ...input, deps, request, response, actor });
      const key = route.once && actor ? keyOf(request) : null;
      const sent = { name, by: actor?.personId, params: input.params, body: input.body };
      send(route, response, key === null ? await run() : await onceByKey(deps.db, outsideRequest(deps.requestKey, key, sent), run));
    });
  }
}

/** @throws ProblemError `bad-request` for a key that is no UUID. */
function keyOf(request: Request): string | null {
  const key = request.get('idempotency-key');
  if (key === undefined) return null;
  if (!z.uuid().safeParse(key).success)
    throw new ProblemError('bad-request', { where: [{ place: 'Idempotency-Key', what: 'A UUID, please' }] });
  return key;
}

/** All that a lasting card opens. */
const ofCards: readonly RouteName[] = [
  'me',
  'myCourses',
  'myWork',
  'saveWork',
  'addWorkFile',
  'removeWorkFile',
  'takeBackWork',
  'tickActivity',
  'mySkills',
  'myInvitations',
  'myRequests',
  'launch',
  'live',
  'signOut',
  'groupPicture',
  'handoutFile',
];

function isCaller(route: Route, actor: SignedIn): boolean {
  if (route.who === 'signed in' || actor.role === 'administrator') return true;
  return route.who === 'leader' && actor.leaderships.length > 0;
}

/** Whoever looks as somebody else changes nothing, takes nothing away and signs in nowhere. */
function isKeptFromLooking(name: RouteName, route: Route): boolean {
  if (name === 'personFile' || route.response === 'csv' || route.response === 'file') return name !== 'groupPicture';
  return route.method !== 'GET' && !(['look', 'lookPeople', 'stopSeeing', 'signOut'] as RouteName[]).includes(name);
}

function parse(schema: z.ZodType | undefined, value: unknown, part: string, code: 'bad-request' | 'not-found' = 'bad-request'): unknown {
  if (!schema) return undefined;
  const result = schema.safeParse(value ?? {});
  if (result.success) return result.data;
  if (code === 'not-found') throw notFound();
  throw new ProblemError('bad-request', {
    where: result.error.issues.slice(0, 20).map((issue) => ({ place: [part, ...issue.path].join('.'), what: issue.message })),
  });
}

function send(route: Route, response: Response, answer: unknown): void {
  if (route.response === 'events') return;
  response.setHeader('Cache-Control', 'no-store');
  if (route.response === 'nothing') response.status(204).end();
  else if (route.response === 'csv') {
    response.setHeader('Content-Type', 'text/csv; charset=utf-8');
    if (!response.hasHeader('Content-Disposition')) response.setHeader('Content-Disposition', 'attachment');
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.send(answer);
  } else if (route.response === 'calendar') {
    response.setHeader('Content-Type', 'text/calendar; charset=utf-8');
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.send(answer);
  } else if (route.response === 'file') {
    const { fileName, mimeType, isPicture, content } = answer as SentFile;
    response.setHeader('Content-Type', isPicture ? mimeType : 'application/octet-stream');
    response.setHeader('Content-Disposition', `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(fileName)}`);
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.send(Buffer.from(content));
  } else response.json(process.env['NODE_ENV'] === 'test' ? route.response.parse(answer) : answer);
}
