import { addDays } from '@gate-roster/core';
import { createHash } from 'node:crypto';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Access on another day: the past as it stood at the day's end, the future as it will be; and who could get in between two days. */
const gullhaven = 3;
const crew = 7;
const courseId = 10;
let site: Site;
let mirela: Client;
let ottoline: Client;
const today = new Date().toISOString().slice(0, 10);
const yesterday = addDays(today, -1);

beforeEach(async () => {
  site = await startSite();
  [mirela, ottoline] = [await site.as('mirela'), await site.as('ottoline')];
});
afterEach(() => site.stop());

const grid = async (who: Client, day?: string) => {
  const { courses, rows, ...about } = await who.call('accessGrid', { params: { groupId: gullhaven }, query: day ? { day } : {} });
  const column = courses.findIndex(({ id }) => id === courseId);
  return { ...about, states: Object.fromEntries(rows.map(({ id, cells }) => [id, cells[column]?.state])), rows };
};
const said = (effect: 'open' | 'block', more: object = {}) => ({
  groupId: crew,
  courseId,
  effect,
  withSubgroups: true,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  ...more,
});
/** What was done today is put a week back. */
const wasAgo = async (table: string, where: string, days: number): Promise<void> => {
  await execute(site.databaseUrl, `update ${table} set from_at = from_at - interval '${days} days' where ${where}`);
  await execute(
    site.databaseUrl,
    `update ${table} set until_at = until_at - interval '${days} days' where ${where} and until_at is not null`,
  );
};

test('today is today, whichever way it is asked for', async () => {
  expect(await grid(mirela, today)).toEqual(await grid(mirela));
});

test('the grid: before it was said, as it stood then, and on a day when it will have ended', async () => {
  const before = (await grid(ottoline)).states[crew];
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [said('open', { firstDay: addDays(today, -5), lastDay: addDays(today, 20) })],
  });
  expect((await grid(ottoline)).states[crew]).toBe('here');
  // Recorded today, so yesterday it stood otherwise, although it speaks of days before.
  expect((await grid(ottoline, yesterday)).states[crew]).toBe(before);
  expect((await grid(ottoline, addDays(today, 20))).states[crew]).toBe('here');
  expect((await grid(ottoline, addDays(today, 21))).states[crew]).toBe(before);
  const past = await grid(ottoline, yesterday);
  expect(past).toMatchObject({ isPast: true, day: yesterday });
  expect(past.rows.some(({ mayOpen, cells }) => mayOpen || cells.some(({ grants }) => grants.some(({ mayEnd }) => mayEnd)))).toBe(false);
});

test('a group that has moved is looked at where it then was; one that was not there is left out', async () => {
  const { changeId } = await mirela.apply({
    kind: 'make-groups',
    parentId: gullhaven,
    groups: [{ name: 'Night crew', within: null, like: null, leaders: [] }],
  });
  expect(changeId).toBeGreaterThan(0);
  const now = await grid(mirela);
  const then = await grid(mirela, yesterday);
  expect(now.rows.map(({ name }) => name)).toContain('Night crew');
  expect(then.rows.map(({ name }) => name)).not.toContain('Night crew');
});

test('somebody’s courses and a course’s page on another day', async () => {
  const [person] = await execute<{ id: number }>(
    site.databaseUrl,
    `select person_id::int as id from membership where group_id = ${crew} and until_at is null and from_at < now() - interval '10 days' order by 1 limit 1`,
  );
  const personId = person?.id ?? 0;
  await mirela.apply({ kind: 'grant-access', end: [], begin: [said('open', { firstDay: addDays(today, 3) })] });
  const on = async (day: string) =>
    (await ottoline.call('personCourses', { params: { personId }, query: { day } })).courses.find(({ id }) => id === courseId);
  expect(await on(today)).toMatchObject({ open: false, opensLater: addDays(today, 3) });
  expect(await on(addDays(today, 3))).toMatchObject({ open: true });
  expect(await on(yesterday)).toMatchObject({ open: false, opensLater: null });
  const page = async (day: string) => ottoline.call('courseOnDay', { params: { groupId: crew, courseId }, query: { day } });
  const [now, later] = [await page(today), await page(addDays(today, 3))];
  expect([now.open, later.open]).toEqual([0, later.learners]);
  expect(later.learners).toBeGreaterThan(0);
  expect(now.learners).toBe((await ottoline.call('progress', { params: { groupId: crew } })).ofAll);
});

