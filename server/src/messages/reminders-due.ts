import {
  courseOccasions,
  type Day,
  reminderOccasions,
  type ReminderOccasion,
  remindersByGroup,
  type ReminderSetting,
  type Tree,
} from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { enrolmentRows } from '../progress/enrolments.ts';
import { onDay } from '../progress/standings.ts';

/** What a group says of an occasion, as it is kept. */
export interface KeptReminder extends ReminderSetting {
  /** Null: not kept yet. */
  rowId: number | null;
  subject: string | null;
  body: string | null;
  /** Whose day was before this one is not reminded; null: everybody. */
  fromDay: Day | null;
  madeBy: number;
}

/** All that groups say of reminders today. */
export const keptReminders = (db: Queryable): Promise<KeptReminder[]> =>
  rows<KeptReminder>(
    db,
    sql`
    select row_id as "rowId", group_id as "groupId", course_id as "courseId", occasion, days, subject, body, from_day::text as "fromDay", made_by as "madeBy"
    from reminder_setting where until_at is null order by row_id`,
  );

/** Occasions of which anybody in the branch of a group is reminded. */
export async function remindersInForce(db: Queryable, tree: Tree, groupId: number): Promise<Set<ReminderOccasion>> {
  const branch = new Set(tree.branch(groupId));
  const lines = remindersByGroup(tree, await keptReminders(db));
  return new Set(lines.flatMap((line) => (branch.has(line.groupId) ? [line.occasion] : [])));
}

/** One reminder to one person: of what, by which setting, and on which day it leaves. */
export interface DueReminder {
  personId: number;
  occasion: ReminderOccasion;
  /** Course, group, licence or form of certificate. */
  aboutId: number;
  about: string;
  round: Day | null;
  /** The day that the text may name: on which it is due, or ends. */
  until: Day | null;
  leavesOn: Day;
  /** The place of its setting in the list that was given. */
  nth: number;
  /** Another of the same course leaves that day, and says more. */
  isCovered: boolean;
}

interface Asked {
  tree: Tree;
  settings: readonly KeptReminder[];
  /** People `p`. */
  people: SQL;
  today: Day;
  /** The first day on which reminders can still leave. */
  next: Day;
  /** Up to and with this day. */
  through: Day;
  timeZone: string;
  /** Only these ways; all when not said. */
  isSeen?: WaysSeen | undefined;
}

export type WaysSeen = (groupId: number, occasion: ReminderOccasion) => boolean;

/**
 * The ways by which somebody may know of reminders: through groups of their branches, for courses through those where they see
 * progress. What people hear because of other groups is not theirs to know. Undefined: all.
 */
export async function waysSeen(db: Queryable, actor: SignedIn): Promise<WaysSeen | undefined> {
  const own = await seenGroups(db, actor);
  if (own === null) return undefined;
  const progress = new Set((await progressSight(db, actor))?.own);
  return (groupId, occasion) => (courseOccasions.includes(occasion) ? progress : own).has(groupId);
}

/** A reminder of the day itself still goes out so many days later, when the server was away. */
const lateDays = 2;

/**
 * Who is reminded of what on which day, if nothing changes: rows as `DueReminder`, in the order of its fields.
 *
 * A setting counts for somebody on the ways through its group: for a course those through which it is open, for a seat the group
 * that it is charged to, else all groups they are in. Of several ways the earliest day counts. Nobody is reminded twice of the
 * same thing, round and occasion; who is done, exempt, in line or not counted is not reminded.
 */
