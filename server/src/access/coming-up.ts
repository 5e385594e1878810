import type { Answer, ComingKind, ComingLine, Routes } from '@gate-roster/contract';
import { addDays, type Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, type ProgressSight, seenGroups, seenThrough } from '../accounts/reach.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { groupsOf, isCounted, onlyGroups } from '../people/scope.ts';
import { enrolmentRows } from '../progress/enrolments.ts';
import { hasBegunNothing } from '../seats/idle-seats.ts';
import { reopensDay } from '../progress/rounds.ts';

/*
 * What days will do by themselves. Each kind is one statement for rows of day, course_id, group_id, person_id and is_some; lines
 * are those rows counted, and the people behind a line are those rows themselves, so that the two cannot differ.
 */

interface Asking {
  actor: SignedIn;
  groupId: number;
  withSubgroups: boolean;
  today: Day;
  until: Day;
  sight: ProgressSight;
  own: ReadonlySet<number> | null;
}

/** Windows of the scope's counted learners, each with its person. */
const windows = ({ groupId, withSubgroups, sight }: Asking): SQL => sql`
  select p.id as person_id, x.set_id, x.id, x.course_id, x.first_day, x.last_day, x.units, x.by_grants from person p
  join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
  where ${isCounted(groupId, withSubgroups)} and ${seenThrough(sight, sql`x.via_groups`)}`;

/** The one group whose statement begins or ends a window `w` on its day; null where there are several, or none that is seen. */
const saidAt = ({ own }: Asking, day: SQL): SQL => sql`(
  select case when count(distinct a.group_id) = 1 then min(a.group_id) end from access_grant a where a.row_id = any(w.by_grants) and ${day} and ${onlyGroups(sql`a.group_id`, own)})`;

const membersOf = ({ groupId, withSubgroups }: Asking): SQL => sql`
  select m.person_id, m.group_id, m.last_day from membership m join person p on p.id = m.person_id and p.counted
  where m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)})`;

type PeopleKind = Extract<ComingKind, 'opens' | 'closes' | 'due' | 'opens again' | 'memberships end' | 'accounts end' | 'seats come back'>;
const peopleKinds: Record<PeopleKind, (asking: Asking) => SQL> = {
  opens: (asking) => sql`
    with all_windows as materialized (${windows(asking)})
    select w.first_day as day, w.course_id, ${saidAt(asking, sql`a.first_day = w.first_day`)} as group_id, w.person_id, false as is_some from all_windows w
    where w.first_day > ${asking.today} and w.first_day <= ${asking.until}
      and not exists (select 1 from all_windows o where o.person_id = w.person_id and o.course_id = w.course_id and o.last_day = w.first_day - 1 and o.units @> w.units)`,
  closes: (asking) => sql`
    with all_windows as materialized (${windows(asking)})
    select w.last_day as day, w.course_id, ${saidAt(asking, sql`a.last_day = w.last_day`)} as group_id, w.person_id, coalesce(e.status <> 'done', true) as is_some from all_windows w
    left join enrolment e on e.person_id = w.person_id and e.course_id = w.course_id and e.is_current
    where w.last_day >= ${asking.today} and w.last_day <= ${asking.until}
      and not exists (select 1 from all_windows o where o.person_id = w.person_id and o.course_id = w.course_id and o.first_day = w.last_day + 1 and o.units @> w.units)`,
  due: (asking) => sql`
    select e.due as day, e.course_id, null::bigint as group_id, e.person_id, e.status = 'not begun' as is_some
    from (${enrolmentRows(isCounted(asking.groupId, asking.withSubgroups), sql`true`, { today: asking.today, sight: asking.sight })}) e
    where e.due >= ${asking.today} and e.due <= ${asking.until} and e.status <> 'done' and not e.exempt and not e.lacks_seat`,
  'opens again': (asking) => sql`
    select ${reopensDay} as day, e.course_id, null::bigint as group_id, e.person_id, false as is_some
    from (${windows(asking)}) w join enrolment e on e.person_id = w.person_id and e.course_id = w.course_id and e.is_current and e.status = 'done' and not e.exempt
    join course_now c on c.id = e.course_id and c.valid_months is not null and not c.archived
    where coalesce(w.first_day <= ${reopensDay}, true) and coalesce(w.last_day >= ${reopensDay}, true) and ${reopensDay} > ${asking.today} and ${reopensDay} <= ${asking.until}`,
  'memberships end': (asking) => sql`
    select m.last_day as day, null::bigint as course_id, m.group_id, m.person_id,
      not exists (select 1 from membership o where o.person_id = m.person_id and o.until_at is null and (o.last_day is null or o.last_day > m.last_day)) as is_some
    from (${membersOf(asking)}) m where m.last_day >= ${asking.today} and m.last_day <= ${asking.until}`,
  'accounts end': (asking) => sql`
    select s.last_day as day, null::bigint as course_id, null::bigint as group_id, p.id as person_id, false as is_some from person p
    join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'active'
    where ${isCounted(asking.groupId, asking.withSubgroups)} and s.last_day >= ${asking.today} and s.last_day <= ${asking.until}`,
  'seats come back': (asking) => sql`
    select b.day, null::bigint as course_id, null::bigint as group_id, t.person_id, false as is_some from seat t
    join licence_now l on l.licence_id = t.licence_id and l.idle_days is not null
    cross join lateral (select greatest(${asking.today}::date, (t.got_at at time zone ${asking.actor.timeZone})::date + l.idle_days + 1) as day) b
    where t.until_at is null and t.group_id in (${groupsOf(asking.groupId, asking.withSubgroups)}) and coalesce(l.last_day >= b.day, true)
      and b.day <= ${asking.until} and ${hasBegunNothing}`,
};

