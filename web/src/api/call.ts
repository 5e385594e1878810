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
  const response = await answerOf(name, given, signal);
  return (response.status === 204 ? undefined : await response.json()) as Answer<Routes[N]>;
}

/** The same for a route that answers with a file. @throws Failure */
export async function blobOf<N extends RouteName>(name: N, given: Given<Routes[N]>): Promise<Blob> {
  return (await answerOf(name, given)).blob();
}

async function answerOf<N extends RouteName>(name: N, given: Given<Routes[N]>, signal?: AbortSignal): Promise<Response> {
  for (let tries = 1; ; tries++) {
    const answer = await answerOnce(name, given, signal).catch((error: unknown) => error);
    if (answer instanceof Response) return answer;
    const isPassing = answer instanceof Failure && passing.has(answer.code) && mayRepeat(name, given);
    if (!isPassing || tries === mostTries) throw answer;
    await new Promise((resolve) => setTimeout(resolve, ((answer.problem?.retryAfter ?? 1) + Math.random()) * 1000));
    if (signal?.aborted) throw answer;
  }
}

/** The server asks to come again: it does by itself, as long as the same cannot take place twice. */
const passing: ReadonlySet<string> = new Set(['busy', 'database-away']);
const mostTries = 5;
const mayRepeat = (name: RouteName, given: object): boolean =>
  routes[name].method === 'GET' || 'requestId' in ((given as { body?: object }).body ?? {});

async function answerOnce<N extends RouteName>(name: N, given: Given<Routes[N]>, signal?: AbortSignal): Promise<Response> {
  const route = routes[name];
  const { body } = given as { body?: unknown };
  const response = await fetch(addressOf(name, given), {
    method: route.method,
    ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    ...(signal ? { signal } : {}),
  }).catch((error: unknown) => {
    if (signal?.aborted) throw error;
    throw new Failure('offline');
  });
  if (response.ok) return response;
  const problem = response.headers.get('content-type')?.includes('problem+json') ? ((await response.json()) as Problem) : null;
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
