import type { Problem } from '@gate-roster/contract';

export interface Sent {
  method: string;
  path: string;
  body: unknown;
  /** Under which a write is known to the server. */
  key: string | null;
}

type Answered = { json: unknown } | { problem: Partial<Problem> & Pick<Problem, 'code'> } | 'no connection';

/**
 * Answers in place of the server: what is sent is noted, and answered by what is in the row, the last one again and again. @returns What was sent,
 * and how everything is as before.
 */
export function answerWith(...row: Answered[]): { sent: Sent[]; answerWith: (...row: Answered[]) => void; stop: () => void } {
  const sent: Sent[] = [];
  const { fetch } = globalThis;
  let left = row;
  globalThis.fetch = (async (address: string, { method = 'GET', body, headers, signal }: RequestInit) => {
    sent.push({
      method,
      path: address,
      body: typeof body === 'string' ? JSON.parse(body) : null,
      key: new Headers(headers).get('Idempotency-Key'),
    });
    const answer = left.length > 1 ? left.shift() : left[0];
    await new Promise((resolve) => setTimeout(resolve));
    signal?.throwIfAborted();
    if (answer === undefined || answer === 'no connection') throw new TypeError('no connection');
    if ('json' in answer) return Response.json(answer.json);
    return new Response(JSON.stringify(answer.problem), { status: 400, headers: { 'Content-Type': 'application/problem+json' } });
  }) as typeof fetch;
  return {
    sent,
    answerWith: (...next) => {
      left = next;
    },
    stop: () => {
      globalThis.fetch = fetch;
    },
  };
}
