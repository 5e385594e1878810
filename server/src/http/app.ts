import { randomUUID } from 'node:crypto';
import connectPgSimple from 'connect-pg-simple';
import compression from 'compression';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import session from 'express-session';
import { sql } from 'drizzle-orm';
import { pinoHttp } from 'pino-http';
import { orderHandlers } from '../seats/order-routes.ts';
import { seatHandlers } from '../seats/routes.ts';
import { accessHandlers } from '../access/routes.ts';
import { helpHandlers } from '../accounts/help-routes.ts';
import { addressHandlers } from '../accounts/address-routes.ts';
import { accountHandlers } from '../accounts/routes.ts';
import { changeHandlers } from '../changes/routes.ts';
import { joinHandlers } from '../entry/join-routes.ts';
import { entryHandlers } from '../entry/routes.ts';
import { courseHandlers } from '../courses/routes.ts';
import { filterHandlers } from '../filters/routes.ts';
import { groupHandlers } from '../groups/routes.ts';
import { listHandlers } from '../people/lists.ts';
import { peopleHandlers } from '../people/routes.ts';
import { messageHandlers } from '../messages/routes.ts';
import { ruleHandlers } from '../rules/routes.ts';
import { splitHandlers } from '../splits/routes.ts';
import { letterHandlers } from '../letters/routes.ts';
import { postOffice } from '../letters/post-office.ts';
import { paymentService } from '../payment-service/service.ts';
import { player, playerKey } from '../player/player.ts';
import { periodHandlers } from '../periods/routes.ts';
import { progressHandlers } from '../progress/routes.ts';
import { resultFileHandlers } from '../progress/result-files.ts';
import { takeAwayHandlers } from '../progress/take-away-routes.ts';
import { viewHandlers } from '../progress/view-routes.ts';
import { sourceHandlers } from '../progress/source-routes.ts';
import { platformHandlers } from '../standards/platform-routes.ts';
import { statementHandlers } from '../standards/statement-routes.ts';
import { statementBodies } from '../standards/statement-source.ts';
import { sourceBodies } from './signed-source.ts';
import { lockWait } from '../changes/roster-lock.ts';
import { metrics } from '../metrics.ts';
import { readiness } from '../readiness.ts';
import type { Deps } from './deps.ts';
import { type Handlers, register } from './handle.ts';
import { openApi, openApiPage } from './openapi.ts';
import { asProblem, notFound, ProblemError } from './problem.ts';
import { seldom } from './seldom.ts';
import { originCheck, securityHeaders } from './security.ts';
import { certificateHandlers } from '../certificates/routes.ts';
import { webApp } from './web-app.ts';
import { workHandlers } from '../work/routes.ts';

export interface AppSecrets {
  session: string;
  player: string;
  payments: string;
}

const sessionHours = 12;
const touchMilliseconds = 60_000;

export interface AppParts {
  /** Where the course player's pages lie. */
  playerPages: string;
  /** A worker answers only whether it lives, is ready, and its numbers. */
  isWeb: boolean;
  metricsKey: string | undefined;
}

/** A session lasts from its last use; that it is used is written once a minute, and not with every request, which waits for it. */
function seldomTouched(Store: ReturnType<typeof connectPgSimple>): ReturnType<typeof connectPgSimple> {
  const isDue = seldom(touchMilliseconds);
  return class extends Store {
    override touch(id: string, data: session.SessionData, done?: () => void): void {
      if (isDue(id)) super.touch(id, data, done);
      else done?.();
    }
  };
}

