import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';

/**
 * Due days that depend on the person: N days after one could really begin, or at least so many days.
 *
 * One could begin on the latest of: the first day of the unbroken run of days on which the statement reached the person (through
 * any of their memberships and wherever those groups stood in the tree), the statement's own first day, and the day of the seat.
 * In a later round days count from its opening, and a fixed day before that says nothing. Where more time was given, a path is not due before that day. Of several paths the earliest firm day counts, else the latest, where a path that is never due is latest (core: `dueDay`,
 * `reachedSince`, `branchDays`; a test compares).
 *
 * @param pairs A statement for rows of window_id and person_id; windows whose `due_is_own` is false give nothing.
 * @returns A statement for rows of window_id, person_id and due (null: never).
 */
export const ownDueDays = (pairs: SQL, today: Day): SQL => sql`
  with asked as materialized (${pairs}),
  zone as materialized (select time_zone from organisation),
  paths as materialized (
    select q.window_id, q.person_id, w.course_id, w.needs_seat, d.grant_id, d.grant_day, d.due_day, d.due_days, d.least_days, d.firm, d.not_before
    from asked q join entitlement w on w.id = q.window_id join entitlement_due d on d.entitlement_id = q.window_id
  ),
  counting as materialized (
    select distinct p.person_id, p.grant_id, coalesce(a.group_id, a.maker_branch_id) as top, a.with_subgroups
    from paths p join access_grant a on a.row_id = p.grant_id
    where num_nonnulls(p.due_days, p.least_days) > 0 and num_nonnulls(a.group_id, a.maker_branch_id) > 0
  ),
  begins as materialized (
    select b.group_id, max(g.first_day) as day from group_now g join group_branch b on b.ancestor_id = g.id where g.first_day is not null group by 1
  ),
  spans as materialized (
    select c.person_id, c.grant_id,
      greatest(coalesce(m.first_day, (m.from_at at time zone z.time_zone)::date), b.from_day, n.day) as starts,
      coalesce(least((m.until_at at time zone z.time_zone)::date, m.last_day + 1, b.until_day), 'infinity') as ends
    from counting c cross join zone z join membership m on m.person_id = c.person_id
    left join branch_day b on b.group_id = m.group_id and b.ancestor_id = c.top
    left join begins n on n.group_id = m.group_id
    where m.group_id = c.top or (c.with_subgroups and b.group_id is not null)
  ),
  joined as (
    select person_id, grant_id, starts, max(ends) over (partition by person_id, grant_id order by starts rows between unbounded preceding and 1 preceding) as ended_before
    from spans where starts < ends
  ),
  reached as materialized (
    select person_id, grant_id, max(starts) filter (where starts <= ${today}::date and starts > coalesce(ended_before, '-infinity')) as since from joined group by 1, 2
  )
  select window_id, person_id,
    case when bool_or(firm and due is not null) then min(due) filter (where firm) when bool_and(due is not null) then max(due) end as due
  from (
    select p.window_id, p.person_id, p.firm,
      case when num_nonnulls(p.due_day, p.due_days) > 0 then (
        select greatest(of.day, begin.day + p.least_days, case when num_nonnulls(of.day, p.least_days) > 0 then p.not_before end)
        from (select coalesce(case when p.due_day < begin.opened then null else p.due_day end, begin.day + p.due_days) as day) of) end as due
    from paths p cross join zone z left join reached r on r.person_id = p.person_id and r.grant_id = p.grant_id
    left join person_state s on s.person_id = p.person_id and s.until_at is null
    cross join lateral (
      select greatest(p.grant_day, r.since, s.first_day, case when p.needs_seat then (
        select (max(t.got_at) at time zone z.time_zone)::date from seat t join licence_course c on c.licence_id = t.licence_id
        where t.person_id = p.person_id and t.until_at is null and c.course_id = p.course_id
      ) end, round.opened) as day, round.opened
      from (select max(e.round_opened_day) as opened from enrolment e where e.person_id = p.person_id and e.course_id = p.course_id and e.is_current) round
    ) begin
  ) each_path group by 1, 2`;

/**
 * Whether somebody still lacks the seat that a window `x` asks for, whether or not they are in line for it: nobody can begin
 * without one, and so nobody is overdue.
 */
export const lacksSeat = (person: SQL): SQL => sql`(x.needs_seat and (
  exists (select 1 from seat_line q where q.person_id = ${person} and q.course_id = x.course_id and q.until_at is null)
  or not exists (select 1 from seat t join licence_course c on c.licence_id = t.licence_id
    where t.person_id = ${person} and t.until_at is null and c.course_id = x.course_id and (x.other_payers or t.licence_id = any(x.payers)))))`;
