import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { answerWith } from '../testing/answers.ts';
import { addressOf, call, Failure } from './call.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
  // It waits as long as the server asked, and a little at random on top.
  jest.spyOn(Math, 'random').mockReturnValue(0);
});
afterEach(() => {
  server.stop();
  jest.restoreAllMocks();
});
const busy = { problem: { code: 'busy', retryAfter: 0 } } as const;
const failureOf = async (asked: Promise<unknown>): Promise<Failure> => {
  const error: unknown = await asked.then(
    () => null,
    (why: unknown) => why,
  );
  if (!(error instanceof Failure)) throw new Error('it should have failed');
  return error;
};

test('what is only read is asked for again by itself while the server is busy, and not for ever', async () => {
  server.answerWith(busy, busy, { json: { groups: [] } });
  expect(await call('treeProgress', {})).toEqual({ groups: [] });
  expect(server.sent).toHaveLength(3);
  server.answerWith(busy);
  expect((await failureOf(call('treeProgress', {}))).code).toBe('busy');
  expect(server.sent).toHaveLength(8);
});

test('what would take place twice is sent again under the same key only; sent by hand after a cut connection it goes under it, too', async () => {
  jest.useFakeTimers({ advanceTimers: 200 });
  server.answerWith('no connection');
  const list = { body: { name: 'Night shift', personIds: [4] } };
  expect((await failureOf(call('makeList', list))).code).toBe('offline');
  const keys = new Set(server.sent.map(({ key }) => key));
  expect([server.sent.length, keys.size, [...keys][0]?.length]).toEqual([5, 1, 36]);
  server.answerWith({ json: { id: 3 } });
  await call('makeList', { body: { ...list.body, name: 'Day shift' } });
  await call('makeList', list);
  await call('makeList', list);
  const [other, again, later] = server.sent.slice(5).map(({ key }) => key);
  expect([keys.has(again ?? ''), keys.has(other ?? ''), keys.has(later ?? '')]).toEqual([true, false, false]);
  jest.useRealTimers();
});

test('a change carries its own number, so it is sent again; a sign-in is not, when nobody knows whether it arrived', async () => {
  jest.useFakeTimers({ advanceTimers: 200 });
  server.answerWith('no connection', { json: { changeId: 8 } });
  const change = { kind: 'undo', changeId: 3 } as const;
  await call('apply', { body: { change, digest: 'd', requestId: 'ab' } });
  expect(server.sent.map(({ body }) => body)).toEqual([
    { change, digest: 'd', requestId: 'ab' },
    { change, digest: 'd', requestId: 'ab' },
  ]);
  server.answerWith('no connection');
  expect((await failureOf(call('signIn', { body: { signInName: 'ada', password: 'word' } }))).code).toBe('offline');
  expect(server.sent).toHaveLength(3);
  jest.useRealTimers();
});

test('a refusal is not tried again, and says what the server said', async () => {
  server.answerWith({ problem: { code: 'not-found', title: 'No' } });
  const failure = await failureOf(call('treeProgress', {}));
  expect([failure.code, failure.problem?.title, server.sent.length]).toEqual(['not-found', 'No', 1]);
});

test('an address holds its parameters as one part each, and leaves out what was not asked', () => {
  expect(addressOf('group', { params: { groupId: 7 }, query: { subgroups: 'yes' } })).toMatch(/\/7\?subgroups=yes$/u);
  expect(addressOf('job', { params: { jobId: 'a/../b c' } })).toMatch(/\/a%2F\.\.%2Fb%20c$/u);
  expect(addressOf('find', { query: { words: '' } } as never)).not.toContain('?');
});
