import type { Change, GrantDraft } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { rebuildDerived } from '../database/rebuild.ts';
import { turnDay } from '../day-turn.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What is open to people, and how far they are in it, wherever it is shown. */
let site: Site;
let mirela: Client;
let ottoline: Client;
let today: string;
let clock: Date;

beforeEach(async () => {
  clock = new Date();
  site = await startSite({ now: () => clock });
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  ({ today } = await mirela.call('me', {}));
});
afterEach(() => site.stop());

const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);
const rebuild = (): Promise<void> => site.deps.db.transaction((tx) => rebuildDerived(tx, today));
const draft = (groupId: number, courseId: number, more: Partial<GrantDraft> = {}): GrantDraft => ({
  groupId,
  courseId,
  effect: 'open',
  withSubgroups: true,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  ...more,
});
const courseOf = async (who: Client, personId: number, courseId: number) =>
  (await who.call('person', { params: { personId } })).courses.find(({ id }) => id === courseId);
const oneOf = async (text: string): Promise<number> => Number((await query<{ id: string }>(text))[0]?.id);
const gullhaven = 3;

test('ending a statement on a course set says who loses which of its courses, does it, and is undone', async () => {
  const [grant] = await query<{ id: number }>(
    `insert into access_grant (group_id, course_set_id, effect, made_by) values (${gullhaven}, 2, 'open', 1) returning row_id::int as id`,
  );
  await query(`update access_grant set until_at = now() where course_id in (select course_id from course_in_set where course_set_id = 2)`);
  await rebuild();
  const open = async (): Promise<number> =>
    (
      await query(
        `select 1 from person p join entitlement x on x.set_id = p.set_id join course_in_set c on c.course_id = x.course_id and c.course_set_id = 2 where p.counted`,
      )
    ).length;
  const before = await open();
  const change = { kind: 'grant-access' as const, begin: [], end: [grant?.id ?? 0] };
  const look = await mirela.call('look', { body: { change } });
  expect([...new Set(look.loses.map(({ courseId }) => courseId))]).toEqual(
    (await query<{ id: number }>(`select course_id::int as id from course_in_set where course_set_id = 2 order by 1`)).map(({ id }) => id),
  );
  const { changeId } = await mirela.apply(change);
  expect([before > 100, await open()]).toEqual([true, 0]);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await open()).toBe(before);
});

test('work done through a crew inside stays in a leader’s report, sheet and list when the course is open only outside', async () => {
  // Somebody of a Gullhaven crew who is done with course 1, and also in a crew of another region.
  const person = await oneOf(`
    select m.person_id as id from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven} join enrolment e on e.person_id = m.person_id and e.course_id = 1 and e.status = 'done'
    where m.until_at is null and (select count(*) from membership o where o.person_id = m.person_id) = 1 order by 1 limit 1`);
  await mirela.apply({ kind: 'add-members', groupId: 20, personIds: [person], firstDay: null, lastDay: null });
  const done = async (): Promise<number> => {
    const report = await ottoline.call('progress', { params: { groupId: gullhaven } });
    return report.rows[0]?.cells[report.courses.findIndex(({ id }) => id === 1)]?.done ?? 0;
  };
  const listed = async (): Promise<string | undefined> =>
    (await ottoline.call('progressPeople', { params: { groupId: gullhaven }, query: { courseId: 1, limit: 200 } })).enrolments.find(
      ({ personId }) => personId === person,
    )?.status;
  const weeks = async (): Promise<number> =>
    (await ottoline.call('progress', { params: { groupId: gullhaven } })).weeks.reduce((sum, { done: each }) => sum + each, 0);
  const before = [await done(), await weeks()];
  // Closed inside, open outside.
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(gullhaven, 1, { effect: 'block' })] });
  expect(await courseOf(ottoline, person, 1)).toMatchObject({ open: false, status: 'done' });
  expect([await listed(), [await done(), await weeks()]]).toEqual(['done', before]);
  expect(await courseOf(mirela, person, 1)).toMatchObject({ open: true, status: 'done' });
});

