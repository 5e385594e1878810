import { addDays, comingSays, courseRules, type Day, reopensOn, resolve } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { grantsByCourse, learners } from './load-rules.ts';
import { wholeTree } from '../groups/queries.ts';

/*
 * What days will do, against the rules asked for each person on each day; and that the people behind a line are those it counts.
 */
const [gullhaven, inshore, crew] = [3, 5, 7];
let site: Site;
let mirela: Client;
let ottoline: Client;
let today: Day;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  ({ today } = await mirela.call('me', {}));
  const draft = { effect: 'open', withSubgroups: true, firm: false, units: null, due: null } as const;
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [
      { ...draft, groupId: gullhaven, courseId: 7, firstDay: addDays(today, 4), lastDay: addDays(today, 20) },
      { ...draft, groupId: inshore, courseId: 7, firstDay: addDays(today, 10), lastDay: addDays(today, 30) },
      { ...draft, effect: 'block', groupId: crew, courseId: 2, firstDay: addDays(today, 6), lastDay: addDays(today, 9) },
    ],
  });
  const people = await execute<{ id: number }>(
    site.databaseUrl,
    `select person_id::int as id from membership where group_id = ${crew} and until_at is null order by 1 limit 6`,
  );
  for (const [index, { id }] of people.entries())
    await execute(
      site.databaseUrl,
      `update membership set last_day = '${addDays(today, 3 + index)}' where person_id = ${id} and group_id = ${crew}`,
    );
  await mirela.apply({
    kind: 'set-person-state',
    personIds: [people[5]?.id ?? 0],
    state: 'active',
    firstDay: null,
    lastDay: addDays(today, 12),
  });
  await execute(site.databaseUrl, `delete from day_turn`);
  await site.deps.db.transaction(async (tx) => (await import('../database/rebuild.ts')).rebuildDerived(tx, today));
});
afterAll(() => site.stop());

const days = 45;
/** By kind, day and course: who, as the lines say and as their people are. */
async function announced(kind: 'opens' | 'closes' | 'opens again'): Promise<Map<string, number[]>> {
  const found = new Map<string, number[]>();
  const { lines } = await ottoline.call('comingUp', { params: { groupId: gullhaven }, query: { days, kind } });
  for (const line of lines) {
    const ids: number[] = [];
    for (let after: number | null = 0; after !== null;) {
      const page: { people: { id: number }[]; next: number | null } = await ottoline.call('comingPeople', {
        params: { groupId: gullhaven },
        query: {
          days,
          kind,
          day: line.day,
          week: line.week,
          courseId: line.course?.id ?? 0,
          after,
          ...(line.group ? { aboutGroupId: line.group.id } : {}),
        },
      });
      ids.push(...page.people.map(({ id }) => id));
      after = page.next;
    }
    expect([kind, line.day, ids.length]).toEqual([kind, line.day, line.people]);
    const key = `${line.week === 'yes' ? `week of ${line.lastDay}` : line.day}/${line.course?.id ?? 0}`;
    found.set(
      key,
      [...(found.get(key) ?? []), ...ids].sort((a, b) => a - b),
    );
  }
  return found;
}

test('courses that open and close are those that the rules open and close, person by person and day by day', async () => {
  const { db } = site.deps;
  const tree = await wholeTree(db);
  const counted = await execute<{ id: number }>(
    site.databaseUrl,
    `select p.id::int from person p where p.counted and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven}
       where m.person_id = p.id and m.until_at is null and coalesce(m.last_day >= '${today}', true) and coalesce(m.first_day <= '${today}', true))`,
  );
  const inBranch = new Set(tree.branch(gullhaven));
  const all = await learners(
    db,
    counted.map(({ id }) => id),
  );
  const expected = { opens: new Map<string, number[]>(), closes: new Map<string, number[]>() };
  for (const { course, grants } of await grantsByCourse(db, null)) {
    const rules = courseRules(tree, course, grants);
    for (const learner of all) {
      const unitsOn = (day: Day): readonly number[] => resolve(rules, learner, day).units;
      // Those who have it through another branch alone are not the leader’s to see.
      const isSeen = learner.memberships.every(({ groupId }) => inBranch.has(groupId));
      if (!isSeen) continue;
      let before = unitsOn(today);
      for (let n = 1; n <= days + 1; n++) {
        const day = addDays(today, n);
        const now = unitsOn(day);
        const put = (list: Map<string, number[]>, key: string) =>
          list.set(
            key,
            [...(list.get(key) ?? []), learner.personId].sort((a, b) => a - b),
          );
        if (n <= days && now.some((unit) => !before.includes(unit))) put(expected.opens, `${day}/${course.id}`);
        if (before.some((unit) => !now.includes(unit))) put(expected.closes, `${addDays(day, -1)}/${course.id}`);
        before = now;
      }
    }
  }
  const whole = new Set(
    all.filter(({ memberships }) => memberships.every(({ groupId }) => inBranch.has(groupId))).map(({ personId }) => personId),
  );
  for (const kind of ['opens', 'closes'] as const) {
    const said = [...(await announced(kind))]
      .map(([key, ids]) => [key, ids.filter((id) => whole.has(id))] as const)
      .filter(([, ids]) => ids.length > 0);
    expect(new Map(said)).toEqual(expected[kind]);
    expect(said.length).toBeGreaterThan(2);
  }
});

