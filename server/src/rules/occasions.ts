import { addDays, type RuleWhen } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, progressSight, seenThrough } from '../accounts/reach.ts';
import { ids, type Queryable } from '../database/connect.ts';
import { enrolmentRows } from '../progress/enrolments.ts';
import { onDay } from '../progress/standings.ts';

/** How far a rule sees: its branch, and the progress and access of its people as its maker may know them. */
export interface Watch extends Pick<SignedIn, 'today' | 'timeZone'> {
  branch: number;
  /** Through which groups an enrolment, and an open course, may be seen. */
  progress: ProgressSight;
  access: ProgressSight;
}

export const watchOf = async (db: Queryable, maker: SignedIn, branch: number): Promise<Watch> => ({
  today: maker.today,
  timeZone: maker.timeZone,
  branch,
  progress: await progressSight(db, maker),
  access: await progressSight(db, maker, 'see'),
});

/**
 * What a rule waits for, as it happened to some people (a condition on `p`): rows of person_id, occasion (what tells one from another
 * of its kind), at (when it happened; null: it is not kept) and stands (it is so today).
 * @param ruleId Null: a rule that is not kept yet; for whom a course has long been open is then not known.
 */
export function occasions(when: RuleWhen, ruleId: number | null, people: SQL, watch: Watch): SQL {
  const { today, timeZone } = watch;
  const isSeen = enrolmentSeen(watch);
  switch (when.when) {
    case 'enters':
      return sql`
        select s.person_id, min(s.began)::text as occasion, min(s.began) as at, bool_or(s.stands) as stands
        from (${stretches(when.groupId, people, watch)}) s group by s.person_id, s.nth`;
    case 'leaves':
      return sql`
        select l.person_id, l.ended::text as occasion, l.ended as at, l.nth = l.latest as stands from (
          select s.person_id, s.nth, max(s.ended) as ended, max(s.nth) over (partition by s.person_id) as latest
          from (${stretches(when.groupId, people, watch)}) s group by s.person_id, s.nth
        ) l where l.ended <= now()`;
    case 'gets':
      return ruleId === null
        ? sql`select o.person_id, '' as occasion, null::timestamptz as at, true as stands from (${haveCourse(when.courses, people, watch)}) o`
        : sql`select h.person_id, h.since::text as occasion, h.since as at, true as stands from rule_hold h where h.rule_id = ${ruleId} and h.person_id in (select p.id from person p where ${people})`;
    case 'begins':
      if (when.activityId ?? when.unitId)
        return ofActivities(when, sql`true`, sql`min(r.last_at)`, sql`${isSeen} and ${ofPeople(sql`e.person_id`, people)}`);
      return sql`select e.person_id, e.id::text as occasion, e.begun_at as at, e.is_current as stands from enrolment e where e.course_id = ${when.courseId} and e.begun_at is not null and ${isSeen} and ${ofPeople(sql`e.person_id`, people)}`;
    case 'finishes':
      if (when.activityId)
        return ofActivities(when, sql`r.finished`, sql`max(r.last_at)`, sql`${isSeen} and ${ofPeople(sql`e.person_id`, people)}`);
      return when.unitId === null
        ? sql`select e.person_id, e.id::text as occasion, coalesce(e.done_at, e.done_day::timestamp at time zone ${timeZone}) as at, e.is_current as stands from enrolment e
            where e.course_id = ${when.courseId} and e.status = 'done' and not e.done_by_narrowing and ${isSeen} and ${ofPeople(sql`e.person_id`, people)}`
        : finishesUnit(when.courseId, when.unitId, sql`${isSeen} and ${ofPeople(sql`e.person_id`, people)}`);
    case 'scores':
      if (when.activityId)
        return ofActivities(
          when,
          sql`r.score >= ${when.least}`,
          sql`max(r.last_at)`,
          sql`${isSeen} and ${ofPeople(sql`e.person_id`, people)}`,
        );
      return sql`
        select e.person_id, e.id::text as occasion, (select max(r.last_at) from activity_result r where r.enrolment_id = e.id) as at, e.is_current as stands from enrolment e
        where e.course_id = ${when.courseId} and e.score >= ${when.least} and ${isSeen} and ${ofPeople(sql`e.person_id`, people)}`;
    case 'tagged':
      return sql`select t.person_id, t.row_id::text as occasion, t.from_at as at, t.until_at is null as stands from person_tag t where t.tag_id = ${when.tagId} and ${ofPeople(sql`t.person_id`, people)}`;
    case 'idle': {
      const since = sql`p.active_at + make_interval(days => ${when.days}::int)`;
      return sql`select p.id as person_id, p.active_at::text as occasion, ${since} as at, true as stands from person p where ${people} and ${since} <= now()`;
    }
    case 'due':
      return dueOccasions(when, people, watch);
    case 'day':
      return sql`select p.id as person_id, ${when.day} as occasion, ${when.day}::timestamp at time zone ${timeZone} as at, ${when.day <= today}::boolean as stands from person p where ${people} and ${when.day <= today}::boolean`;
    case 'before end':
      return sql`
        select m.person_id, m.group_id || '/' || m.last_day as occasion, (m.last_day - ${when.days}::int)::timestamp at time zone ${timeZone} as at, m.last_day >= ${today} as stands
        from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${watch.branch} where m.until_at is null and m.last_day <= ${addDays(today, when.days)} and ${ofPeople(sql`m.person_id`, people)}`;
  }
}

