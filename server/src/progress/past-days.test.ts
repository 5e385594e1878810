import { writeFilter } from '@gate-roster/contract';
import { addDays, type Day, type Filter, type FilterPart } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { dropOldPastDays } from './past-days.ts';
import { randomFrom } from '../testing/filter-facts.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { figuresByHand, stoodOn } from '../testing/stood-on.ts';

/* Reports of a past day: who was there then, what was open then, and what was known then. */

let site: Site;
let mirela: Client;
let ottoline: Client;
let today: Day;
const [gullhaven, inshore] = [3, 4];
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  today = (await mirela.call('me', {})).today;
});
afterAll(() => site.stop());

const report = (groupId: number, more: object = {}, who = mirela) => who.call('progress', { params: { groupId }, query: more });
const figuresOn = async (groupId: number, day: Day, filter: Filter) => {
  const { learners: people, total } = await report(groupId, { day, filter: writeFilter(filter) });
  return { learners: people, all: total.all, done: total.done, underWay: total.underWay, exempt: total.exempt };
};
const yesterday = (): Day => addDays(today, -1);
const made = async (): Promise<number> => (await query<{ n: number }>(`select max(id)::int as n from past_day`))[0]?.n ?? 0;

test('figures of past days are those that are worked out person by person from the rows of then', async () => {
  for (const [groupId, ago] of [
    [1, 1],
    [gullhaven, 40],
    [1, 200],
    [20, 300],
  ] as const) {
    const day = addDays(today, -ago);
    const stood = await stoodOn(site, day);
    expect(await figuresOn(groupId, day, [])).toEqual(figuresByHand(stood, groupId, []));
  }
});

test('the same under random filters on random days', async () => {
  const random = randomFrom(20_261_201);
  const some = <T>(list: readonly T[], most: number): T[] => {
    const found = list.filter(() => random() < most / list.length);
    return found.length > 0 ? found : list.slice(0, 1);
  };
  const { groups } = await mirela.call('tree', {});
  const courses = (await query<{ id: number }>(`select id::int from course_now`)).map(({ id }) => id);
  const tags = (await query<{ id: number }>(`select id::int from tag_now`)).map(({ id }) => id);
  const groupIds = groups.map(({ id }) => id);
  const parts: (() => FilterPart)[] = [
    () => ({ part: 'groups', how: random() < 0.7 ? 'in' : 'not in', ids: some(groupIds, 3), withSubgroups: random() < 0.5 }),
    () => ({ part: 'tags', how: random() < 0.5 ? 'any' : 'none', ids: some(tags, 2) }),
    () => ({ part: 'course', courses: some(courses, 3), sets: [] }),
    () => ({ part: 'status', of: some(['not begun', 'under way', 'done'] as const, 2) }),
  ];
  let counted = 0;
  for (let n = 0; n < 5; n++) {
    const day = addDays(today, -1 - Math.floor(random() * 300));
    const stood = await stoodOn(site, day);
    for (let each = 0; each < 8; each++) {
      const filter = parts.filter(() => random() < 0.5).map((part) => part());
      const [groupId = 1] = random() < 0.5 ? [1] : some(groupIds, 2);
      const figures = await figuresOn(groupId, day, filter);
      expect({ day, groupId, filter, ...figures }).toEqual({ day, groupId, filter, ...figuresByHand(stood, groupId, filter) });
      counted += figures.all;
    }
  }
  expect(counted).toBeGreaterThan(5000);
});

test('every view of a past day tells the same: groups, learners, a course, side by side, the people behind a cell, and files', async () => {
  const day = addDays(today, -30);
  const params = { groupId: gullhaven };
  const table = await report(gullhaven, { day });
  const course = table.courses[0]?.id ?? 0;
  const cell = table.rows[0]?.cells[0];
  const inside = await mirela.call('progressInside', { params, query: { day, courseId: course, limit: 200 } });
  expect([inside?.figures.all, inside?.figures.done]).toEqual([cell?.all, cell?.done]);
  const beside = await mirela.call('progressSideBySide', { params, query: { day, groups: String(inshore) } });
  expect(beside.scope.total.done).toBe(table.total.done);
  const list = await mirela.call('progressLearners', { params, query: { day, limit: 200 } });
  expect(list.counts?.learners).toBe(table.learners);
  const behind = await mirela.call('progressPeople', { params, query: { day, courseId: course, limit: 200 } });
  expect(behind.enrolments.filter(({ status, exempt }) => status === 'done' && !exempt)).toHaveLength(cell?.done ?? -1);
  const done = JSON.stringify([{ part: 'status', of: ['done'] }]);
  const filtered = await report(gullhaven, { day, filter: done });
  expect([filtered.total.all, filtered.total.done]).toEqual([
    table.total.done + (filtered.total.all - filtered.total.done),
    table.total.done,
  ]);
  expect(await mirela.call('progressFile', { params, query: { day } })).not.toBe(await mirela.call('progressFile', { params, query: {} }));
});

