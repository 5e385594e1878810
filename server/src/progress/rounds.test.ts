import { addDays, type Day, reopensOn } from '@gate-roster/core';
import { rebuildDerived } from '../database/rebuild.ts';
import { turnDay } from '../day-turn.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* A course that is valid for a time opens again by itself, and what was done before stays. */

const [root, safeguarding] = [1, 9];
let site: Site;
let mirela: Client;
let today: Day;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ({ today } = await mirela.call('me', {}));
});
afterEach(() => site.stop());

const rounds = () =>
  execute<{
    person: number;
    round: number;
    current: boolean;
    status: string;
    done: Day | null;
    opened: Day | null;
    exempt: boolean;
    counted: boolean;
  }>(
    site.databaseUrl,
    `select person_id::int as person, round, is_current as current, status, done_day::text as done, round_opened_day::text as opened, exempt, p.counted from enrolment e join person p on p.id = e.person_id where course_id = ${safeguarding} order by 1, 2`,
  );
const overdueOf = async (): Promise<Map<number, { status: string; due: Day | null }>> => {
  const found = new Map<number, { status: string; due: Day | null }>();
  for (let after: string | undefined; ;) {
    const page = await mirela.call('progressPeople', {
      params: { groupId: root },
      query: { courseId: safeguarding, limit: 200, ...(after ? { after } : {}) },
    });
    for (const each of page.enrolments) found.set(each.personId, each);
    if (page.next === null) return found;
    after = page.next;
  }
};

test('each day opens the rounds that are due by then, dated the day they were to open, and no others', async () => {
  const validity = { validMonths: 6, reopensDays: 10 };
  await mirela.apply({ kind: 'edit-course', courseId: safeguarding, values: validity });
  const before = await rounds();
  const soon = addDays(today, 40);
  await turnDay(site.deps.db, new Date(`${soon}T12:00:00Z`));
  const after = await rounds();
  // Whose membership ends before that day is no learner any more.
  const counted = new Set(after.flatMap(({ person, counted: is }) => (is ? [person] : [])));
  const due = before.filter(
    ({ person, current, status, done, exempt }) =>
      counted.has(person) && current && status === 'done' && !exempt && done !== null && reopensOn(done, validity) <= soon,
  );
  expect(due.length).toBeGreaterThan(50);
  const begun = after.filter(({ opened, current }) => current && opened !== null);
  const known = new Set(before.filter(({ opened }) => opened !== null).map(({ person }) => person));
  expect(begun.filter(({ person }) => !known.has(person)).map(({ person, opened, status }) => [person, opened, status])).toEqual(
    due.filter(({ person }) => !known.has(person)).map(({ person, done }) => [person, reopensOn(done ?? '', validity), 'not begun']),
  );
  // The earlier result stays, as an earlier round.
  for (const { person, done } of due)
    expect(after).toContainEqual(expect.objectContaining({ person, done, status: 'done', current: false }));
  // Once is enough.
  await turnDay(site.deps.db, new Date(`${addDays(soon, 1)}T12:00:00Z`));
  const again = (await rounds()).filter(({ round }) => round > 2);
  expect(again.filter(({ person }) => due.some((each) => each.person === person && each.done === null))).toEqual([]);
});

test('in a later round days count from its opening, reports count it as not begun, and the learner reads why', async () => {
  await execute(
    site.databaseUrl,
    `update access_grant set due_day = null, due_days = 30, due_least_days = null where course_id = ${safeguarding} and until_at is null`,
  );
  await execute(site.databaseUrl, `update course_version set valid_months = 1, reopens_days = null where course_id = ${safeguarding}`);
  await site.deps.db.transaction((tx) => rebuildDerived(tx, today));
  const before = (await overdueOf()).size;
  await execute(site.databaseUrl, `delete from day_turn`);
  await turnDay(site.deps.db, new Date());
  const opened = (await rounds()).filter(({ current, opened: day }) => current && day !== null);
  expect(opened.length).toBeGreaterThan(100);
  const shown = await overdueOf();
  expect(shown.size).toBe(before);
  for (const { person, opened: day } of opened)
    expect(shown.get(person)).toMatchObject({ status: 'not begun', due: addDays(day ?? '', 30) });
  const { rows: report, courses } = await mirela.call('progress', { params: { groupId: root } });
  const tally = report[0]?.cells[courses.findIndex(({ id }) => id === safeguarding)];
  expect(tally?.done).toBe([...shown.values()].filter(({ status }) => status === 'done').length);
  const person = opened[0]?.person ?? 0;
  const { courses: own } = await mirela.call('person', { params: { personId: person } });
  const sheet = own.find(({ id }) => id === safeguarding);
  expect(sheet?.round).toBeGreaterThan(1);
  expect(sheet?.earlier).toContainEqual({ doneDay: expect.any(String) as string, score: expect.any(Number) as number });
});