export function remindersDue({ tree, settings, people, today, next, through, timeZone, isSeen = () => true }: Asked): SQL {
  const counting = remindersByGroup(tree, settings).filter(({ groupId, occasion }) => isSeen(groupId, occasion));
  const lines = counting.map(({ groupId, occasion, courseId, setting }) => ({
    group_id: groupId,
    occasion,
    course_id: courseId ?? 0,
    days: setting.days,
    from_day: setting.fromDay,
    nth: settings.indexOf(setting),
  }));
  const used = reminderOccasions.filter((occasion) => lines.some((line) => line.occasion === occasion));
  const named = settings.flatMap(({ occasion, courseId }) => (courseId === null ? [] : [{ occasion, course_id: courseId }]));
  const parts = used.map((occasion) => ofOccasion(occasion, { today, timeZone }));
  const isOfCourse = used.some((occasion) => courseOccasions.includes(occasion));
  return sql`
    with said as materialized (
      select * from jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) as s(group_id bigint, occasion text, course_id bigint, days int, from_day date, nth int)
    ),
    named as materialized (select distinct * from jsonb_to_recordset(${JSON.stringify(named)}::jsonb) as s(occasion text, course_id bigint)),
    reached as materialized (select p.id from person p where p.counted and ${people}),
    enrolled as materialized (${isOfCourse ? enrolled(today) : sql`select 0 as person_id where false`}),
    each_way as (${parts.length > 0 ? sql.join(parts, sql` union all `) : nothing}),
    leaving as (
      select distinct on (w.person_id, w.occasion, w.about_id, w.round) w.*, greatest(w.day, ${next}::date) as leaves_on from each_way w
      where w.day <= ${through}::date and coalesce(w.day >= w.from_day, true)
        and case w.occasion when 'after due' then true when 'not begun' then true when 'on due' then w.until >= greatest(w.day, ${next}::date) - ${lateDays}::int else w.until >= greatest(w.day, ${next}::date) end
        and not exists (select 1 from reminded r where r.person_id = w.person_id and r.occasion = w.occasion and r.about_id = w.about_id and r.round is not distinct from w.round)
      order by w.person_id, w.occasion, w.about_id, w.round, w.day, w.nth
    )
    select l.person_id as "personId", l.occasion, l.about_id as "aboutId", l.about, l.round::text as round, l.until::text as until, l.leaves_on::text as "leavesOn", l.nth,
      l.occasion = any(${ofCourses}) and row_number() over (
        partition by l.person_id, l.about_id, l.occasion = any(${ofCourses}), l.leaves_on order by l.day desc, l.occasion) > 1 as "isCovered"
    from leaving l`;
}

const ofCourses = sql`${`{${courseOccasions.map((each) => `"${each}"`).join()}}`}::text[]`;
const nothing = sql`select 0::bigint as person_id, '' as occasion, 0::bigint as about_id, '' as about, null::date as round, null::date as until, null::date as day, null::date as from_day, 0 as nth where false`;

/** Enrolments of the people that can be reminded of, with a line for each group through which the course is open. */
const enrolled = (today: Day): SQL => sql`
  select e.person_id, e.course_id, e.course, e.status, e.due, j.round_opened_day as round, v.group_id::bigint as group_id
  from (${enrolmentRows(sql`p.id in (select id from reached)`, sql`true`, { today, sight: null })}) e
  left join enrolment j on j.person_id = e.person_id and j.course_id = e.course_id and j.is_current
  cross join lateral jsonb_array_elements_text(e.via_groups) v(group_id)
  where e.status <> 'done' and not e.exempt and not e.lacks_seat`;

/** Settings `s` that count for a course in a group. */
const ofCourse = (occasion: ReminderOccasion, course: SQL, group: SQL): SQL => sql`
  said s on s.occasion = ${occasion} and s.group_id = ${group}
    and s.course_id = case when exists (select 1 from named k where k.occasion = ${occasion} and k.course_id = ${course}) then ${course} else 0 end`;
const ofAny = (occasion: ReminderOccasion, group: SQL): SQL => sql`said s on s.occasion = ${occasion} and s.group_id = ${group}`;