test('a learner’s story ends with the day, and says of courses what the list of the day says; outside their groups there is none', async () => {
  const day = addDays(today, -60);
  const { people } = await mirela.call('progressLearners', { params: { groupId: gullhaven }, query: { day, limit: 200 } });
  const [listed] = people.filter(({ cells }) => cells.some(({ status }) => status === 'under way'));
  const params = { personId: listed?.id ?? 0 };
  const [then, now] = [await mirela.call('learnerStory', { params, query: { day } }), await mirela.call('learnerStory', { params })];
  const cell = ({ id, status, score, unitsDone, exempt }: (typeof then.courses)[number]) => ({ id, status, score, unitsDone, exempt });
  expect(then.courses.map(cell).sort((a, b) => a.id - b.id)).toEqual(
    (listed?.cells ?? []).map((each) => cell({ ...each, id: each.courseId } as never)).sort((a, b) => a.id - b.id),
  );
  const end = `${addDays(day, 1)}T`;
  // What happens once; a try counts by its latest.
  const lasting = ({ kind }: { kind: string }): boolean => ['came in', 'began', 'done'].includes(kind);
  expect(then.events.filter(lasting)).toEqual(now.events.filter((event) => lasting(event) && event.at < end));
  expect([then.events.length > 2, now.events.length > then.events.length]).toEqual([true, true]);
  const outside =
    (
      await query<{ id: number }>(
        `select min(person_id)::int as id from membership where group_id = 20 and until_at is null and from_at < now() - interval '90 days'`,
      )
    )[0]?.id ?? 0;
  expect((await mirela.send('learnerStory', { params: { personId: outside }, query: { day } })).status).toBe(200);
  expect((await ottoline.send('learnerStory', { params: { personId: outside }, query: { day } })).status).toBe(404);
});

test('what happens afterwards alters nothing: late reports, taken back, moved, renamed, left, exempt, another course', async () => {
  const before = await report(1, { day: yesterday() });
  const [platform] = await query<{ id: number }>(`select id::int from source where key = 'platform-tidewater'`);
  const [old] = await query<{ id: string }>(
    `select id from report where source_id = ${platform?.id} and received_at < now() - interval '3 days' and enrolment_id is not null and finished limit 1`,
  );
  const { key, password } = await mirela.call('makePlatform', { body: { name: 'Late', allCourses: true, courses: [] } });
  const headers = { authorization: `Basic ${Buffer.from(`${key}:${password}`).toString('base64')}`, 'x-experience-api-version': '1.0.3' };
  const [begun] = await query<{ name: string; activity: number }>(`
    select n.sign_in_name as name, a.id::int as activity from enrolment e join personal_now n on n.person_id = e.person_id and n.sign_in_name is not null join activity_now a on a.course_id = e.course_id and a.finished_by = 'player'
    where e.status = 'under way' and not exists (select 1 from activity_result r where r.enrolment_id = e.id and r.activity_id = a.id) order by e.id limit 1`);
  const late = {
    id: randomUUID(),
    actor: { account: { homePage: site.url, name: begun?.name } },
    verb: { id: 'http://adlnet.gov/expapi/verbs/completed' },
    object: { id: `${site.url}/activities/${begun?.activity}` },
    timestamp: new Date(Date.now() - 3 * 86_400_000).toISOString(),
  };
  expect((await mirela.send('sendStatements', { body: late, headers })).status).toBe(200);
  await query(`insert into report_void (report_id, source_id) values ('${old?.id}', ${platform?.id})`);
  await mirela.apply({ kind: 'move-groups', groupIds: [inshore], intoId: 2 });
  await mirela.apply({ kind: 'edit-group', groupId: 7, values: { name: 'Shore watch' } });
  const [member] = await query<{ id: number }>(
    `select person_id::int as id from membership where group_id = 8 and until_at is null order by 1 limit 1`,
  );
  await mirela.apply({
    kind: 'except-people',
    groupId: 8,
    personIds: [member?.id ?? 0],
    courseId: 1,
    exception: { what: 'exempt', reason: 'Elsewhere' },
  });
  await mirela.apply({ kind: 'move-groups', groupIds: [inshore], intoId: gullhaven });
  await query(`delete from past_day`);
  const after = await report(1, { day: yesterday() });
  const figures = ({ total, learners: people, rows, courses }: typeof before) => ({
    total: { ...total, scoreSum: Math.round(total.scoreSum) },
    people,
    courses,
    rows: rows.map(({ id, learners: n, total: { done, all } }) => [id, n, done, all]),
  });
  expect(figures(after)).toEqual(figures(before));
});