type Line = Omit<ComingLine, 'course' | 'group' | 'kind'> & { kind: ComingKind; courseId: number | null; groupId: number | null };

/** So many people on one day are a line of their own; fewer stand together with those of the same week. */
const ownLine = 5;
const byWeek: ReadonlySet<PeopleKind> = new Set(['due', 'opens again']);

/** The rows of a kind, each with the line in which it stands: its day, or the Monday of its week. */
const inLines = (asking: Asking, kind: PeopleKind): SQL => sql`
  select r.*, case when r.is_week then date_trunc('week', r.day)::date else r.day end as line_day from (
    select q.*, ${byWeek.has(kind) ? sql`count(*) over (partition by q.day, q.course_id, q.group_id) < ${ownLine}` : sql`false`} as is_week from (${peopleKinds[kind](asking)}) q
  ) r`;

async function linesOfPeople(db: Queryable, asking: Asking, kind: PeopleKind): Promise<Line[]> {
  const found = await rows<Omit<Line, 'kind' | 'name' | 'licenceId' | 'most'>>(
    db,
    sql`
    select min(r.day)::text as day, max(r.day)::text as "lastDay", case when r.is_week then 'yes' else 'no' end as week, r.course_id as "courseId", r.group_id as "groupId",
      count(distinct r.person_id)::int as people, (count(distinct r.person_id) filter (where r.is_some))::int as some
    from (${inLines(asking, kind)}) r group by r.line_day, r.is_week, r.course_id, r.group_id`,
  );
  return found.map((line) => ({ ...line, kind, name: null, licenceId: null, most: null }));
}

/** Groups, leaders, codes and licences of the scope whose days come: no people behind the number, or not theirs to open. */
async function otherLines(db: Queryable, asking: Asking): Promise<Line[]> {
  const { groupId, withSubgroups, today, until, actor, own } = asking;
  const inScope = groupsOf(groupId, withSubgroups);
  const isComing = (day: SQL): SQL => sql`${day} >= ${today} and ${day} <= ${until}`;
  const endsOn = sql`(v.last_at at time zone ${actor.timeZone})::date`;
  const sees =
    own === null
      ? sql`true`
      : sql`not exists (select 1 from unnest(v.group_ids) u(group_id) where not ${onlyGroups(sql`u.group_id`, own)})`;
  const found = await rows<Omit<Line, 'lastDay' | 'week'>>(
    db,
    sql`
    select g.first_day::text as day, 'group begins' as kind, null::bigint as "courseId", g.id as "groupId", null as name, null::bigint as "licenceId", s.people, 0 as some, null::int as most
      from group_now g cross join lateral (select count(distinct person_id)::int as people from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = g.id and m.until_at is null) s
      where g.id in (${inScope}) and g.first_day > ${today} and g.first_day <= ${until}
    union all
    select g.last_day::text, 'group ends', null, g.id, null, null, s.people, 0, null
      from group_now g cross join lateral (select count(distinct person_id)::int as people from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = g.id and m.until_at is null) s
      where g.id in (${inScope}) and ${isComing(sql`g.last_day`)}
    union all
    select l.last_day::text, 'leader ends', null, l.group_id, trim(n.given_name || ' ' || n.family_name), null, 1, 0, null
      from leadership l join personal_now n on n.person_id = l.person_id where l.until_at is null and l.group_id in (${inScope}) and ${isComing(sql`l.last_day`)}
    union all
    select ${endsOn}::text, 'code ends', null, v.group_id, left(v.code, 5) || '-' || substr(v.code, 6), null, 0, (select count(*)::int from join_code_use u where u.code_id = v.code_id), v.use_limit
      from join_code_version v where v.until_at is null and not v.paused and v.group_id in (${inScope}) and ${isComing(endsOn)} and ${sees}
    union all
    select l.last_day::text, 'licence ends', null, l.group_id, l.name, l.licence_id, (select count(*)::int from seat t where t.licence_id = l.licence_id and t.until_at is null), 0, l.seats
      from licence_now l where l.group_id in (${inScope}) and ${isComing(sql`l.last_day`)}`,
  );
  return found.map((line) => ({ ...line, lastDay: line.day, week: 'no' }));
}

