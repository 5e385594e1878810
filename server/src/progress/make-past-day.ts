import { type Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { refreshEntitlements } from '../access/entitlements.ts';
import { oneRow, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { rebuildBranches } from '../groups/branches.ts';
import { rebuildSetBranches, refreshSets } from '../people/membership-sets.ts';
import { enrolmentRows } from './enrolments.ts';
import { keepStandingsOf } from './standings.ts';
import { finishedOf, isDoneWith } from './status-after.ts';

/*
 * A past day as it stood at its end, in a schema whose tables have the names of ours and stand before them on the search path: rows that
 * had begun by then, without the end of those that ended later. What is derived is then worked out from them by the same code as today's,
 * so that a report, a filter or a file of that day is the same statement on other tables.
 */

/** Tables with a history that reports rest on. Names, lists, tags' names and who leads are read as of today. */
const historic = [
  'group_version',
  'membership',
  'person_state',
  'person_tag',
  'access_grant',
  'course_version',
  'unit_version',
  'activity_version',
  'course_set_version',
  'course_set_item',
  'course_exception',
  'licence_version',
  'seat',
  'seat_line',
] as const;

/** Worked out from those, by the same code as today's. */
const derived = [
  'group_branch',
  'branch_day',
  'membership_set',
  'membership_set_group',
  'set_in_branch',
  'entitlement',
  'entitlement_due',
  'course_in_set',
  'standing',
  'standing_mark',
  'standing_settled',
  'enrolment',
  'activity_result',
  'person',
] as const;

const views = ['group_now', 'course_now', 'unit_now', 'activity_now', 'course_set_now', 'licence_now', 'licence_course'] as const;

/** Makes the day in a schema that is new. @param schema Its name; only letters, digits and low lines. */
export async function makePastDay(tx: Transaction, schema: string, day: Day, timeZone: string): Promise<void> {
  const end = sql`((${day}::date + 1)::timestamp at time zone ${timeZone})`;
  const bare = (name: string): SQL => sql.raw(`"${name}"`);
  await tx.execute(sql`set local statement_timeout = 0`);
  const definitions = new Map<string, string>();
  for (const name of views)
    definitions.set(name, (await oneRow<{ text: string }>(tx, sql`select pg_get_viewdef(${name}::regclass) as text`)).text);
  await tx.execute(sql`create schema ${bare(schema)}`);
  await tx.execute(sql`set local search_path = ${bare(schema)}, public`);
  for (const name of [...historic, ...derived])
    await tx.execute(sql`create table ${bare(schema)}.${bare(name)} (like public.${bare(name)} including all)`);
  for (const name of historic) await copyStanding(tx, schema, name, end);
  for (const [name, text] of definitions) await tx.execute(sql`create view ${bare(schema)}.${bare(name)} as ${sql.raw(text)}`);
  await tx.execute(
    sql`analyze ${sql.join(
      [...historic].map((name) => sql.identifier(name)),
      sql`, `,
    )}`,
  );
  // What is cached by the version of the structure is this day's own.
  await tx.execute(sql`create table ${bare(schema)}.structure_version as select nextval('structure_version_number')::bigint as version`);
  await tx.execute(sql`
    with recursive reach as (
      select course_set_id, course_id, inner_set_id, from_at as since from course_set_item where until_at is null
      union select r.course_set_id, i.course_id, i.inner_set_id, greatest(r.since, i.from_at) from reach r join course_set_item i on i.course_set_id = r.inner_set_id and i.until_at is null
    )
    insert into course_in_set select course_set_id, course_id, min(since) from reach where course_id is not null group by 1, 2`);
  await copyPeople(tx);
  await deriveAccess(tx, day);
  await arrangeAsToday(tx);
  await copyResults(tx, end);
  await copyEnrolments(tx, end, day, timeZone);
  await tx.execute(
    sql`analyze group_branch, membership, membership_set, membership_set_group, set_in_branch, person, entitlement, enrolment, activity_result`,
  );
  await keepStandingsOf(tx, null, day);
  // Deriving marked every set; a set that stays marked is worked out again at each look.
  await tx.execute(sql`delete from ${bare(schema)}.standing_mark`);
  await tx.execute(sql`analyze standing`);
  await noteEnrolled(tx, schema, day);
}

/** Rows that had begun; those that ended later stand. Reasons and proofs are personal, and of no use here. */
async function copyStanding(tx: Transaction, schema: string, name: string, end: SQL): Promise<void> {
  const columns = await rows<{ name: string }>(
    tx,
    sql`select column_name as name from information_schema.columns where table_schema = 'public' and table_name = ${name} order by ordinal_position`,
  );
  const personal = name === 'course_exception' ? ['reason', 'proof'] : [];
  const list = sql.join(
    columns.map(({ name: column }) => sql.identifier(column)),
    sql`, `,
  );
  const values = sql.join(
    columns.map(({ name: column }) =>
      column === 'until_at'
        ? sql`case when t.until_at < ${end} then t.until_at end`
        : personal.includes(column)
          ? sql`null`
          : sql`t.${sql.identifier(column)}`,
    ),
    sql`, `,
  );
  await tx.execute(sql`
    insert into ${sql.identifier(schema)}.${sql.identifier(name)} (${list}) overriding system value select ${values} from public.${sql.identifier(name)} t where t.from_at < ${end}`);
}

/** Everybody, in no set yet. When somebody was last active is as of today. */
async function copyPeople(tx: Transaction): Promise<void> {
  await tx.insert(tables.membershipSet).values({ key: '' });
  await tx.execute(sql`
    insert into person (id, role, set_id, counted, own_windows, signed_in_at, active_at, erased_at, created_at) overriding system value
    select p.id, p.role, s.id, false, false, p.signed_in_at, p.active_at, p.erased_at, p.created_at from public.person p cross join membership_set s
    where exists (select 1 from person_state y where y.person_id = p.id and y.until_at is null)`);
}

async function deriveAccess(tx: Transaction, day: Day): Promise<void> {
  await rebuildBranches(tx);
  // Those who were under way in an archived course could go on: asked for when access is worked out.
  await tx.execute(sql`insert into enrolment (id, person_id, course_id, round, is_current, status) overriding system value
    select e.id, e.person_id, e.course_id, e.round, e.is_current, 'under way' from public.enrolment e join course_now c on c.id = e.course_id and c.archived where e.is_current and e.status = 'under way'`);
  const { count } = await refreshSets(tx, 'all', day);
  await count();
  await refreshEntitlements(tx, { sets: 'all', persons: 'all', courses: 'all' });
  await tx.execute(sql`delete from enrolment`);
}

/**
 * A scope is the groups of its branch today, as they stood then: a group that still stands is arranged as it is now, one that is gone as it
 * was. Access is worked out before, along the paths of then.
 */
async function arrangeAsToday(tx: Transaction): Promise<void> {
  await tx.execute(sql`
    update group_version v set parent_id = t.parent_id from public.group_version t where t.group_id = v.group_id and t.until_at is null and v.until_at is null and v.parent_id is distinct from t.parent_id`);
  await tx.execute(sql`
    insert into group_version overriding system value select t.* from public.group_version t where t.until_at is null and not exists (select 1 from group_version v where v.group_id = t.group_id and v.until_at is null)
      and exists (select 1 from public.group_branch b join group_version v on v.group_id = b.group_id and v.until_at is null where b.ancestor_id = t.group_id)`);
  await rebuildBranches(tx);
  await rebuildSetBranches(tx);
  await tx.execute(sql`update structure_version set version = nextval('structure_version_number')`);
}

/** What was known of each activity: reports received by then, what was known before they were kept, marks and ticks. */
async function copyResults(tx: Transaction, end: SQL): Promise<void> {
  await tx.execute(sql`
    insert into activity_result (enrolment_id, activity_id, finished, score, tries, last_at)
    select enrolment_id, activity_id, bool_or(finished), max(score), sum(tries), max(at) from (
      select r.enrolment_id, r.activity_id, r.finished, r.score, 1 as tries, r.at from report r
      where r.enrolment_id is not null and r.received_at < ${end} and r.at < ${end}
        and not exists (select 1 from report_void v where v.report_id = r.id and v.source_id = r.source_id and v.received_at < ${end})
      union all
      select k.enrolment_id, k.activity_id, (k.before ->> 'finished')::boolean, (k.before ->> 'score')::double precision, (k.before ->> 'tries')::int, (k.before ->> 'lastAt')::timestamptz
      from public.activity_result k where k.before is not null and (k.before ->> 'lastAt')::timestamptz < ${end}
      union all
      select k.enrolment_id, k.activity_id, k.finished, k.score, k.tries, k.last_at from public.activity_result k
      where k.before is null and k.last_at < ${end} and not exists (select 1 from report r where r.enrolment_id = k.enrolment_id and r.activity_id = k.activity_id)
      union all
      select w.enrolment_id, w.activity_id, coalesce(m.score >= (a.hand_in ->> 'passScore')::double precision, true), m.score * 100 / nullif((a.hand_in ->> 'bestScore')::double precision, 0), 1, m.marked_at
      from mark m join work_version v on v.id = m.version_id join work w on w.id = v.work_id join activity_now a on a.id = w.activity_id and a.hand_in is not null
      join public.activity_result k on k.enrolment_id = w.enrolment_id and k.activity_id = w.activity_id and k.last_at >= ${end}
      where m.verdict = 'marked' and m.from_at < ${end} and coalesce(m.until_at >= ${end}, true)
    ) known group by 1, 2`);
}

/**
 * Enrolments with the round of then. Done is done, if it was known by then; what was reported, taken back or counted elsewhere since does
 * not count, and status and score follow from the results of then under the course of then.
 */
async function copyEnrolments(tx: Transaction, end: SQL, day: Day, timeZone: string): Promise<void> {
  const units = sql`coalesce(x.units, '{}')`;
  const score = sql`(select avg(r.score) from activity_result r join activity_now a on a.id = r.activity_id where r.enrolment_id = e.id and a.scored)`;
  await tx.execute(sql`
    insert into enrolment (id, person_id, course_id, round, is_current, round_opened_day, status, begun_at, done_at, done_day, score, finished_activities, exempt, done_by_narrowing, done_elsewhere, via_groups) overriding system value
    select e.id, e.person_id, e.course_id, e.round, e.is_last, e.round_opened_day, stood.status, case when e.begun_at < ${end} and (known.results > 0 or not known.is_late) then e.begun_at end,
      case when stood.status = 'done' then case when known.kept then e.done_at else known.last_at end end,
      case when stood.status = 'done' then case when known.kept then e.done_day when known.elsewhere is not null then known.elsewhere else coalesce((known.last_at at time zone ${timeZone})::date, ${day}) end end,
      case when known.results > 0 then known.score when known.kept then e.score end, known.finished, known.exempt, e.done_by_narrowing and known.kept, known.elsewhere is not null, e.via_groups
    from (
      select *, round = max(round) over (partition by person_id, course_id) as is_last from public.enrolment where round_opened_day is null or round_opened_day <= ${day}::date
    ) e join course_now c on c.id = e.course_id join person p on p.id = e.person_id
    left join lateral (
      select x.units from entitlement x where x.course_id = e.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id))
        and coalesce(x.first_day <= ${day}, true) and coalesce(x.last_day >= ${day}, true) limit 1
    ) x on true
    cross join lateral ${finishedOf(units)} f
    -- What was done before and is reported later was not known then.
    cross join lateral (select exists (select 1 from report r where r.enrolment_id = e.id and r.received_at >= ${end} and r.at < ${end}) as is_late) late
    cross join lateral (
      select (select count(*) from activity_result r where r.enrolment_id = e.id) as results, (select count(*) from activity_result r where r.enrolment_id = e.id and r.finished) as finished,
        (select max(r.last_at) from activity_result r where r.enrolment_id = e.id and r.finished) as last_at, ${score} as score,
        exists (select 1 from course_exception o where o.person_id = e.person_id and o.course_id = e.course_id and o.until_at is null and o.kind = 'exempt') and e.is_last as exempt,
        (select o.day from course_exception o where o.person_id = e.person_id and o.course_id = e.course_id and o.until_at is null and o.kind = 'done elsewhere' and o.day <= ${day}) as elsewhere,
        late.is_late, e.status = 'done' and e.done_day <= ${day} and coalesce(e.done_at < ${end}, true) and not late.is_late
          and (not e.done_elsewhere or exists (select 1 from course_exception o where o.person_id = e.person_id and o.course_id = e.course_id and o.kind = 'done elsewhere')) as kept
    ) known
    cross join lateral (
      select case when known.kept or known.elsewhere is not null or ${isDoneWith(sql`known.score`)} then 'done' when known.results > 0 or (e.begun_at < ${end} and not known.is_late) then 'under way' else 'not begun' end as status
    ) stood`);
}

/** Who had which course with which status, to compare two days. */
async function noteEnrolled(tx: Transaction, schema: string, day: Day): Promise<void> {
  await tx.execute(sql`
    create table ${sql.identifier(schema)}.enrolled as
    select e.person_id, e.course_id, e.status, e.exempt, not e.exempt and e.status <> 'done' and coalesce(e.due < ${day}::date, false) as is_overdue,
      array(select jsonb_array_elements_text(e.via_groups)::bigint union select unnest(w.via_groups)) as via_groups
    from (${enrolmentRows(sql`p.counted`, sql`true`, { today: day, sight: null })}) e
    left join enrolment w on w.person_id = e.person_id and w.course_id = e.course_id and w.is_current`);
  await tx.execute(sql`alter table enrolled add primary key (person_id, course_id)`);
  await tx.execute(sql`analyze enrolled`);
}