test('rounds are announced for the day on which they open, and memberships that end say who would be in no group', async () => {
  const courses = await execute<{ id: number; months: number; before: number | null }>(
    site.databaseUrl,
    `select id::int, valid_months as months, reopens_days as before from course_now where valid_months is not null`,
  );
  const done = await execute<{ person: number; course: number; day: Day }>(
    site.databaseUrl,
    `select e.person_id::int as person, e.course_id::int as course, e.done_day::text as day from enrolment e join person p on p.id = e.person_id and p.counted
     where e.is_current and e.status = 'done' and not e.exempt and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven} where m.person_id = p.id and m.until_at is null and m.last_day is null)`,
  );
  const due = done.filter(({ course, day }) => {
    const rule = courses.find(({ id }) => id === course);
    const on = rule && reopensOn(day, { validMonths: rule.months, reopensDays: rule.before });
    return on !== undefined && on > today && on <= addDays(today, days);
  });
  const said = [...(await announced('opens again'))].flatMap(([, ids]) => ids);
  expect(due.length).toBeGreaterThan(3);
  expect(said).toEqual(expect.arrayContaining(due.map(({ person }) => person)));
  const { lines } = await ottoline.call('comingUp', { params: { groupId: gullhaven }, query: { days, kind: 'memberships end' } });
  const ending = lines.filter(({ group }) => group?.id === crew);
  expect(ending.reduce((sum, { people }) => sum + people, 0)).toBe(6);
  const [alone] = await execute<{ people: number }>(
    site.databaseUrl,
    `select count(*)::int as people from membership m where m.group_id = ${crew} and m.until_at is null and m.last_day between '${today}' and '${addDays(today, days)}'
       and not exists (select 1 from membership o where o.person_id = m.person_id and o.until_at is null and o.group_id <> ${crew})`,
  );
  expect(ending.reduce((sum, { some }) => sum + some, 0)).toBe(alone?.people);
});

test('a calendar gives the same days as the screen, to whoever has its address, as far as its owner sees, until it is replaced', async () => {
  const { key } = await ottoline.call('replaceCalendar', { body: {} });
  const stranger = await site.as(null);
  const text = await stranger.call('calendar', { params: { key } });
  const { lines } = await ottoline.call('comingUp', { params: { groupId: gullhaven }, query: { days: 120 } });
  // RFC 5545: lines end in CR LF and have at most 75 octets.
  expect(text.split('\r\n').every((line) => !line.includes('\n') && Buffer.byteLength(line) <= 75)).toBe(true);
  const events = text.replace(/\r\n /gu, '').split('BEGIN:VEVENT').slice(1);
  const fieldOf = (event: string, name: string): string => new RegExp(`^${name}[^:]*:(.*)$`, 'mu').exec(event)?.[1]?.trim() ?? '';
  const said = events.map((event) => `${fieldOf(event, 'DTSTART')} ${fieldOf(event, 'SUMMARY')}`).sort();
  expect(said).toEqual(
    lines
      .map(
        ({ day, course, group, name, ...line }) =>
          `${day.replaceAll('-', '')} ${comingSays({ ...line, course: course?.name ?? '', group: group?.name ?? '', name: line.kind === 'leader ends' ? 'A leader' : (name ?? '') })}`,
      )
      .map((line) => line.replace(/([,;\\])/gu, '\\$1'))
      .sort(),
  );
  expect(said.length).toBeGreaterThan(5);
  expect(new Set(events.map((event) => fieldOf(event, 'UID'))).size).toBe(events.length);
  expect((await ottoline.call('myCalendar', {})).readAt).not.toBeNull();

  await ottoline.call('replaceCalendar', { body: {} });
  expect((await stranger.send('calendar', { params: { key } })).status).toBe(404);
  const next = await ottoline.call('replaceCalendar', { body: {} });
  await execute(
    site.databaseUrl,
    `update leadership set last_day = '${addDays(today, -1)}' where group_id = ${gullhaven} and until_at is null`,
  );
  expect((await stranger.send('calendar', { params: { key: next.key } })).status).toBe(404);
});

test('an administrator’s calendar holds what is coming up for everybody', async () => {
  const mirela = await site.as('mirela');
  const { key } = await mirela.call('replaceCalendar', { body: {} });
  const text = await (await site.as(null)).call('calendar', { params: { key } });
  const { lines } = await mirela.call('comingUp', { params: { groupId: 1 }, query: { days: 120 } });
  expect(text.split('BEGIN:VEVENT').length - 1).toBe(lines.length);
});