const mostLines = 400;

/** What the next days will do by themselves in a scope, by day. */
export async function comingUp(
  db: Queryable,
  actor: SignedIn,
  scope: { groupId: number; withSubgroups: boolean },
  { days, kind }: { days: number; kind?: ComingKind | undefined },
): Promise<Answer<Routes['comingUp']>> {
  const asking = await askingOf(db, actor, scope, addDays(actor.today, days));
  const wanted = Object.keys(peopleKinds).filter((each) => kind === undefined || each === kind) as PeopleKind[];
  const lines: Line[] = [];
  for (const each of wanted) for (const line of await linesOfPeople(db, asking, each)) lines.push(line);
  for (const line of await otherLines(db, asking)) if (kind === undefined || line.kind === kind) lines.push(line);
  lines.sort((a, b) => a.day.localeCompare(b.day) || b.people - a.people);
  const shown = lines.slice(0, mostLines);
  const names = async (table: 'course_now' | 'group_now', list: readonly (number | null)[]): Promise<Map<number, string>> => {
    const wantedIds = [...new Set(list.flatMap((id) => id ?? []))];
    if (wantedIds.length === 0) return new Map();
    const found = await rows<{ id: number; name: string }>(db, sql`select id, name from ${sql.identifier(table)} where id in ${wantedIds}`);
    return new Map(found.map(({ id, name }) => [id, name]));
  };
  const courses = await names(
    'course_now',
    shown.map(({ courseId }) => courseId),
  );
  const groups = await names(
    'group_now',
    shown.map(({ groupId }) => groupId),
  );
  const named = (id: number | null, from: Map<number, string>) => (id === null ? null : { id, name: from.get(id) ?? '' });
  return {
    until: asking.until,
    lines: shown.map(({ courseId, groupId, ...line }) => ({ ...line, course: named(courseId, courses), group: named(groupId, groups) })),
    more: lines.length - shown.length,
  };
}

const namesAtOnce = 100;

/** The people behind a line, by name. */
export async function comingPeople(
  db: Queryable,
  actor: SignedIn,
  scope: { groupId: number; withSubgroups: boolean },
  line: {
    day: Day;
    week: 'yes' | 'no';
    days: number;
    kind: ComingKind;
    courseId?: number | undefined;
    aboutGroupId?: number | undefined;
    after: number;
  },
): Promise<Answer<Routes['comingPeople']>> {
  if (!(line.kind in peopleKinds)) return { people: [], next: null };
  const asking = await askingOf(db, actor, scope, addDays(actor.today, line.days));
  const found = await rows<{ id: number; name: string; some: boolean }>(
    db,
    sql`
    select r.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, bool_or(r.is_some) as some
    from (${inLines(asking, line.kind as PeopleKind)}) r join personal_now n on n.person_id = r.person_id
    where r.is_week = ${line.week === 'yes'} and r.line_day = case when ${line.week === 'yes'} then date_trunc('week', ${line.day}::date)::date else ${line.day}::date end and r.course_id is not distinct from ${line.courseId ?? null}::bigint and r.group_id is not distinct from ${line.aboutGroupId ?? null}::bigint
    group by r.person_id, n.given_name, n.family_name order by n.family_name collate people_order, n.given_name collate people_order, r.person_id
    offset ${line.after} limit ${namesAtOnce + 1}`,
  );
  return { people: found.slice(0, namesAtOnce), next: found.length > namesAtOnce ? line.after + namesAtOnce : null };
}

async function askingOf(db: Queryable, actor: SignedIn, scope: { groupId: number; withSubgroups: boolean }, until: Day): Promise<Asking> {
  return { actor, ...scope, today: actor.today, until, sight: await progressSight(db, actor), own: await seenGroups(db, actor) };
}