test('between two days: who came, left, began, finished and became overdue is what the lists of both days differ in', async () => {
  const listed = async (groupId: number, day: Day) => {
    const found = new Map<number, Map<number, string>>();
    for (let after: string | undefined; ;) {
      const page = await mirela.call('progressLearners', { params: { groupId }, query: { day, limit: 200, ...(after ? { after } : {}) } });
      for (const { id, cells } of page.people)
        found.set(
          id,
          new Map(
            cells
              .filter(({ exempt }) => !exempt)
              .map(({ courseId, status, lateness }) => [courseId, lateness === 'overdue' ? `${status}, overdue` : status]),
          ),
        );
      if (page.next === null) return found;
      after = page.next;
    }
  };
  for (const [from, until] of [
    [addDays(today, -60), addDays(today, -5)],
    [addDays(today, -30), today],
  ] as const) {
    const [before, after, all] = [await listed(gullhaven, from), await listed(gullhaven, until), await listed(1, from)];
    const turned = (fits: (was: string, is: string) => boolean): number[] =>
      [...after].flatMap(([id, cells]) =>
        [...cells].some(([course, is]) => fits(all.get(id)?.get(course) ?? 'not begun', is)) ? [id] : [],
      );
    const expected = {
      came: [...after.keys()].filter((id) => !before.has(id)),
      left: [...before.keys()].filter((id) => !after.has(id)),
      began: turned((was, is) => was.startsWith('not begun') && !is.startsWith('not begun')),
      finished: turned((was, is) => was !== 'done' && is === 'done'),
      overdue: turned((was, is) => !was.endsWith('overdue') && is.endsWith('overdue')),
    };
    for (const kind of ['came', 'left', 'began', 'finished', 'overdue'] as const) {
      const query = { from, of: kind, ...(until === today ? {} : { day: until }) };
      const { counts, people } = await mirela.call('progressBetween', { params: { groupId: gullhaven }, query });
      expect([kind, counts[kind]]).toEqual([kind, expected[kind].length]);
      const ids = people.map(({ id }) => id);
      expect(ids.filter((id) => !expected[kind].includes(id))).toEqual([]);
      expect(ids).toHaveLength(Math.min(200, expected[kind].length));
    }
  }
  for (const query of [
    { from: today },
    { from: addDays(today, -3), day: addDays(today, -3) },
    { from: addDays(today, -3), day: addDays(today, -9) },
  ])
    expect((await mirela.send('progressBetween', { params: { groupId: 1 }, query })).status).toBe(400);
});

test('people who have left a leader’s groups since are counted, and not named', async () => {
  const people = async (who: Client) => {
    const list = await who.call('progressLearners', { params: { groupId: gullhaven }, query: { day: yesterday(), limit: 200 } });
    return { told: list.counts?.learners, named: list.people.map(({ id }) => id) };
  };
  const before = await people(ottoline);
  const [leaver] = await query<{ id: number }>(
    `select m.person_id::int as id from membership m where m.group_id = ${inshore} and m.until_at is null and m.from_at < now() - interval '2 days'
      and (select count(*) from membership o where o.person_id = m.person_id and o.until_at is null) = 1 and not exists (select 1 from leadership l where l.person_id = m.person_id) order by 1 limit 1`,
  );
  const person = leaver?.id ?? 0;
  expect(before.named).toContain(person);
  await mirela.apply({ kind: 'remove-members', groupId: inshore, personIds: [person] });
  const after = await people(ottoline);
  expect([after.told, after.named.includes(person)]).toEqual([before.told, false]);
  expect((await people(mirela)).named).toContain(person);
});

test('a day is made once however many ask, made again when accounts are joined, and refused when it is none', async () => {
  const day = addDays(today, -50);
  const first = await Promise.all([1, 2, 3, 4].map(() => report(inshore, { day })));
  expect(new Set(first.map((each) => JSON.stringify(each))).size).toBe(1);
  const id = await made();
  // What each set comes to is kept for all of them, so that nobody who looks waits for it.
  expect(await query(`select count(*)::int as sets from past_day_${id}.standing where course_id = 0`)).not.toEqual([{ sets: 0 }]);
  expect(await query(`select set_id from past_day_${id}.standing_mark`)).toEqual([]);
  await report(gullhaven, { day }, ottoline);
  expect(await made()).toBe(id);
  const [a, b] = await query<{ id: number }>(
    `select person_id::int as id from membership where group_id = 8 and until_at is null and person_id not in (select person_id from leadership) order by 1 desc limit 2`,
  );
  await mirela.apply({ kind: 'merge-people', personId: a?.id ?? 0, goneId: b?.id ?? 0 });
  await report(inshore, { day });
  expect(await made()).toBeGreaterThan(id);
  for (const wrong of [addDays(today, 1), '1999-01-01', '2026-02-30', 'yesterday'])
    expect((await mirela.send('progress', { params: { groupId: 1 }, query: { day: wrong } })).status).toBe(400);
  expect((await ottoline.send('progress', { params: { groupId: 20 }, query: { day } })).status).toBe(404);
  await query(`update past_day set used_at = now() - interval '8 days'`);
  await dropOldPastDays(site.deps.db);
  expect(await query(`select 1 from pg_namespace where nspname like 'past_day%'`)).toEqual([]);
  expect((await report(inshore, { day })).learners).toBe(first[0]?.learners);
});