test('who could get in: everybody, through what, by whose word, from when to when; the file says so and bears its own sum', async () => {
  const { changeId } = await mirela.apply({ kind: 'grant-access', end: [], begin: [said('open')] });
  await wasAgo('access_grant', `row_id in (select after_row from change_subject where change_id = ${changeId} and kind = 'grant')`, 6);
  const question = { params: { groupId: crew, courseId }, query: { firstDay: addDays(today, -10), lastDay: today } };
  const { rows, people } = await ottoline.call('couldGetIn', question);
  const opened = addDays(today, -6);
  const longMembers = rows.filter(({ firstDay }) => firstDay === opened);
  expect(people).toBeGreaterThan(0);
  expect(longMembers.length).toBeGreaterThan(0);
  for (const { through, by, lastDay } of longMembers)
    expect({ through, by, lastDay }).toMatchObject({
      through: ['Shore crew'],
      by: [{ group: 'Shore crew', name: null }],
      lastDay: today,
    });
  expect(rows.every(({ firstDay }) => firstDay >= opened)).toBe(true);
  // To an administrator the maker is named.
  expect((await mirela.call('couldGetIn', question)).rows[0]?.by[0]?.name).not.toBeNull();

  const file = await ottoline.send('couldGetInFile', question);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const name = /filename="([^"]+)"/u.exec(file.headers.get('content-disposition') ?? '')?.[1] ?? '';
  expect(name).toContain(createHash('sha256').update(bytes).digest('hex'));
  const text = new TextDecoder().decode(bytes);
  expect(text.split('\r\n')[0]).toContain(`Shore crew with subgroups,${addDays(today, -10)},${today}`);
  expect((await ottoline.send('couldGetIn', { ...question, query: { firstDay: today, lastDay: yesterday } })).status).toBe(400);
});

test('how far somebody was and what was due: a past day as the report of that day says it, a later day as it will be judged', async () => {
  const past = addDays(today, -40);
  const byLearner = (day?: string) =>
    ottoline.call('progressLearners', { params: { groupId: gullhaven }, query: { limit: 200, ...(day ? { day } : {}) } });
  const then = await byLearner(past);
  const chosen = then.people.filter(({ cells }) => cells.some(({ status, due }) => status !== 'done' && due !== null)).slice(0, 4);
  expect(chosen.length).toBeGreaterThan(1);
  for (const { id, cells } of chosen) {
    const { standings } = await ottoline.call('personStandings', { params: { personId: id }, query: { day: past } });
    const told = standings.map(({ courseId: course, status, lateness, due, score }) => ({
      courseId: course,
      status,
      lateness,
      due,
      score,
    }));
    const shown = cells.map(({ courseId: course, status, lateness, due, score }) => ({ courseId: course, status, lateness, due, score }));
    expect(told).toEqual(expect.arrayContaining(shown));
  }
  const now = await byLearner();
  const [late] = now.people.flatMap(({ id, cells }) =>
    cells.flatMap(({ courseId: course, due, status, lateness, exempt }) =>
      due !== null && due > today && status !== 'done' && lateness === 'on time' && !exempt ? [{ id, course, due }] : [],
    ),
  );
  const { standings } = await ottoline.call('personStandings', {
    params: { personId: late?.id ?? 0 },
    query: { day: addDays(late?.due ?? today, 1) },
  });
  expect(standings).toContainEqual(expect.objectContaining({ courseId: late?.course, due: late?.due, lateness: 'overdue' }));
});
