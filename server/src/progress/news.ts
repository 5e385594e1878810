import { type Answer, type NewsKind, newsKinds, type Routes, stuckDays } from '@gate-roster/contract';
import { dayOfMoment } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, type ProgressSight, seenThrough } from '../accounts/reach.ts';
import { iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { isNew } from '../messages/happened.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { lacksSeat } from './due-days.ts';
import { enrolmentRows } from './enrolments.ts';
import { onDay } from './standings.ts';

/* What is new to a leader who comes back to progress. */

/** Somebody who goes on within this time has not been away. */
const sittingHours = 1;
const peopleAtOnce = 100;

/** Notes that somebody looks at progress. */
export async function noteLook(db: Queryable, actor: SignedIn): Promise<void> {
  await db.execute(sql`
    update person set looked_before = case when looked_at < now() - make_interval(hours => ${sittingHours}) then looked_at else looked_before end, looked_at = now()
    where id = ${actor.personId}`);
}

/** When this sitting's reader last looked before it; null: never. */
async function lastLook(db: Queryable, { personId }: SignedIn): Promise<string | null> {
  const { at } = await oneRow<{ at: string | null }>(
    db,
    sql`select case when looked_at < now() - make_interval(hours => ${sittingHours}) then looked_at else looked_before end as at from person where id = ${personId}`,
  );
  return at;
}

interface Asking {
  people: SQL;
  groups: SQL;
  since: SQL;
  sinceDay: string;
  today: string;
  sight: ProgressSight;
}

/** Rows of person_id and about for each kind. Overdue and stuck are those who still are. */
const statements: Record<NewsKind, (asking: Asking) => SQL> = {
  finished: ({ people, since, sight }) => sql`
    select e.person_id, c.name as about from enrolment e join person p on p.id = e.person_id and ${people} join course_now c on c.id = e.course_id
    where e.status = 'done' and e.is_current and not e.exempt and not e.done_by_narrowing and e.done_at >= ${since} and ${seenThrough(sight, sql`e.via_groups`)}`,
  joined: ({ people, groups, since }) => sql`
    select m.person_id, g.name as about from membership m join person p on p.id = m.person_id and ${people} join group_now g on g.id = m.group_id
    where m.group_id in (${groups}) and m.until_at is null and m.from_at >= ${since} and ${isNew('membership', sql`m`, sql`o.person_id = m.person_id and o.group_id = m.group_id`)}`,
  stuck: ({ people, since, sight }) => sql`
    select e.person_id, c.name as about from enrolment e join person p on p.id = e.person_id and ${people} join course_now c on c.id = e.course_id
    cross join lateral (select max(r.last_at) as at from activity_result r where r.enrolment_id = e.id) last
    where e.status = 'under way' and e.is_current and not e.exempt and ${seenThrough(sight, sql`e.via_groups`)}
      and last.at < now() - make_interval(days => ${stuckDays}) and last.at >= ${since} - make_interval(days => ${stuckDays})`,
  overdue: ({ people, sinceDay, today, sight }) => {
    // A day that is the same for all is in the window itself; only where it is each one's own is it worked out for each person.
    const fixed = (holds: SQL): SQL => sql`
      select p.id as person_id, c.name as about from entitlement x join person p on ${holds} and ${people} join course_now c on c.id = x.course_id
      left join enrolment e on e.person_id = p.id and e.course_id = x.course_id and e.is_current
      where ${onDay(today)} and not x.due_is_own and x.due_day >= ${sinceDay}::date and x.due_day < ${today}::date and ${seenThrough(sight, sql`x.via_groups`)}
        and coalesce(e.status <> 'done' and not e.exempt, true) and not ${lacksSeat(sql`p.id`)}`;
    const ofSet = sql`p.set_id = x.set_id and not p.own_windows`;
    const ofPerson = sql`p.id = x.person_id and p.own_windows`;
    const hasOwn = sql`exists (select 1 from entitlement x where ((${ofSet}) or (${ofPerson})) and ${onDay(today)} and x.due_is_own)`;
    const courses = sql`c.id in (select x.course_id from entitlement x where x.due_is_own)`;
    return sql`
    ${fixed(ofSet)} union all ${fixed(ofPerson)}
    union all select e.person_id, e.course as about from (${enrolmentRows(sql`${people} and ${hasOwn}`, courses, { today, sight })}) e
    where e.status <> 'done' and not e.exempt and not e.lacks_seat and e.due >= ${sinceDay}::date and e.due < ${today}::date`;
  },
};

/** What happened in a scope since the reader last looked, and the people of one kind. */
export async function progressNews(
  db: Queryable,
  actor: SignedIn,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  of: NewsKind | undefined,
): Promise<Answer<Routes['progressNews']>> {
  const at = await lastLook(db, actor);
  const none = { finished: 0, overdue: 0, stuck: 0, joined: 0 };
  if (at === null) return { since: null, counts: none, people: [] };
  const asking: Asking = {
    people: isCounted(groupId, withSubgroups),
    groups: groupsOf(groupId, withSubgroups),
    since: sql`${at}::timestamptz`,
    sinceDay: dayOfMoment(new Date(at), actor.timeZone),
    today: actor.today,
    sight: await progressSight(db, actor),
  };
  const counted = newsKinds.map(
    (kind) => sql`select ${kind}::text as kind, count(distinct k.person_id)::int as people from (${statements[kind](asking)}) k`,
  );
  const counts = await rows<{ kind: NewsKind; people: number }>(db, sql.join(counted, sql` union all `));
  const people =
    of === undefined
      ? []
      : await rows<{ id: number; name: string; about: string[] }>(
          db,
          sql`
          select k.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, to_jsonb(array_agg(distinct k.about)) as about
          from (${statements[of](asking)}) k join personal_now n on n.person_id = k.person_id
          group by 1, 2, n.family_name, n.given_name order by n.family_name collate people_order, n.given_name collate people_order, 1 limit ${peopleAtOnce}`,
        );
  return { since: iso(at), counts: { ...none, ...Object.fromEntries(counts.map((each) => [each.kind, each.people])) }, people };
}
