import {
  type Answer,
  type Given,
  type Route,
  routes,
  type RouteName,
  type Routes,
  type AskedChange,
  type Problem,
} from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import pg from 'pg';
import type { Deps } from '../http/deps.ts';
import { readEnvironment } from '../environment.ts';
import { serve } from '../serve.ts';

export const metricsKey = 'metrics-key-of-the-tests';
export const demoPassword = 'lantern-over-water';

/** A caller with a session of their own. */
export interface Client {
  /** @throws Error with the status and problem when the answer is not a success. */
  call: <N extends RouteName>(name: N, given: Given<Routes[N]>) => Promise<Answer<Routes[N]>>;
  /** The bare answer, for refusals. */
  send: (
    name: RouteName,
    given?: { params?: unknown; query?: unknown; body?: unknown; headers?: Record<string, string> },
  ) => Promise<Response>;
  /** Looks at a change and applies what was seen. */
  apply: (change: AskedChange) => Promise<Answer<Routes['apply']>>;
}

export interface Site {
  url: string;
  deps: Deps;
  databaseUrl: string;
  as: (signInName: string | null) => Promise<Client>;
  /** Somebody without a password gets one. */
  letIn: (signInName: string) => Promise<Client>;
  stop: () => Promise<void>;
}

/** A server of its own on a fresh copy of the demo world, or of an empty database. */
export async function startSite({
  template = 'demo_template',
  now,
  through,
}: { template?: 'demo_template' | 'empty_template'; now?: () => Date; through?: (url: string) => Promise<string> } = {}): Promise<Site> {
  const system = process.env['TEST_POSTGRES'] ?? '';
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  await execute(system, `create database ${name} template ${template}`);
  const url = new URL(system);
  url.pathname = `/${name}`;
  const running = await serve(
    readEnvironment({
      DATABASE_URL: through ? await through(url.href) : url.href,
      PORT: '0',
      POST_OFFICE: 'open',
      LOG_LEVEL: process.env['LOG_LEVEL'] ?? 'silent',
      METRICS_KEY: metricsKey,
      WEB_FOLDER: '',
      PLAYER_PAGES: path.join(import.meta.dirname, '../player/page'),
    }),
    now ? { now } : {},
  );
  const as = async (signInName: string | null): Promise<Client> => {
    const client = makeClient(running.url);
    if (signInName !== null) await client.call('signIn', { body: { signInName, password: demoPassword } });
    return client;
  };
  return {
    url: running.url,
    deps: running.deps,
    databaseUrl: url.href,
    as,
    async letIn(signInName) {
      await execute(
        url.href,
        `insert into credential (person_id, password_hash) select n.person_id, (select password_hash from credential limit 1) from personal_now n where n.sign_in_name = '${signInName}' on conflict do nothing`,
      );
      return as(signInName);
    },
    async stop() {
      await running.stop();
      await pools.get(url.href)?.end();
      pools.delete(url.href);
    },
  };
}

/** Connections past the server, kept from call to call: making one takes longer than most statements. */
const pools = new Map<string, pg.Pool>();

export async function execute<T extends object>(url: string, text: string, values: unknown[] = []): Promise<T[]> {
  let pool = pools.get(url);
  if (!pool) {
    pool = new pg.Pool({ connectionString: url, max: 3, idleTimeoutMillis: 2000, allowExitOnIdle: true, options: '-c jit=off' });
    // Some tests take the database away.
    pool.on('error', () => undefined);
    pools.set(url, pool);
  }
  return (await pool.query(text, values)).rows as T[];
}

/** What is refused as busy is sent again after the time that was asked for, as the browser does. */
const mostTries = 20;

/** A caller of a server at this address; without a session yet. */
export function makeClient(url: string): Client {
  let cookie = '';
  const send: Client['send'] = async (name, { params, query, body, headers = {} } = {}) => {
    const route: Route = routes[name];
    const at = route.path.replace(/:(\w+)/gu, (_, key: string) => String((params as Record<string, string | number>)[key]));
    const search = new URLSearchParams(
      Object.entries((query ?? {}) as Record<string, string | number>).map(([key, value]): [string, string] => [key, String(value)]),
    );
    const answer = await fetch(`${url}${at}${search.size > 0 ? `?${search.toString()}` : ''}`, {
      method: route.method,
      headers: { ...(cookie ? { cookie } : {}), ...(body === undefined ? {} : { 'content-type': 'application/json' }), ...headers },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const [set] = answer.headers.getSetCookie();
    if (set) cookie = set.split(';')[0] ?? '';
    // The session is written before the last byte is sent, not before the head: the next call is made after that.
    if (!answer.headers.get('content-type')?.startsWith('text/event-stream')) await answer.clone().arrayBuffer();
    return answer;
  };
  const call: Client['call'] = async (name, given) => {
    const { method, response } = routes[name] as Route;
    const mayRepeat = method === 'GET' || 'requestId' in ((given as { body?: object }).body ?? {});
    let answer = await send(name, given);
    for (let n = 0; n < mostTries && mayRepeat && answer.status === 503; n++) {
      const { code, retryAfter = 1 } = (await answer.clone().json()) as Problem;
      if (code !== 'busy') break;
      await new Promise((resolve) => setTimeout(resolve, retryAfter * 1000));
      answer = await send(name, given);
    }
    if (!answer.ok) throw new Error(`${name}: ${answer.status} ${await answer.text()}`);
    return (
      response === 'nothing' ? undefined : response === 'csv' || response === 'calendar' ? await answer.text() : await answer.json()
    ) as never;
  };
  return {
    send,
    call,
    async apply(change) {
      const { digest } = await call('look', { body: { change } });
      return call('apply', { body: { change, digest, requestId: randomUUID() } });
    },
  };
}
