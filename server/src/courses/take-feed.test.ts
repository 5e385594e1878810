import type { Change } from '@gate-roster/contract';
import { once } from 'node:events';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Courses that come from the course platform: looked at, taken, taken back; and whatever else a platform may answer. */

let site: Site;
let mirela: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const names = async (): Promise<string[]> =>
  (await execute<{ name: string }>(site.databaseUrl, `select name from course_now where not archived order by name`)).map(
    ({ name }) => name,
  );
const unitsOf = async (course: string): Promise<{ id: number; name: string }[]> =>
  execute(
    site.databaseUrl,
    `select u.id::int, u.name from unit_now u join course_now c on c.id = u.course_id where c.name = '${course}' order by u.position`,
  );
const problemOf = async (answer: Response): Promise<[number, string]> => [answer.status, ((await answer.json()) as { code: string }).code];

test('the stand-in offers new, changed and the same, and one no more; all of it is taken as one change, once, and can be taken back', async () => {
  const before = { names: await names(), units: await unitsOf('VHF radio') };
  const checked = await mirela.call('checkFeed', {});
  expect(checked.fresh.map(({ name }) => name)).toEqual(['Rope rescue', 'Reading the tide']);
  expect(checked.changed).toMatchObject([
    {
      course: { name: 'VHF radio' },
      fields: ['units'],
      unitsMade: ['Calling a group'],
      unitsRenamed: [{ from: 'Distress', to: 'Distress and urgency' }],
      activitiesRenamed: 2,
      unitsGone: [],
      activitiesMade: 2,
      activitiesGone: 0,
    },
  ]);
  expect(checked.gone.map(({ name }) => name)).toEqual(['Knots and lines']);
  const take: Change = {
    kind: 'take-feed',
    feedId: checked.feedId,
    take: [...checked.fresh, ...checked.changed].map(({ number }) => number),
    archive: checked.gone.map(({ id }) => id),
  };
  const looked = await mirela.call('look', { body: { change: take } });
  expect(looked.conflicts).toEqual([]);
  const { changeId } = await mirela.apply(take);
  expect(await names()).toEqual([...before.names.filter((name) => name !== 'Knots and lines'), 'Rope rescue', 'Reading the tide'].sort());
  const [, , distress, , made] = await unitsOf('VHF radio');
  expect([distress, made?.name]).toEqual([{ id: before.units[2]?.id, name: 'Distress and urgency' }, 'Calling a group']);
  const again = await mirela.call('checkFeed', {});
  expect(again.counts).toEqual({ fresh: 0, changed: 0, gone: 0, same: 4 });
  // What was looked at before is done: the same answer of the platform gives nothing more.
  expect((await mirela.call('look', { body: { change: take } })).conflicts.map(({ code }) => code)).toEqual([
    'gone since',
    'nothing to do',
  ]);
  await mirela.apply({ kind: 'undo', changeId });
  expect({ names: await names(), units: await unitsOf('VHF radio') }).toEqual(before);
  const third = await mirela.call('checkFeed', {});
  expect(third.counts).toEqual(checked.counts);
  await mirela.apply({ ...take, feedId: third.feedId });
  expect((await mirela.call('checkFeed', {})).counts.same).toBe(4);
});

test('a platform that does not answer, refuses, answers half or nonsense alters nothing and says so; one broken course keeps no other out', async () => {
  let answer: (response: http.ServerResponse) => void = () => undefined;
  const asked: (string | undefined)[] = [];
  const platform = http.createServer((request, response) => {
    asked.push(request.headers.authorization);
    answer(response);
  });
  await once(platform.listen(0, '127.0.0.1'), 'listening');
  const url = `http://127.0.0.1:${(platform.address() as AddressInfo).port}/courses`;
  Object.assign(site.deps.settings, { courseFeed: { url, key: 'a-key-of-the-platform' } });
  const before = await names();
  const bad: [(response: http.ServerResponse) => void, [number, string]][] = [
    [(response) => response.writeHead(401).end(), [503, 'no-feed']],
    [(response) => response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end(), [503, 'no-feed']],
    [(response) => response.destroy(), [503, 'no-feed']],
    [
      (response) => {
        response.writeHead(200, { 'content-length': '100' }).write('{"courses": [{"id"');
        setTimeout(() => response.destroy(), 50);
      },
      [503, 'no-feed'],
    ],
    [(response) => response.end('{"courses": [{"id": "1", "ti'), [422, 'feed-unreadable']],
    [(response) => response.end('[]'), [422, 'feed-unreadable']],
    [(response) => response.end('<p>Sign in</p>'), [422, 'feed-unreadable']],
  ];
  for (const [respond, expected] of bad) {
    answer = respond;
    expect(await problemOf(await mirela.send('checkFeed'))).toEqual(expected);
  }
  expect(new Set(asked)).toEqual(new Set(['Bearer a-key-of-the-platform']));

  const course = (id: string, title: string, more: object = {}) => ({
    id,
    title,
    units: [{ id: 'u', title: 'Unit', activities: [{ id: 'a', title: 'Activity' }] }],
    ...more,
  });
  const twoUnits = { units: ['x', 'y'].map((id) => ({ id, title: id, activities: [{ id: 'same', title: 'A' }] })) };
  answer = (response) =>
    response.end(
      JSON.stringify({
        version: 3,
        courses: [
          course('1', 'Good', { colour: 'red', code: null }),
          course('1', 'Good', { colour: 'blue', code: null }),
          course('2', 'Two of one number'),
          course('2', 'Other'),
          course('3', 'No units', { units: [] }),
          { title: 'No number' },
          course('5', 'x'.repeat(500)),
          course('6', 'A number twice inside', twoUnits),
          'nonsense',
        ],
      }),
    );
  const checked = await mirela.call('checkFeed', {});
  expect(checked.fresh.map(({ number, name }) => [number, name])).toEqual([['1', 'Good']]);
  expect(checked.left.map(({ what, why }) => [what.slice(0, 30), why])).toEqual([
    ['No units', 'does not fit'],
    ['No number', 'no number'],
    ['x'.repeat(30), 'does not fit'],
    ['A number twice inside', 'twice'],
    ['', 'does not fit'],
    ['Two of one number', 'twice'],
  ]);
  expect(checked.ignored).toEqual(['colour', 'version']);

  // Ten thousand of them: compared in one go, taken five hundred at a time; a name that is taken here is said.
  answer = (response) =>
    response.end(JSON.stringify({ courses: Array.from({ length: 10_000 }, (_, index) => course(`n${index}`, `Many ${index}`)) }));
  const many = await mirela.call('checkFeed', {});
  expect([many.counts.fresh, many.fresh.length]).toEqual([10_000, 500]);
  expect(
    (
      await mirela.call('look', {
        body: { change: { kind: 'take-feed', feedId: many.feedId, take: many.fresh.map(({ number }) => number), archive: [] } },
      })
    ).conflicts,
  ).toEqual([]);
  answer = (response) => response.end(JSON.stringify({ courses: [course('s', 'Casualty care', { code: 'NEW' })] }));
  const taken = await mirela.call('checkFeed', {});
  const look = await mirela.call('look', { body: { change: { kind: 'take-feed', feedId: taken.feedId, take: ['s'], archive: [] } } });
  expect(look.conflicts.map(({ code }) => code)).toEqual(['course name taken']);
  expect(await names()).toEqual(before);
  platform.close();
});