export function makeApp(deps: Deps, secrets: AppSecrets, { playerPages, isWeb, metricsKey }: AppParts): Express {
  const { settings, log } = deps;
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', settings.trustProxy);
  app.set('query parser', 'simple');
  app.use((_request, _response, next) => {
    lockWait.run({ milliseconds: 0 }, next);
  });
  app.use(
    pinoHttp({
      logger: log,
      autoLogging: { ignore: (request) => quietPaths.includes(request.url ?? '') },
      genReqId: () => randomUUID(),
      // Asked twice, before and after; who calls is known only then.
      customProps: (request, response) =>
        response.headersSent
          ? { actorId: (request as Request).actorId, lockWait: Math.round(lockWait.getStore()?.milliseconds ?? 0) }
          : { callId: request.id },
      // Paths only: a query may hold a name somebody searched for, and headers hold the session.
      serializers: {
        req: (request: { method: string; url: string }) => ({ method: request.method, path: request.url.split('?')[0] }),
        res: (response: { statusCode: number }) => ({ status: response.statusCode }),
      },
      customLogLevel: (_request, response, error) => (error || response.statusCode >= 500 ? 'error' : 'info'),
    }),
  );
  app.use(securityHeaders(settings));
  app.use(
    // A report of a megabyte: at the usual level 6 for twice as long, and an eighth smaller.
    compression({
      level: 3,
      filter: (request, response) => !request.path.startsWith('/api/v1/live') && compression.filter(request, response),
    }),
  );
  if (metricsKey !== undefined) app.get('/metrics', metrics(deps, metricsKey));
  // Before the session: the player neither needs nor sees who is signed in.
  if (settings.postOffice) app.use('/post', postOffice(deps.db));
  if (settings.postOffice) app.use('/payment-service', paymentService({ gateRoster: () => settings.publicUrl, secret: secrets.payments }));
  app.use('/player', player({ gateRoster: () => settings.publicUrl, secret: secrets.player, pageFolder: playerPages }));

  const api = express.Router();
  api.use(originCheck(settings));
  sourceBodies(api);
  if (isWeb) statementBodies(api, deps);
  const Store = seldomTouched(connectPgSimple(session));
  api.use(
    '/api/v1',
    session({
      store: new Store({
        pool: deps.pool,
        tableName: 'session',
        createTableIfMissing: false,
        errorLog: (...parts: unknown[]) => {
          log.warn({ parts }, 'session store');
        },
      }),
      name: 'gate-roster',
      secret: secrets.session,
      resave: false,
      saveUninitialized: false,
      rolling: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: settings.isSecure, maxAge: sessionHours * 3_600_000 },
    }),
  );
  register(api, deps, {
    ...systemHandlers(deps, isWeb),
    ...(isWeb ? roomHandlers(deps) : {}),
  });
  if (isWeb) {
    api.get('/api/openapi.json', (_request, response) => {
      response.json(openApi());
    });
    api.get('/api', (_request, response) => {
      response.type('html').send(openApiPage());
    });
  }
  app.use(api);
  if (isWeb && settings.webFolder) app.use(webApp(settings.webFolder));
  app.use(() => {
    throw notFound();
  });
  app.use((error: unknown, request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = asProblem(error);
    if (problem.code === 'failed') log.error({ err: withoutParameters(problem.cause ?? problem), path: request.path }, 'a request failed');
    if (problem.details.retryAfter) response.setHeader('Retry-After', String(problem.details.retryAfter));
    response
      .status(problem.toJson().status)
      .setHeader('Cache-Control', 'no-store')
      .type('application/problem+json')
      .send(JSON.stringify(problem.toJson()));
  });
  return app;
}

const whatIsMissing = (state: Record<string, boolean>): { place: string; what: string }[] =>
  Object.entries(state).flatMap(([place, holds]) => (holds ? [] : [{ place, what: 'not yet' }]));

/** What is logged of an error: a statement's parameters hold names that somebody searched for. */
function withoutParameters(error: unknown): unknown {
  if (!(error instanceof Error)) return error;
  const { message, stack = '', name, cause } = error;
  const cut = (text: string): string => text.replace(/\nparams: [^\n]*/gu, '');
  const { code, constraint } = error as { code?: unknown; constraint?: unknown };
  return {
    type: name,
    message: cut(message),
    stack: cut(stack),
    code,
    constraint,
    cause: cause === undefined ? undefined : withoutParameters(cause),
  };
}

const roomHandlers = (deps: Deps): Handlers => ({
  ...accountHandlers(deps),
  ...addressHandlers(deps),
  ...helpHandlers(deps),
  ...listHandlers(deps),
  ...groupHandlers(deps),
  ...peopleHandlers(deps),
  ...filterHandlers(deps),
  ...accessHandlers(deps),
  ...seatHandlers(deps),
  ...orderHandlers(deps),
  ...changeHandlers(deps),
  ...progressHandlers(deps),
  ...takeAwayHandlers(deps),
  ...resultFileHandlers(deps),
  ...viewHandlers(deps),
  ...courseHandlers(deps),
  ...entryHandlers(deps),
  ...joinHandlers(deps),
  ...letterHandlers(deps),
  ...messageHandlers(deps),
  ...ruleHandlers(deps),
  ...splitHandlers(deps),
  ...periodHandlers(deps),
  ...sourceHandlers(deps),
  ...statementHandlers(deps),
  ...platformHandlers(deps),
  ...workHandlers(deps),
  ...certificateHandlers(deps),
});

/** Asked every few seconds by whatever watches the process. */
const quietPaths = ['/api/health', '/api/ready', '/metrics'];

function systemHandlers(deps: Deps, isWeb: boolean): Handlers {
  return {
    async health() {
      await deps.db.execute(sql`select 1`);
      return { ok: true };
    },
    async ready() {
      const state = { ...(await readiness(deps.db, deps.now())), listening: !isWeb || deps.streams.isListening };
      if (Object.values(state).includes(false)) throw new ProblemError('not-ready', { where: whatIsMissing(state) });
      return { ready: true };
    },
    async live({ actor, response }) {
      await deps.streams.add(actor, response);
      return undefined;
    },
  };
}

export { playerKey };
