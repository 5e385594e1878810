import { addDays, type Day, dayOfMoment, dueDay } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import fc from 'fast-check';
import { rows } from '../database/connect.ts';
import { rebuildDerived } from '../database/rebuild.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { ownDueDays } from './due-days.ts';

/*
 * Due days against a second computation that walks back day by day over the rows of the history: which groups somebody was in at
 * the end of a day, and where those groups stood then.
 */
let site: Site;
let mirela: Client;
let today: Day;
const zone = 'Atlantic/Faroe';

beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ({ today } = await mirela.call('me', {}));
});
afterAll(() => site.stop());

const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);
const dayOf = (moment: Date): Day => dayOfMoment(moment, zone);

interface Held {
  person: number;
  group: number;
  from: Day;
  until: Day | null;
}
interface Placed {
  group: number;
  parent: number | null;
  from: Day;
  until: Day | null;
}
const on = (span: { from: Day; until: Day | null }, day: Day): boolean => span.from <= day && (span.until === null || day < span.until);

async function history(): Promise<{ memberships: Held[]; placements: Placed[] }> {
  const memberships = await query<{
    person: number;
    group: number;
    first: string | null;
    last: string | null;
    from: Date;
    until: Date | null;
  }>(
    `select person_id::int as person, group_id::int as group, first_day::text as first, last_day::text as last, from_at as from, until_at as until from membership`,
  );
  const placements = await query<{ group: number; parent: number | null; from: Date; until: Date | null }>(
    `select group_id::int as group, parent_id::int as parent, from_at as from, until_at as until from group_version order by row_id`,
  );
  return {
    memberships: memberships.map(({ person, group, first, last, from, until }) => {
      const ends = [...(until ? [dayOf(until)] : []), ...(last ? [addDays(last, 1)] : [])].sort();
      return { person, group, from: first ?? dayOf(from), until: ends[0] ?? null };
    }),
    placements: placements.map(({ group, parent, from, until }) => ({ group, parent, from: dayOf(from), until: until && dayOf(until) })),
  };
}

/** The first day of the run, walking back from today. */
function sinceByWalking({ memberships, placements }: Awaited<ReturnType<typeof history>>, person: number, top: number): Day {
  const first = new Map<number, Placed>();
  for (const each of placements) if (!first.has(each.group) && (each.until === null || each.from < each.until)) first.set(each.group, each);
  const parentOf = (group: number, day: Day): number | null => {
    const stood = placements.find((each) => each.group === group && on(each, day)) ?? first.get(group);
    return stood?.parent ?? null;
  };
  const theirs = memberships.filter((held) => held.person === person);
  const reaches = (day: Day): boolean =>
    theirs.some((held) => {
      if (!on(held, day)) return false;
      for (let at: number | null = held.group; at !== null; at = parentOf(at, day)) if (at === top) return true;
      return false;
    });
  let day = today;
  while (reaches(addDays(day, -1))) day = addDays(day, -1);
  return day;
}

