import { type CourseEffect, type Day, type Effects, emptyWho, type OpenTurn } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { ChangedAccess } from '../access/entitlement-rows.ts';
import { type How, ids, isAmong, planFor, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { onDay } from './standings.ts';

/*
 * A status follows from the units that are open. Done stays, but where it came about only because access narrowed to what was
 * finished: that is dated the day it narrowed, and taken back when access widens (`product.md`, Enrolment).
 */

/** Enrolments whose status can follow from other units being open. */
const canTurnOf = (e: SQL): SQL => sql`${e}.is_current and not ${e}.exempt and (${e}.status = 'under way' or ${e}.done_by_narrowing)`;
const canTurn = canTurnOf(sql`e`);

/** How much of what the course `c` asks of an enrolment `e` is finished, when these units are open. */
export const finishedOf = (units: SQL, activities = sql`activity_now`): SQL => sql`(
  select count(*)::int as needed, (count(*) filter (where r.finished))::int as finished
  from ${activities} a left join activity_result r on r.activity_id = a.id and r.enrolment_id = e.id
  where a.course_id = c.id and (case when c.done_by_activities is null then a.unit_id = any(${units}) else a.id = any(c.done_by_activities) end)
)`;
export const isDoneWith = (score: SQL): SQL =>
  sql`(f.needed > 0 and f.finished = f.needed and coalesce(${score} >= c.pass_score, c.pass_score is null))`;
export const isDone = isDoneWith(sql`e.score`);

/** What makes a course done, as it would be: activities and units that are not made yet have numbers below zero. */
export interface CourseDefinition {
  id: number;
  passScore: number | null;
  doneBy: readonly number[] | null;
  activities: readonly { id: number; unitId: number; scored: boolean }[];
}

/** Courses `c` and their activities `a` as they are, or as some of them would be. */
function definitions(otherwise: readonly CourseDefinition[]): { ctes: SQL; courses: SQL; activities: SQL; score: SQL } {
  if (otherwise.length === 0) return { ctes: sql``, courses: sql`course_now`, activities: sql`activity_now`, score: sql`e.score` };
  const courses = otherwise.map(({ id, passScore, doneBy }) => ({ id, pass_score: passScore, done_by_activities: doneBy }));
  const activities = otherwise.flatMap(({ id, activities: list }) =>
    list.map(({ id: activity, unitId, scored }) => ({ id: activity, unit_id: unitId, course_id: id, scored })),
  );
  return {
    ctes: sql`
      course_then as materialized (
        select * from jsonb_to_recordset(${JSON.stringify(courses)}::jsonb) as r(id bigint, pass_score smallint, done_by_activities bigint[])
        union all select id, pass_score, done_by_activities from course_now where id <> all(${ids(otherwise.map(({ id }) => id))})
      ), activity_then as materialized (
        select * from jsonb_to_recordset(${JSON.stringify(activities)}::jsonb) as r(id bigint, unit_id bigint, course_id bigint, scored boolean)
        union all select id, unit_id, course_id, scored from activity_now where course_id <> all(${ids(otherwise.map(({ id }) => id))})
      ),`,
    courses: sql`course_then`,
    activities: sql`activity_then`,
    score: sql`(select avg(r.score) from activity_result r join activity_then a on a.id = r.activity_id where r.enrolment_id = e.id and a.scored)`,
  };
}

/** Enrolments `o` that can turn, each with the set and the kind of windows of its person `p`. */
const concernedFrom = (joined: SQL, where: SQL): SQL =>
  sql`select o.*, p.set_id, p.own_windows from ${joined} where ${where} and ${canTurnOf(sql`o`)}`;
const withPerson = sql`enrolment o join person p on p.id = o.person_id`;

/**
 * Brings the status of enrolments up to date with what is open today. `concerned`: a statement that gives them as `concernedFrom` does; it is
 * answered once, by itself, since PostgreSQL cannot know beforehand how many they are. One that comes twice is looked at twice.
 */
export async function refreshStatus(tx: Transaction, today: Day, concerned: SQL, how: How = {}): Promise<void> {
  await rows(
    tx,
    sql`
    with concerned as materialized (${concerned}),
    opened as materialized (
      select e.id, x.units from concerned e join entitlement x on x.set_id = e.set_id and x.course_id = e.course_id
        where not e.own_windows and x.set_id = any(array(select distinct set_id from concerned)) and ${onDay(today)}
      union all select e.id, x.units from concerned e join entitlement x on x.person_id = e.person_id and x.course_id = e.course_id where e.own_windows and ${onDay(today)}
    ),
    turning as (
      select e.id, e.status, f.finished, ${isDone} as is_done
      from opened x join concerned e on e.id = x.id join course_now c on c.id = e.course_id cross join lateral ${finishedOf(sql`x.units`)} f
    )
    update enrolment e set finished_activities = t.finished, status = case when t.is_done then 'done' else 'under way' end, done_by_narrowing = t.is_done,
      done_at = case when not t.is_done then null when e.status = 'done' then e.done_at else now() end,
      done_day = case when not t.is_done then null when e.status = 'done' then e.done_day else ${today}::date end
    from turning t where t.id = e.id and (t.is_done <> (e.status = 'done') or t.finished <> e.finished_activities)`,
    how,
  );
}

/** For `refreshStatus`: enrolments of these people, those where access differs, and those in courses that are done by other things. */
export async function whoseStatus(
  tx: Transaction,
  people: ReadonlySet<number>,
  changed: readonly ChangedAccess[],
  redefined: readonly number[] = [],
): Promise<{ enrolments: SQL; how: How }> {
  const differs = (of: readonly ChangedAccess[]): SQL =>
    sql`jsonb_to_recordset(${JSON.stringify(of.map(({ set, person, course }) => ({ set, person, course })))}::jsonb) as r("set" bigint, person bigint, course bigint)`;
  const sets = changed.filter(({ set }) => set !== null);
  const persons = changed.filter(({ person }) => person !== null && !people.has(person));
  // Of a set all courses are read and most are dropped: asking for each pair of person and course takes ten times as long. Whom it holds is
  // asked before, so that PostgreSQL knows how many they are when it chooses how to look for their work.
  const held = await tx
    .select({ id: tables.person.id, setId: tables.person.setId, ownWindows: tables.person.ownWindows })
    .from(tables.person)
    .where(isAmong(tables.person.setId, new Set(sets.flatMap(({ set }) => set ?? []))));
  const others = held.filter(({ id }) => !people.has(id));
  const owns = sql`${`{${others.map(({ ownWindows }) => ownWindows).join()}}`}::boolean[]`;
  const other = ids(others.map(({ id }) => id));
  // Where one course is opened for everybody, its own enrolments are few.
  const courses = ids(new Set(sets.map(({ course }) => course)));
  const inSets = sql`enrolment o join unnest(${other}, ${ids(others.map(({ setId }) => setId))}, ${owns}) as p(id, set_id, own_windows) on p.id = o.person_id`;
  const enrolments = sql`
    ${concernedFrom(withPerson, sql`o.person_id = any(${ids(people)})`)}
    union all ${concernedFrom(inSets, sql`o.person_id = any(${other}) and o.course_id = any(${courses}) and ((p.set_id, o.course_id) in (select "set", course from ${differs(sets)})) is true`)}
    union all ${concernedFrom(sql`(select * from ${differs(persons)}) r join enrolment o on o.person_id = r.person and o.course_id = r.course join person p on p.id = o.person_id`, sql`true`)}
    union all ${concernedFrom(withPerson, sql`o.course_id = any(${ids(redefined)})`)}`;
  // Everybody in a course that is done by other things.
  const count = redefined.length > 0 ? Infinity : people.size + others.length + persons.length;
  return { enrolments, how: planFor(count) };
}

/** For `refreshStatus`: enrolments of these people, and those for which a window begins today. */
export function whoseDayTurns(people: readonly number[], today: Day): SQL {
  const begins = sql`x.first_day = ${today}::date`;
  return sql`
    ${concernedFrom(withPerson, sql`o.person_id = any(${ids(people)})`)}
    union all ${concernedFrom(sql`entitlement x join person p on p.set_id = x.set_id and not p.own_windows join enrolment o on o.person_id = p.id and o.course_id = x.course_id`, begins)}
    union all ${concernedFrom(sql`entitlement x join person p on p.id = x.person_id join enrolment o on o.person_id = p.id and o.course_id = x.course_id`, begins)}`;
}

/** Works out the scores of those who are under way anew, where the activities of a course are others than before. */
export const rescore = (tx: Transaction, courses: readonly number[]): Promise<unknown> =>
  tx.execute(sql`
    update enrolment e set score = f.score from (
      select o.id, (select avg(r.score) from activity_result r join activity_now a on a.id = r.activity_id where r.enrolment_id = o.id and a.scored) as score
      from enrolment o where o.course_id = any(${ids(courses)}) and o.is_current and (o.status = 'under way' or o.done_by_narrowing)
    ) f where f.id = e.id and coalesce(abs(f.score - e.score) > 1e-9, f.score is distinct from e.score)`);

/** Whose status would follow, when these units were open to them, and (`otherwise`) some courses were done by other things. */
export async function statusTurns(
  db: Queryable,
  turns: readonly OpenTurn[],
  otherwise: readonly CourseDefinition[] = [],
): Promise<Pick<Effects, 'becomeDone' | 'noLongerDone'>> {
  const then = definitions(otherwise);
  const isDoneThen = isDoneWith(then.score);
  const open = turns.filter(({ units }) => units.length > 0);
  type Asked = { course: number; units: readonly number[]; set: number | null; person: number | null };
  const asked = open.flatMap(({ courseId, who, units }): Asked[] => {
    const about = { course: courseId, units };
    if ('set' in who) return [{ ...about, set: who.set, person: null }];
    const persons = 'persons' in who ? who.persons : 'person' in who ? [who.person] : [];
    return persons.map((person) => ({ ...about, set: null, person }));
  });
  if (asked.length === 0) return { becomeDone: [], noLongerDone: [] };
  const found = await rows<{ person_id: number; course_id: number; is_done: boolean }>(
    db,
    sql`
    with ${then.ctes} asked as materialized (select * from jsonb_to_recordset(${JSON.stringify(asked)}::jsonb) as r(course bigint, units bigint[], "set" bigint, person bigint)),
    meant as (
      select p.id as person_id, a.course, a.units from asked a join person p on p.set_id = a."set" where p.counted and not p.own_windows
      union all select person, course, units from asked where person is not null
    )
    select e.person_id, e.course_id, ${isDoneThen} as is_done from meant m join enrolment e on e.person_id = m.person_id and e.course_id = m.course and ${canTurn}
    join ${then.courses} c on c.id = e.course_id cross join lateral ${finishedOf(sql`m.units`, then.activities)} f
    where ${isDoneThen} <> (e.status = 'done') order by e.course_id, e.person_id`,
  );
  const byCourse = (isWanted: boolean): CourseEffect[] => {
    const effects = new Map<number, CourseEffect>();
    for (const { person_id, course_id, is_done } of found) {
      if (is_done !== isWanted) continue;
      const effect = effects.get(course_id) ?? { courseId: course_id, day: null, who: emptyWho(), people: 0 };
      effect.who.persons.push(person_id);
      effect.people++;
      effects.set(course_id, effect);
    }
    return [...effects.values()];
  };
  return { becomeDone: byCourse(true), noLongerDone: byCourse(false) };
}