test('a leader sees what is open to their people through a group above, and what opens later', async () => {
  const person = await oneOf(
    `select person_id as id from membership where group_id = 5 and until_at is null and last_day is null order by 1 limit 1`,
  );
  // Their crew is closed; the region above the station has them too, and there the course is open.
  await mirela.apply({ kind: 'add-members', groupId: 2, personIds: [person], firstDay: null, lastDay: null });
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(2, 12, { withSubgroups: false }), draft(5, 12, { effect: 'block' })] });
  expect(await courseOf(ottoline, person, 12)).toMatchObject({ open: true });
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(5, 11, { firstDay: '2099-01-04' })] });
  await query(`update access_grant set until_at = now() where course_id = 11 and first_day is null`);
  await rebuild();
  expect(await courseOf(ottoline, person, 11)).toMatchObject({ open: false, opensLater: '2099-01-04' });
});

test('several opens at one group count as several paths: a firm day holds, else the latest counts', async () => {
  const person = await oneOf(`select person_id as id from membership where group_id = 5 and until_at is null order by 1 limit 1`);
  await query(`update access_grant set until_at = now() where course_id = 12`);
  await rebuild();
  const due = async (): Promise<string | null | undefined> => (await courseOf(mirela, person, 12))?.due;
  const at = (day: string, firm = false) => ({ due: { at: { day }, leastDays: null, firm } });
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(5, 12, at('2099-02-01'))] });
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(5, 12, at('2099-03-01'))] });
  expect(await due()).toBe('2099-03-01');
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(5, 12, at('2099-01-15', true))] });
  expect(await due()).toBe('2099-01-15');
});

test('those under way finish an archived course, and nobody else gets in', async () => {
  const [under = 0, fresh = 0] = [
    await oneOf(
      `select e.person_id as id from enrolment e join person p on p.id = e.person_id where p.counted and e.course_id = 2 and e.status = 'under way' order by 1 limit 1`,
    ),
    await oneOf(
      `select p.id from person p join entitlement x on x.set_id = p.set_id and x.course_id = 2 where p.counted and not exists (select 1 from enrolment e where e.person_id = p.id and e.course_id = 2) order by 1 limit 1`,
    ),
  ];
  await query(`update course_version set archived = true where course_id = 2`);
  await rebuild();
  expect([(await courseOf(mirela, under, 2))?.open, (await courseOf(mirela, fresh, 2))?.open]).toEqual([true, false]);
});

test('a person in no group has a course by its own terms, and an administrator sees so', async () => {
  await query(`update course_version set terms = 'everyone' where course_id = 7`);
  const person = await oneOf(`select person_id as id from membership where group_id = 5 and until_at is null order by 1 limit 1`);
  await mirela.apply({ kind: 'remove-members', groupId: 5, personIds: [person] });
  await query(`update membership set until_at = now() where person_id = ${person} and until_at is null`);
  await rebuild();
  expect(await courseOf(mirela, person, 7)).toMatchObject({ open: true, units: expect.any(Number) as number });
  expect((await courseOf(mirela, person, 1))?.open).toBe(false);
});

describe('when access narrows to what is finished', () => {
  /** Somebody who has finished the first unit of a course of several, and no more. */
  async function underWay(): Promise<{ person: number; course: number; unit: number; group: number }> {
    const [found] = await query<{ person: number; course: number; unit: number; group: number }>(`
      select e.person_id::int as person, e.course_id::int as course, u.id::int as unit, m.group_id::int as group from enrolment e join unit_now u on u.course_id = e.course_id and u.position = 1
      join course_now c on c.id = e.course_id and c.pass_score is null join person p on p.id = e.person_id join membership m on m.person_id = p.id and m.until_at is null
      where p.counted and not p.own_windows and e.status = 'under way' and not e.exempt and (select count(*) from membership o where o.person_id = p.id) = 1
        and not exists (select 1 from seat s where s.person_id = p.id)
        and not exists (select 1 from activity_now a left join activity_result r on r.activity_id = a.id and r.enrolment_id = e.id where a.unit_id = u.id and not coalesce(r.finished, false))
        and exists (select 1 from entitlement x where x.set_id = p.set_id and x.course_id = e.course_id and u.id = any(x.units) and array_length(x.units, 1) > 1) order by 1 limit 1`);
    return found ?? { person: 0, course: 0, unit: 0, group: 0 };
  }
  const enrolment = async (person: number, course: number) =>
    (
      await query<{ status: string; day: string | null }>(
        `select status, done_day::text as day from enrolment where person_id = ${person} and course_id = ${course} and is_current`,
      )
    )[0];

  test('they become done that day, the preview says so, and it is taken back when it widens', async () => {
    const { person, course, unit, group } = await underWay();
    expect(person).toBeGreaterThan(0);
    const change = { kind: 'grant-access' as const, end: [], begin: [draft(group, course, { units: [unit] })] };
    const look = await mirela.call('look', { body: { change } });
    const { people } = await mirela.call('lookPeople', { body: { change, list: 'becomeDone', courseId: course, after: null } });
    expect(look.becomeDone.map(({ courseId }) => courseId)).toEqual([course]);
    expect(people.map(({ id }) => id)).toContain(person);
    const { changeId } = await mirela.apply(change);
    expect(await enrolment(person, course)).toEqual({ status: 'done', day: today });
    const back = await mirela.call('look', { body: { change: { kind: 'undo', changeId } } });
    expect(back.noLongerDone.map(({ courseId, people: count }) => [courseId, count])).toEqual([[course, look.becomeDone[0]?.people]]);
    await mirela.apply({ kind: 'undo', changeId });
    expect(await enrolment(person, course)).toEqual({ status: 'under way', day: null });
  });

  test('the turn of the day does the same for a statement that begins then', async () => {
    const { person, course, unit, group } = await underWay();
    const tomorrow = new Date(clock.getTime() + 86_400_000).toISOString().slice(0, 10);
    await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(group, course, { units: [unit], firstDay: tomorrow })] });
    expect((await enrolment(person, course))?.status).toBe('under way');
    clock = new Date(clock.getTime() + 86_400_000);
    await turnDay(site.deps.db, clock);
    expect(await enrolment(person, course)).toEqual({ status: 'done', day: tomorrow });
  });
});

