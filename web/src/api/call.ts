import type { Answer, Given, Problem, RouteName, Routes } from '@gate-roster/contract';
import { routes } from 'virtual:route-table';

/** A named failure that the server told of, or `offline` when it could not be reached. */
export class Failure extends Error {
  readonly code: Problem['code'] | 'offline';
  readonly problem: Problem | null;

  constructor(code: Failure['code'], problem: Problem | null = null) {
    super(code);
    this.code = code;
    this.problem = problem;
  }
}

/** Calls a route of the contract. @throws Failure */
export async function call<N extends RouteName>(name: N, given: Given<Routes[N]>, signal?: AbortSignal): Promise<Answer<Routes[N]>> {
  const text = await answerOf(name, given, async (response) => response.text(), signal);
  return (text ? JSON.parse(text) : undefined) as Answer<Routes[N]>;
}

/** The same for a route that answers with a file. @throws Failure */
export async function blobOf<N extends RouteName>(name: N, given: Given<Routes[N]>): Promise<Blob> {
  return answerOf(name, given, async (response) => response.blob());
}

/** The answer, read to its last byte: a server that is stopped in the middle may have sent the head only. */
async function answerOf<N extends RouteName, T>(
  name: N,
  given: Given<Routes[N]>,
  read: (response: Response) => Promise<T>,
  signal?: AbortSignal,
): Promise<T> {
  const sent = routes[name].once ? JSON.stringify([name, given]) : '';
  const key = routes[name].once ? (unanswered.get(sent) ?? crypto.randomUUID()) : null;
  unanswered.delete(sent);
  for (let tries = 1; ; tries++) {
    try {
      return await answerOnce(name, given, read, { signal, key });
    } catch (error) {
      // Nobody knows whether it took place: sent once more by hand, it goes under the same key.
      if (key !== null && error instanceof Failure && error.code === 'offline') unanswered.set(sent, key);
      if (!(error instanceof Failure) || tries === mostTries || !mayRepeat(name, given, error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, ((error.problem?.retryAfter ?? 1) + Math.random()) * 1000));
      if (signal?.aborted) throw error;
    }
  }
}

/** Keys of what was sent without an answer, by what was sent. */
const unanswered = new Map<string, string>();
const mostTries = 5;
/** The server asks to come again, or could not be reached: it is sent again by itself, as long as the same cannot take place twice. */
function mayRepeat(name: RouteName, given: object, { code }: Failure): boolean {
  const hasId = routes[name].once === true || 'requestId' in ((given as { body?: object }).body ?? {});
  if (code === 'offline') return hasId;
  return (code === 'busy' || code === 'database-away') && (hasId || routes[name].method === 'GET');
}

async function answerOnce<N extends RouteName, T>(
  name: N,
  given: Given<Routes[N]>,
  read: (response: Response) => Promise<T>,
  { signal, key }: { signal: AbortSignal | undefined; key: string | null },
): Promise<T> {
  const route = routes[name];
  const { body } = given as { body?: unknown };
  const cutOff = (error: unknown): never => {
    if (signal?.aborted) throw error;
    throw new Failure('offline');
  };
  const response = await fetch(addressOf(name, given), {
    method: route.method,
    headers: { ...(body === undefined ? {} : { 'Content-Type': 'application/json' }), ...(key === null ? {} : { 'Idempotency-Key': key }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    ...(signal ? { signal } : {}),
  }).catch(cutOff);
  if (response.ok) return read(response).catch(cutOff);
  const isProblem = response.headers.get('content-type')?.includes('problem+json');
  const problem = isProblem ? ((await response.json().catch(cutOff)) as Problem) : null;
  throw new Failure(problem?.code ?? (response.status >= 500 ? 'offline' : 'failed'), problem);
}

/** The address of a route, with its parameters filled in. */
export function addressOf<N extends RouteName>(name: N, given: Given<Routes[N]>): string {
  const { params = {}, query = {} } = given as {
    params?: Record<string, string | number>;
    query?: Record<string, string | number | undefined>;
  };
  const path = routes[name].path.replace(/:(\w+)/gu, (_, key: string) => encodeURIComponent(String(params[key])));
  const search = new URLSearchParams(
    Object.entries(query).flatMap(([key, value]) => (value === undefined || value === '' ? [] : [[key, String(value)]])),
  );
  return search.size > 0 ? `${path}?${search.toString()}` : path;
}