const ofPeople = (column: SQL, people: SQL): SQL => sql`${column} in (select p.id from person p where ${people})`;

/** An enrolment `e` that the maker sees: it is open, or was worked on, through a group of their branches or above. */
const enrolmentSeen = ({ progress, today }: Watch): SQL =>
  progress === null
    ? sql`true`
    : sql`(${seenThrough(progress, sql`e.via_groups`)} or exists (select 1 from person q join entitlement x on (not q.own_windows and x.set_id = q.set_id) or (q.own_windows and x.person_id = q.id)
        where q.id = e.person_id and x.course_id = e.course_id and ${onDay(today)} and ${seenThrough(progress, sql`x.via_groups`)}))`;

/** Memberships in a branch, with the unbroken stretch (`nth` of the person) that each belongs to; days of their own count. */
function stretches(groupId: number, people: SQL, { today, timeZone }: Watch): SQL {
  return sql`
    select x.*, sum(case when x.before >= x.began then 0 else 1 end) over (partition by x.person_id order by x.began, x.row_id) as nth from (
      select m.*, max(m.ended) over (partition by m.person_id order by m.began, m.row_id rows between unbounded preceding and 1 preceding) as before from (
        select m.row_id, m.person_id, greatest(m.from_at, m.first_day::timestamp at time zone ${timeZone}) as began,
          least(coalesce(m.until_at, 'infinity'), coalesce((m.last_day + 1)::timestamp at time zone ${timeZone}, 'infinity')) as ended,
          m.until_at is null and coalesce(m.last_day >= ${today}, true) as stands
        from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${groupId}
        where coalesce(m.first_day <= ${today}, true) and ${ofPeople(sql`m.person_id`, people)}
      ) m where m.ended > m.began
    ) x`;
}

/** People to whom any of these courses is open today, as far as the maker may know, as person_id. */
export const haveCourse = (courses: readonly number[], people: SQL, { today, access }: Watch): SQL => sql`
  select distinct p.id as person_id from person p join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
  where ${people} and p.counted and x.course_id = any(${ids(courses)}) and ${onDay(today)} and ${seenThrough(access, sql`x.via_groups`)}`;

/** Enrolments with a result `r` of the named activity, or of any of the unit, that is so. */
const ofActivities = (
  { courseId, unitId, activityId }: { courseId: number; unitId?: number | null | undefined; activityId?: number | null | undefined },
  isSo: SQL,
  at: SQL,
  ofSeen: SQL,
): SQL => sql`
  select e.person_id, e.id || '/' || ${activityId ? `a${activityId}` : `u${unitId}`}::text as occasion, ${at} as at, e.is_current as stands from enrolment e
  join activity_result r on r.enrolment_id = e.id and ${isSo} join activity_now a on a.id = r.activity_id and ${activityId ? sql`a.id = ${activityId}` : sql`a.unit_id = ${unitId ?? 0}`}
  where e.course_id = ${courseId} and ${ofSeen} group by e.id`;

function finishesUnit(courseId: number, unitId: number, ofSeen: SQL): SQL {
  return sql`
    select e.person_id, e.id || '/' || ${unitId}::text as occasion, max(r.last_at) as at, e.is_current as stands from enrolment e
    join activity_result r on r.enrolment_id = e.id and r.finished join activity_now a on a.id = r.activity_id and a.unit_id = ${unitId}
    where e.course_id = ${courseId} and ${ofSeen}
    group by e.id having count(*) = (select count(*) from activity_now a where a.unit_id = ${unitId})`;
}

/** Of who is neither done nor exempt nor in line for a seat; before the due day it is over when that has passed. */
function dueOccasions({ courses, days, side }: Extract<RuleWhen, { when: 'due' }>, people: SQL, { today, timeZone, progress }: Watch): SQL {
  const by = side === 'before' ? -days : days;
  const about = courses.length === 0 ? sql`true` : sql`c.id = any(${ids(courses)})`;
  return sql`
    select e.person_id, e.course_id || '/' || e.due as occasion, (e.due + ${by}::int)::timestamp at time zone ${timeZone} as at,
      ${side === 'before' ? sql`e.due >= ${today}` : sql`true`} as stands
    from (${enrolmentRows(people, about, { today, sight: progress })}) e
    where e.due + ${by}::int <= ${today} and e.status <> 'done' and not e.exempt and not e.lacks_seat`;
}

/** Is the past of what a rule waits for kept, so that it can be counted? */
export const hasPast = ({ when }: RuleWhen): boolean => !['gets', 'idle', 'due', 'day', 'before end'].includes(when);
