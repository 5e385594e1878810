import { type InsideCourse, writeFilter } from '@gate-roster/contract';
import { daysFromUnitToUnit, type FilterPart } from '@gate-roster/core';
import { answeredBy, columnsOf } from '../testing/columns.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';

/* Inside a course: what is said of all who fit is what core gives for each of the rows, page by page. */
let site: Site;
beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

async function every(client: Client, groupId: number, query: object): Promise<InsideCourse> {
  const first = await client.call('progressInside', { params: { groupId }, query: { ...query, limit: 200 } });
  if (!first) throw new Error('no course');
  for (let { next } = first; next !== null;) {
    const page = await client.call('progressInside', { params: { groupId }, query: { ...query, limit: 200, after: next } });
    first.people.push(...(page?.people ?? []));
    next = page?.next ?? null;
  }
  return first;
}

/** As PostgreSQL's percentile_cont: between the two nearest. */
function quartile(sorted: readonly number[], share: number): number {
  const at = share * (sorted.length - 1);
  const [low, high] = [sorted[Math.floor(at)] ?? 0, sorted[Math.ceil(at)] ?? 0];
  return low + (high - low) * (at - Math.floor(at));
}

test('figures, stops and days of every course are those of its rows, for an administrator and a leader, with a filter and without', async () => {
  await compareCourses();
}, 180_000);

test('the same where they are told from columns in memory', async () => {
  const { answers } = await answeredBy(site, await columnsOf(site), compareCourses);
  expect(answers).toBeGreaterThan(100);
}, 180_000);

async function compareCourses(): Promise<void> {
  let stopped = 0;
  let steps = 0;
  const late: FilterPart[] = [{ part: 'status', of: ['under way', 'done'] }];
  for (const [name, groupId] of [
    ['mirela', 2],
    ['ottoline', 3],
  ] as const) {
    const client = await site.as(name);
    const { courses } = await every(client, groupId, {});
    expect(courses.length).toBeGreaterThan(5);
    for (const { id: courseId } of courses.slice(0, 6))
      for (const filter of [[], late]) {
        const inside = await every(client, groupId, { courseId, filter: writeFilter(filter) });
        const { people, units } = inside;
        expect(people).toHaveLength(inside.learners);
        expect(new Set(people.map(({ id }) => id)).size).toBe(people.length);
        const of = (status: string): number => people.filter((each) => each.status === status && !each.exempt).length;
        expect(inside.figures).toEqual({
          all: people.length,
          done: of('done'),
          underWay: of('under way'),
          exempt: people.filter(({ exempt }) => exempt).length,
        });
        const stops = new Map<number, number>();
        for (const { at, hasStopped } of people) if (at !== null && hasStopped) stops.set(at, (stops.get(at) ?? 0) + 1);
        expect(new Map(inside.stops.map(({ activityId, people: count }) => [activityId, count]))).toEqual(stops);
        const activities = units.flatMap(({ id: unitId, activities: own }) => own.map(({ id }) => ({ id, unitId })));
        const expected = units.slice(1).flatMap(({ id }, index) => {
          const from = units[index]?.id ?? 0;
          const days = people.flatMap(({ results }) => daysFromUnitToUnit(activities, [from, id], results) ?? []).sort((a, b) => a - b);
          const [low, median, high] = [0.25, 0.5, 0.75].map((share) => quartile(days, share));
          return days.length === 0 ? [] : [{ unitId: from, people: days.length, low, median, high }];
        });
        expect([...inside.days].sort((a, b) => a.unitId - b.unitId)).toEqual(expected.sort((a, b) => a.unitId - b.unitId));
        stopped += inside.stops.length;
        steps += expected.length;
      }
  }
  expect([stopped > 10, steps > 10]).toEqual([true, true]);
}

test('a course that is not open in the scope, or that there is not, says nothing', async () => {
  const ottoline = await site.as('ottoline');
  expect(await ottoline.call('progressInside', { params: { groupId: 3 }, query: { courseId: 9999 } })).toBeNull();
});