test('days count from the first day of the unbroken run in which the statement reached the person', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.nat(10_000), { minLength: 160, maxLength: 160 }), async (numbers) => {
      let at = 0;
      const draw = (below: number): number => (numbers[at++ % numbers.length] ?? 0) % below;
      const moment = (daysAgo: number): string => `${addDays(today, -daysAgo)}T10:00:00Z`;
      const groups = (await query<{ id: number }>(`select id::int from group_now where parent_id is not null order by id`)).map(
        ({ id }) => id,
      );
      const pick = (): number => groups[draw(groups.length)] ?? 0;
      // Former memberships of people, some of which end where the present one begins.
      const people = await query<{ id: number; since: string }>(
        `select m.person_id::int as id, (m.from_at at time zone '${zone}')::date::text as since from membership m join person p on p.id = m.person_id where m.until_at is null and m.first_day is null order by m.row_id offset ${draw(900)} limit 40`,
      );
      for (const { id, since } of people) {
        const until = draw(3) === 0 ? since : addDays(today, -draw(80));
        await query(`insert into membership (person_id, group_id, came_by, from_at, until_at) values ($1, $2, 'hand', $3, $4)`, [
          id,
          pick(),
          `${addDays(until, -1 - draw(200))}T10:00:00Z`,
          `${until}T10:00:00Z`,
        ]);
      }
      // Groups that came to where they are from another region.
      const regions = (await query<{ id: number }>(`select id::int from group_now where parent_id = 1 order by id`)).map(({ id }) => id);
      for (const group of new Set(Array.from({ length: 6 }, pick).filter((id) => !regions.includes(id)))) {
        const daysAgo = 1 + draw(90);
        await query(
          `update group_version set from_at = $2 where group_id = $1 and until_at is null and from_at < $2
           and not exists (select 1 from group_version o where o.group_id = $1 and o.until_at is not null)`,
          [group, moment(daysAgo)],
        );
        await query(
          `insert into group_version (group_id, parent_id, name, name_key, from_at, until_at)
           select group_id, $2, name, name_key, '2024-01-01T00:00:00Z', from_at from group_version where group_id = $1 and until_at is null
             and not exists (select 1 from group_branch where ancestor_id = $1 and group_id = $2) and not exists (select 1 from group_version o where o.group_id = $1 and o.until_at is not null)`,
          [group, regions[draw(regions.length)]],
        );
      }
      for (let n = 0; n < 4; n++)
        await query(
          `insert into access_grant (group_id, course_id, effect, due_days, due_least_days, due_firm, made_by, from_at, made_at) values ($1, $2, 'open', $3, $4, $5, 1, $6, $6)`,
          [pick(), 1 + draw(12), draw(60), draw(2) === 0 ? null : draw(90), draw(3) === 0, moment(draw(300))],
        );
      // Courses that are valid for a time, some people in a later round of them, and some with more time.
      await query(`update course_version set valid_months = 12 where course_id % 2 = ${draw(2)}`);
      await query(
        `update enrolment set round_opened_day = case when person_id % 5 = ${draw(5)} then $1::date - (person_id % 150)::int end where is_current`,
        [today],
      );
      await query(
        `insert into course_exception (person_id, course_id, kind, day) select id, ${1 + draw(12)}, 'more time', $1::date + (id % 90)::int - 30 from person where id % 9 = ${draw(9)} on conflict do nothing`,
        [today],
      );
      await site.deps.db.transaction((tx) => rebuildDerived(tx, today));

      const past = await history();
      const paths = await query<{
        window: number;
        person: number;
        top: number | null;
        grant_day: string | null;
        due_day: string | null;
        due_days: number | null;
        least_days: number | null;
        firm: boolean;
        not_before: string | null;
        opened: string | null;
      }>(`
        select e.id::int as window, p.id::int as person, a.group_id::int as top, d.grant_day::text, d.due_day::text, d.due_days, d.least_days, d.firm, d.not_before::text,
          (select n.round_opened_day::text from enrolment n where n.person_id = p.id and n.course_id = e.course_id and n.is_current) as opened
        from person p join entitlement e on (e.set_id = p.set_id and not p.own_windows) or (e.person_id = p.id and p.own_windows)
        join entitlement_due d on d.entitlement_id = e.id left join access_grant a on a.row_id = d.grant_id
        where p.counted and e.due_is_own and not e.needs_seat and p.id % 7 = ${draw(7)} and coalesce(e.first_day <= '${today}', true) and coalesce(e.last_day >= '${today}', true)`);
      expect(paths.length).toBeGreaterThan(50);
      const byPair = new Map<string, typeof paths>();
      for (const path of paths) byPair.set(`${path.window}/${path.person}`, [...(byPair.get(`${path.window}/${path.person}`) ?? []), path]);
      const expected = new Map(
        [...byPair].map(([key, list]) => [
          key,
          dueDay(
            list.map(({ person, top, grant_day, due_day, due_days, least_days, firm, not_before, opened }) => ({
              notBefore: not_before,
              roundOpened: opened,
              rule:
                due_day !== null
                  ? { at: { day: due_day }, leastDays: least_days, firm }
                  : due_days !== null
                    ? { at: { days: due_days }, leastDays: least_days, firm }
                    : null,
              couldBegin: [grant_day ?? '', top === null ? '' : sinceByWalking(past, person, top)].sort().at(-1) ?? '',
            })),
          ),
        ]),
      );
      const pairs = JSON.stringify([...byPair.values()].map(([path]) => ({ window_id: path?.window, person_id: path?.person })));
      const found = await rows<{ window_id: number; person_id: number; due: Day | null }>(
        site.deps.db,
        ownDueDays(
          sql`select window_id, person_id from jsonb_to_recordset(${pairs}::jsonb) as r(window_id bigint, person_id bigint)`,
          today,
        ),
      );
      expect(new Map(found.map(({ window_id, person_id, due }) => [`${window_id}/${person_id}`, due]))).toEqual(expected);
    }),
    { numRuns: 5, endOnFailure: true },
  );
}, 300_000);

