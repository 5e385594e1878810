import { type LearnerRow, writeFilter } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { answeredBy, columnsOf } from '../testing/columns.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';

/* Learners in every order there is: page by page all of them once, in the order that their own cells give. */
let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

async function walk(client: Client, groupId: number, query: object, limit: number): Promise<LearnerRow[]> {
  const people: LearnerRow[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: { people: LearnerRow[]; next: string | null } = await client.call('progressLearners', {
      params: { groupId },
      query: { ...query, limit, ...(after ? { after } : {}) },
    });
    people.push(...page.people);
    after = page.next;
  }
  return people;
}

/** The order as a list of things that are compared one after the other; null: comes last whichever way round. */
const placeIn =
  (courseId: number) =>
  (row: LearnerRow): (number | string)[] | null => {
    const cell = row.cells.find((each) => each.courseId === courseId);
    if (!cell) return null;
    if (cell.exempt) return [5];
    if (cell.status === 'done') return [4, cell.score ?? -1];
    if (cell.due !== null) return [0, cell.due];
    return [cell.inLine !== null ? 1 : cell.status === 'not begun' ? 2 : 3];
  };
const placeByDue = (row: LearnerRow): string[] | null => (row.nextDue === null ? null : [row.nextDue]);

function isInOrder(places: readonly ((number | string)[] | null)[], backwards: boolean): boolean {
  return places.slice(1).every((place, index) => {
    const before = places[index] ?? null;
    if (before === null || place === null) return place === null;
    const at = place.findIndex((part, position) => part !== before[position]);
    if (at < 0) return true;
    return (before[at] ?? '') < (place[at] ?? '') !== backwards;
  });
}

async function compareOrders(): Promise<number> {
  let seen = 0;
  const narrowed: FilterPart[] = [{ part: 'signed in', is: true }];
  for (const [name, groupId] of [
    ['mirela', 10],
    ['ottoline', 3],
  ] as const) {
    const client = await site.as(name);
    for (const filter of name === 'mirela' ? [[]] : [[], narrowed]) {
      const query = { filter: writeFilter(filter) };
      const byName = await walk(client, groupId, query, 200);
      const places = byName.map(({ id }) => id);
      const { courses } = await client.call('progressLearners', { params: { groupId }, query: { ...query, limit: 1 } });
      const orders: [string, (row: LearnerRow) => (number | string)[] | null][] = [
        ['due', placeByDue],
        ...courses.slice(0, 3).map(({ id }): [string, ReturnType<typeof placeIn>] => [String(id), placeIn(id)]),
      ];
      for (const [order, placeOf] of orders)
        for (const backwards of [false, true]) {
          const sorted = await walk(client, groupId, { ...query, sort: `${backwards ? '-' : ''}${order}` }, 60);
          const ids = sorted.map(({ id }) => id);
          expect({ order, ids: [...ids].sort() }).toEqual({ order, ids: [...places].sort() });
          expect({ order, backwards, isRight: isInOrder(sorted.map(placeOf), backwards) }).toEqual({ order, backwards, isRight: true });
          // Who is in the same place comes by name.
          sorted.slice(1).forEach((row, index) => {
            const before = sorted[index];
            if (before && JSON.stringify(placeOf(before)) === JSON.stringify(placeOf(row)))
              expect(places.indexOf(before.id)).toBeLessThan(places.indexOf(row.id));
          });
          seen += new Set(sorted.map((row) => JSON.stringify(placeOf(row)))).size;
        }
    }
  }
  return seen;
}

test('by next due day and by each course, forwards and backwards, with a filter and without, for an administrator and a leader', async () => {
  expect(await compareOrders()).toBeGreaterThan(100);
}, 180_000);

test('the same where the order is told from columns in memory', async () => {
  const { found, answers } = await answeredBy(site, await columnsOf(site), compareOrders);
  expect(found).toBeGreaterThan(100);
  expect(answers).toBeGreaterThan(50);
}, 180_000);

test('by group: the first of the names of the groups below; by last activity: who was never active first, and last backwards', async () => {
  const mirela = await site.as('mirela');
  const groupId = 3;
  const collator = new Intl.Collator('en');
  const groupOf = ({ groups }: LearnerRow): string | null => groups.filter(({ id }) => id !== groupId)[0]?.name ?? null;
  const named = (await walk(mirela, groupId, { sort: 'group' }, 37)).map(groupOf);
  const has = named.filter((name) => name !== null);
  expect(new Set(has).size).toBeGreaterThan(3);
  expect(has).toEqual([...has].sort(collator.compare));
  expect(named.slice(0, has.length)).toEqual(has);
  const longest = (await walk(mirela, groupId, { sort: 'active' }, 37)).map(({ activeAt }) => activeAt ?? '');
  expect(new Set(longest).size).toBeGreaterThan(3);
  expect(longest).toEqual([...longest].sort());
  const latest = (await walk(mirela, groupId, { sort: '-active' }, 37)).map(({ activeAt }) => activeAt ?? '');
  expect(latest).toEqual([...longest].reverse());
});

test('what is no order is refused, a course that is not there leaves them by name, and a cursor of another order begins again', async () => {
  const ottoline = await site.as('ottoline');
  const page = { groupId: 3 };
  expect((await ottoline.send('progressLearners', { params: page, query: { sort: 'nonsense' } })).status).toBe(400);
  const byName = await walk(ottoline, 3, {}, 200);
  const byNothing = await walk(ottoline, 3, { sort: '999999' }, 200);
  expect(byNothing.map(({ id }) => id)).toEqual(byName.map(({ id }) => id));
  const { next } = await ottoline.call('progressLearners', { params: page, query: { limit: 5 } });
  const again = await ottoline.call('progressLearners', { params: page, query: { limit: 5, sort: 'due', after: next ?? '' } });
  const first = await ottoline.call('progressLearners', { params: page, query: { limit: 5, sort: 'due' } });
  expect(again.people).toEqual(first.people);
});

test('names of the longest sort can be paged through', async () => {
  const mirela = await site.as('mirela');
  const [learner] = await walk(mirela, 3, {}, 1);
  const long = '龍'.repeat(120);
  await mirela.apply({ kind: 'edit-person', personId: learner?.id ?? 0, values: { givenName: long, familyName: long } });
  const small = learner?.groups.at(-1)?.id ?? 0;
  for (const sort of ['name', 'due']) {
    const all = await walk(mirela, small, { sort }, 1);
    expect(all.length).toBeGreaterThan(2);
    expect(all.filter(({ givenName }) => givenName === long)).toHaveLength(1);
  }
});

test('a file of learners says the same from columns in memory as from the database, cell by cell, as each reader sees it', async () => {
  const take = async (): Promise<string[]> => {
    const files: string[] = [];
    for (const [name, groupId] of [
      ['mirela', 1],
      ['ottoline', 3],
    ] as const) {
      const client = await site.as(name);
      for (const filter of [[], [{ part: 'status', of: ['done'] }]] satisfies FilterPart[][])
        files.push(await client.call('progressLearnersFile', { params: { groupId }, query: { filter: writeFilter(filter), sort: 'due' } }));
    }
    return files;
  };
  const fromDatabase = await take();
  const { found, answers } = await answeredBy(site, await columnsOf(site), take);
  expect(answers).toBeGreaterThanOrEqual(8);
  expect(found).toEqual(fromDatabase);
  for (const word of ['not open', 'overdue', 'exempt', 'under way', 'done', 'in line for a seat'])
    expect([word, fromDatabase.join().includes(word)]).toEqual([word, true]);
});