/** Rows of one occasion: whom it is about, what, and the day of each way. */
function ofOccasion(occasion: ReminderOccasion, { today, timeZone }: { today: Day; timeZone: string }): SQL {
  const columns = (about: SQL, name: SQL, round: SQL, until: SQL, day: SQL): SQL => sql`
    ${occasion}::text as occasion, ${about} as about_id, ${name} as about, ${round} as round, ${until} as until, ${day} as day, s.from_day, s.nth`;
  const ends = (about: SQL, name: SQL, until: SQL): SQL => columns(about, name, until, until, sql`${until} - s.days`);
  const standing = sql`m.until_at is null and coalesce(m.first_day <= ${today}, true) and coalesce(m.last_day >= ${today}, true)`;
  switch (occasion) {
    case 'before due':
    case 'on due':
    case 'after due': {
      const day = { 'before due': sql`e.due - s.days`, 'on due': sql`e.due`, 'after due': sql`e.due + s.days` }[occasion];
      return sql`
        select e.person_id, ${columns(sql`e.course_id`, sql`e.course`, sql`e.round`, sql`e.due`, day)}
        from enrolled e join ${ofCourse(occasion, sql`e.course_id`, sql`e.group_id`)} where e.due is not null`;
    }
    case 'not begun':
      return sql`
        select e.person_id, ${columns(sql`e.course_id`, sql`e.course`, sql`e.round`, sql`null::date`, sql`b.day + s.days`)}
        from enrolled e join ${ofCourse(occasion, sql`e.course_id`, sql`e.group_id`)} cross join lateral (${couldBegin({ today, timeZone })}) b
        where e.status = 'not begun'`;
    case 'membership ends':
      return sql`
        select m.person_id, ${ends(sql`m.group_id`, sql`g.name`, sql`m.last_day`)}
        from membership m join group_now g on g.id = m.group_id join ${ofAny(occasion, sql`m.group_id`)}
        where m.person_id in (select id from reached) and m.last_day is not null and ${standing}`;
    case 'group ends':
      return sql`
        select m.person_id, ${ends(sql`g.id`, sql`g.name`, sql`g.last_day`)}
        from membership m join group_branch b on b.group_id = m.group_id join group_now g on g.id = b.ancestor_id and g.last_day >= ${today} join ${ofAny(occasion, sql`m.group_id`)}
        where m.person_id in (select id from reached) and ${standing}`;
    case 'seat ends':
      return sql`
        select t.person_id, ${ends(sql`l.licence_id`, sql`l.name`, sql`l.last_day`)}
        from seat t join licence_now l on l.licence_id = t.licence_id join ${ofAny(occasion, sql`t.group_id`)}
        where t.person_id in (select id from reached) and t.until_at is null and l.last_day >= ${today}`;
    case 'certificate ends':
      return sql`
        select c.person_id, ${ends(sql`c.form_id`, sql`c.about`, sql`c.valid_until`)}
        from certificate c join membership m on m.person_id = c.person_id and ${standing} join ${ofAny(occasion, sql`m.group_id`)}
        where c.person_id in (select id from reached) and c.until_at is null and c.valid_until >= ${today}`;
  }
}

/**
 * The day since which somebody could begin a course (`e`) through a group: the latest of the day they came into the group, the day
 * it opened there, the day of their seat and the opening of the round.
 */
const couldBegin = ({ today, timeZone }: { today: Day; timeZone: string }): SQL => sql`
  select greatest(e.round, x.first_day,
    (select min(coalesce(m.first_day, (m.from_at at time zone ${timeZone})::date)) from membership m where m.person_id = e.person_id and m.group_id = e.group_id and m.until_at is null),
    (select min(coalesce(a.first_day, (a.from_at at time zone ${timeZone})::date)) from access_grant a where a.row_id = any(x.by_grants)),
    (select (max(t.got_at) at time zone ${timeZone})::date from seat t join licence_course k on k.licence_id = t.licence_id where x.needs_seat and t.person_id = e.person_id and t.until_at is null and k.course_id = e.course_id)) as day
  from person q join entitlement x on (not q.own_windows and x.set_id = q.set_id) or (q.own_windows and x.person_id = q.id)
  where q.id = e.person_id and x.course_id = e.course_id and ${onDay(today)} limit 1`;