describe('on the demo world', () => {
  let fresh: Site;
  let admin: Client;
  beforeAll(async () => {
    fresh = await startSite();
    admin = await fresh.as('mirela');
  });
  afterAll(() => fresh.stop());
  /** By person, course and the statements that open it. */
  const deadlines = async (): Promise<Map<string, Day | null>> => {
    const found = await rows<{ person_id: number; course_id: number; by_grants: number[]; due: Day | null }>(
      fresh.deps.db,
      sql`select d.person_id, x.course_id, x.by_grants, d.due from (${ownDueDays(
        sql`select e.id as window_id, p.id as person_id from person p join entitlement e on (e.set_id = p.set_id and not p.own_windows) or (e.person_id = p.id and p.own_windows) where e.due_is_own and p.counted`,
        today,
      )}) d join entitlement x on x.id = d.window_id`,
    );
    return new Map(found.map(({ person_id, course_id, by_grants, due }) => [`${person_id}/${course_id} by ${by_grants.join()}`, due]));
  };

  test('a crew that moves within what a statement reaches keeps everybody’s deadline, and one it newly reaches counts from today', async () => {
    const before = await deadlines();
    const overdueBefore = (await admin.call('progress', { params: { groupId: 37 } })).total.overdue;
    await admin.apply({ kind: 'move-groups', groupIds: [37], intoId: 27 });
    const after = await deadlines();
    for (const [key, due] of after) if (before.has(key)) expect([key, due]).toEqual([key, before.get(key)]);
    const gained = [...after].filter(([key]) => !before.has(key));
    expect(gained.length).toBeGreaterThan(10);
    for (const [, due] of gained) expect(due === null || due > today).toBe(true);
    expect((await admin.call('progress', { params: { groupId: 37 } })).total.overdue).toBeLessThanOrEqual(overdueBefore);
  });

  test('moving to another crew, a second crew, and taking that back leave the deadline as it was', async () => {
    const [person] = await execute<{ id: number; group: number; course: number }>(
      fresh.databaseUrl,
      `select p.id::int, m.group_id::int as group, x.course_id::int as course from person p join entitlement x on x.set_id = p.set_id and x.due_is_own
       join membership m on m.person_id = p.id and m.until_at is null join group_now g on g.id = m.group_id where p.counted and not p.own_windows and g.parent_id = 3
         and (select count(*) from membership o where o.person_id = p.id) = 1 limit 1`,
    );
    const { id = 0, group = 0, course = 0 } = person ?? {};
    const due = async (): Promise<Day | null | undefined> =>
      [...(await deadlines())].find(([key]) => key.startsWith(`${id}/${course} `))?.[1];
    const was = await due();
    expect(was).toEqual(expect.any(String));
    const sibling = group === 5 ? 6 : 5;
    await admin.apply({ kind: 'move-members', fromId: group, intoId: sibling, personIds: [id] });
    expect(await due()).toBe(was);
    const { changeId } = await admin.apply({ kind: 'add-members', groupId: group, personIds: [id], firstDay: null, lastDay: null });
    expect(await due()).toBe(was);
    await admin.apply({ kind: 'undo', changeId });
    expect(await due()).toBe(was);
  });
});