test('a learner’s page counts finished units among those that are open, and leaves out groups at rest', async () => {
  const bao = await site.as('bao');
  const [first] = (await bao.call('myCourses', {})).courses.filter(({ status, units }) => status === 'done' && units > 1);
  const unit = await oneOf(`select id from unit_now where course_id = ${first?.id ?? 0} order by position limit 1`);
  const groups = (await bao.call('myCourses', {})).groups.map(({ id }) => id);
  await mirela.apply({ kind: 'grant-access', end: [], begin: groups.map((group) => draft(group, first?.id ?? 0, { units: [unit] })) });
  expect((await bao.call('myCourses', {})).courses.find(({ id }) => id === first?.id)).toMatchObject({ units: 1, unitsDone: 1 });
  await mirela.apply({ kind: 'set-group-state', groupIds: [groups[0] ?? 0], state: 'archived' });
  expect((await bao.call('myCourses', {})).groups.map(({ id }) => id)).toEqual(groups.slice(1));
  const sheet = await mirela.call('group', { params: { groupId: gullhaven } });
  const several = await oneOf(`
    select count(*) as id from (select m.person_id from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven} join group_now g on g.id = m.group_id and g.state = 'active'
      join person p on p.id = m.person_id and p.counted where m.until_at is null and coalesce(m.first_day <= '${today}', true) and coalesce(m.last_day >= '${today}', true) group by 1 having count(*) > 1) x`);
  expect(sheet.people.inSeveral).toBe(several);
  const open = sheet.courses.fromAbove;
  await mirela.apply({ kind: 'grant-access', end: [], begin: [draft(gullhaven, 1, { effect: 'block', firstDay: '2099-01-01' })] });
  expect((await mirela.call('group', { params: { groupId: gullhaven } })).courses.fromAbove).toBe(open);
});

test('a statement keeps its note, its least time and its firm due day; a due day that is past is warned of, and stops nothing', async () => {
  const crew = 7;
  const [{ id: courseId } = { id: 0 }] = await query<{ id: number }>(`select id::int from course_now where name = 'Search patterns'`);
  const due = { at: { day: addDays(today, -3) }, leastDays: 14, firm: true };
  const begin = [draft(crew, courseId, { due, note: ' Asked for by the coxswain ' })];
  const change: Change = { kind: 'grant-access', end: [], begin };
  const { conflicts } = await mirela.call('look', { body: { change } });
  expect(conflicts).toEqual([expect.objectContaining({ code: 'due day past', blocks: false, count: 1 })]);
  await mirela.apply(change);
  const { courses, rows } = await ottoline.call('accessGrid', { params: { groupId: crew } });
  const cell = rows.find(({ id }) => id === crew)?.cells[courses.findIndex(({ id }) => id === courseId)];
  expect(cell?.grants).toMatchObject([{ due, note: 'Asked for by the coxswain', mayEnd: false }]);
});
