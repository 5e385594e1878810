import { type Day, emptyTally, type Tally } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';

export interface TallyQuestion {
  /** One row for each of these groups. */
  groups: readonly number[];
  withSubgroups: boolean;
  byCourse: boolean;
  /** A leader sees only enrolments opened through these groups; null: all. */
  via: readonly number[] | null;
  today: Day;
}

export interface GroupTally {
  groupId: number;
  /** 0 when not asked by course. */
  courseId: number;
  tally: Tally;
}

/** Which membership sets count for which group. */
export const scopeOf = (groups: readonly number[], withSubgroups: boolean): SQL =>
  withSubgroups
    ? sql`select ancestor_id as group_id, set_id from set_in_branch where ancestor_id = any(${ids(groups)})`
    : sql`select group_id, set_id from membership_set_group where group_id = any(${ids(groups)})`;

export const onDay = (today: Day): SQL => sql`coalesce(x.first_day <= ${today}, true) and coalesce(x.last_day >= ${today}, true)`;

/**
 * Enrolments of the counted learners of each group, added up. Everybody has one membership set, so a
 * branch is the sum over the sets that touch it and nobody is counted twice. Entitled and work are added up per set
 * (and course, when it is asked) before they are joined to groups; *not begun* is entitled without work, and where
 * all of a set are due on one day, overdue is whoever of them is neither done nor exempt. Only people with windows or
 * due days of their own are looked at one by one.
 */
export async function tallies(db: Queryable, question: TallyQuestion): Promise<GroupTally[]> {
  const { groups, withSubgroups, byCourse, via, today } = question;
  const visible = (column: SQL): SQL => (via === null ? sql`true` : sql`${column} && ${ids(via)}`);
  /** What is counted of enrolments `e`. */
  const counts = sql`
    count(*) filter (where e.status = 'done' and not e.exempt) as done, count(*) filter (where e.status = 'under way' and not e.exempt) as under_way, count(*) filter (where e.exempt) as exempt,
    coalesce(sum(e.score) filter (where not e.exempt), 0) as score_sum, count(e.score) filter (where not e.exempt) as scored`;
  const isBegun = sql`(e.status <> 'not begun' or e.exempt)`;
  const isSettled = sql`(e.status = 'done' or e.exempt)`;
  const found = await rows<
    { group_id: number; course_id: number } & Record<'all' | 'done' | 'under_way' | 'exempt' | 'overdue' | 'score_sum' | 'scored', number>
  >(
    db,
    sql`
    with scope as materialized (${scopeOf(groups, withSubgroups)}),
    sets as materialized (select distinct s.id, s.counted_alike from scope join membership_set s on s.id = scope.set_id where s.counted > 0),
    open as materialized (
      select x.id, x.set_id, x.course_id, x.due_day, x.due_is_own, not x.due_is_own and x.due_day < ${today} as is_late, s.counted_alike from entitlement x join sets s on s.id = x.set_id
      where ${onDay(today)} and ${visible(sql`x.via_groups`)}
    ),
    worked as materialized (
      select p.set_id, e.course_id, ${visible(sql`e.via_groups`)} as is_visible, count(*) filter (where ${isBegun}) as begun, ${counts} from enrolment e join person p on p.id = e.person_id
      where e.is_current and p.counted and not p.own_windows and p.set_id in (select id from sets) group by 1, 2, 3
    ),
    work as (
      select w.*, case when o.id is null then w.begun else 0 end as loose, case when o.is_late then w.done + w.exempt else 0 end as settled
      from worked w left join open o on o.set_id = w.set_id and o.course_id = w.course_id where o.id is not null or w.is_visible
    ),
    own as materialized (
      select x.id, p.set_id, x.course_id, x.due_day, x.due_is_own, p.id as person_id from entitlement x join person p on p.id = x.person_id
      where p.counted and p.own_windows and p.set_id in (select id from sets) and ${onDay(today)} and ${visible(sql`x.via_groups`)}
    ),
    own_work as (
      select p.set_id, e.course_id, count(*) filter (where w.id is null and ${isBegun}) as loose, ${counts} from enrolment e join person p on p.id = e.person_id
      left join own w on w.person_id = e.person_id and w.course_id = e.course_id
      where e.is_current and p.counted and p.own_windows and p.set_id in (select id from sets) and (w.id is not null or ${visible(sql`e.via_groups`)}) group by 1, 2
    ),
    parts as (
      select set_id, course_id, counted_alike::bigint as "all", 0 as done, 0 as under_way, 0 as exempt, case when is_late then counted_alike else 0 end as overdue, 0 as score_sum, 0 as scored from open
      union all
      select set_id, course_id, loose, done, under_way, exempt, -settled, score_sum, scored from work
      union all
      select set_id, course_id, count(*), 0, 0, 0, 0, 0, 0 from own group by 1, 2
      union all
      select set_id, course_id, loose, done, under_way, exempt, 0, score_sum, scored from own_work
      union all
      select d.set_id, d.course_id, 0, 0, 0, 0, count(*), 0, 0
      from (
        select o.id, o.set_id, o.course_id, o.due_day, o.due_is_own, p.id as person_id from open o join person p on p.set_id = o.set_id and p.counted and not p.own_windows where o.due_is_own
        union all
        select id, set_id, course_id, due_day, due_is_own, person_id from own where due_is_own or due_day < ${today}
      ) d left join enrolment e on e.person_id = d.person_id and e.course_id = d.course_id and e.is_current
      where not coalesce(${isSettled}, false) and (case when d.due_is_own then own_due_day(d.id, d.person_id) else d.due_day end) < ${today} group by 1, 2
    ),
    summed as materialized (
      select set_id, ${byCourse ? sql`course_id` : sql`0 as course_id`}, sum("all") as "all", sum(done) as done, sum(under_way) as under_way, sum(exempt) as exempt,
        sum(overdue) as overdue, sum(score_sum) as score_sum, sum(scored) as scored from parts group by 1, 2
    )
    select scope.group_id, t.course_id, sum(t."all")::int as "all", sum(t.done)::int as done, sum(t.under_way)::int as under_way, sum(t.exempt)::int as exempt,
      sum(t.overdue)::int as overdue, sum(t.score_sum)::float8 as score_sum, sum(t.scored)::int as scored
    from summed t join scope on scope.set_id = t.set_id group by 1, 2`,
  );
  return found.map((row) => ({
    groupId: row.group_id,
    courseId: row.course_id,
    tally: {
      all: row.all,
      done: row.done,
      underWay: row.under_way,
      exempt: row.exempt,
      overdue: row.overdue,
      scoreSum: row.score_sum,
      scored: row.scored,
    },
  }));
}

/** Counted learners of each group, once per branch. */
export async function learnersPerGroup(db: Queryable, groups: readonly number[], withSubgroups: boolean): Promise<Map<number, number>> {
  const found = await rows<{ group_id: number; people: number }>(
    db,
    sql`
    select scope.group_id, sum(s.counted)::int as people from (${scopeOf(groups, withSubgroups)}) scope join membership_set s on s.id = scope.set_id group by 1`,
  );
  return new Map(found.map(({ group_id, people }) => [group_id, people]));
}

/** One tally for each group, over all courses. */
export async function tallyPerGroup(db: Queryable, question: Omit<TallyQuestion, 'byCourse'>): Promise<Map<number, Tally>> {
  const found = new Map<number, Tally>(question.groups.map((id) => [id, emptyTally]));
  for (const { groupId, tally } of await tallies(db, { ...question, byCourse: false })) found.set(groupId, tally);
  return found;
}
