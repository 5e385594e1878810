import { contains, courseRules, type Day, type Filter, groupsInForce, resolve } from '@gate-roster/core';
import { loadGrants, learners } from '../access/load-rules.ts';
import { stoodAtEndOf } from '../database/history.ts';
import { loadTree } from '../groups/queries.ts';
import { execute, type Site } from './site.ts';

/* How everybody stood at the end of a day, worked out person by person from the rows of then, and what that comes to. */

export interface Stood {
  id: number;
  /** Groups of standing memberships, and those in force. */
  groups: readonly number[];
  inForce: readonly number[];
  tags: readonly number[];
  courses: { id: number; status: 'not begun' | 'under way' | 'done'; exempt: boolean }[];
}

/** Who counted on a day, and with which status in which course: worked out person by person from the rows of then. */
export async function stoodOn(site: Site, day: Day): Promise<{ people: Stood[]; isBelow: (id: number, top: number) => boolean }> {
  const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
  const { db } = site.deps;
  const [{ zone = 'UTC' } = {}] = await query<{ zone: string }>(`select time_zone as zone from organisation`);
  const stands = stoodAtEndOf(day, zone);
  const tree = await loadTree(db, stands);
  const arrangedNow = await loadTree(db);
  const isBelow = (id: number, top: number): boolean => (arrangedNow.has(id) ? arrangedNow.isInBranch(id, top) : tree.isInBranch(id, top));
  const rules = (await loadGrants(db, stands)).map(({ course, grants }) => courseRules(tree, course, grants));
  const all = await learners(
    db,
    (await query<{ id: number }>(`select id::int from person`)).map(({ id }) => id),
    stands,
  );
  const counted = all.filter((each) => each.active && contains(each, day) && groupsInForce(tree, each, day).length > 0);
  const end = `((date '${day}' + 1)::timestamp at time zone '${zone}')`;
  // Of those about whom something was reported later: what was known by then, activity by activity.
  const known = await query<{ key: string; finished: number[] | null; scores: number[] | null }>(`
    select e.person_id || '/' || e.course_id as key, array_agg(k.activity_id::int) filter (where k.finished) as finished, array_agg(k.score) filter (where k.score is not null) as scores
    from enrolment e join (
      select enrolment_id, activity_id, bool_or(finished) as finished, max(score) as score from (
        select enrolment_id, activity_id, finished, score from report where received_at < ${end} and at < ${end} and enrolment_id is not null
        union all select enrolment_id, activity_id, (before ->> 'finished')::boolean, (before ->> 'score')::float8 from activity_result where (before ->> 'lastAt')::timestamptz < ${end}
      ) told group by 1, 2
    ) k on k.enrolment_id = e.id group by 1`);
  const knownOf = new Map(known.map((each) => [each.key, each]));
  const activities = await query<{ id: number; unit: number; course: number; pass: number | null }>(
    `select a.id::int, a.unit_id::int as unit, a.course_id::int as course, c.pass_score::int as pass from activity_now a join course_now c on c.id = a.course_id`,
  );
  const work = await query<{ key: string; begun: boolean; done: boolean; exempt: boolean; late: boolean }>(`
    select e.person_id || '/' || e.course_id as key,
      e.status = 'done' and e.done_day <= '${day}' and (not e.done_elsewhere or exists (select 1 from course_exception x where x.person_id = e.person_id and x.course_id = e.course_id and x.kind = 'done elsewhere' and x.from_at < ${end})) as done,
      coalesce(e.begun_at < ${end}, false) or exists (select 1 from activity_result r where r.enrolment_id = e.id and coalesce((r.before ->> 'lastAt')::timestamptz, r.last_at) < ${end}) as begun,
      exists (select 1 from report r where r.enrolment_id = e.id and r.at < ${end} and r.received_at >= ${end}) as late,
      exists (select 1 from course_exception x where x.person_id = e.person_id and x.course_id = e.course_id and x.kind = 'exempt' and x.from_at < ${end} and coalesce(x.until_at >= ${end}, true)) as exempt
    from (select distinct on (person_id, course_id) * from enrolment where round_opened_day is null or round_opened_day <= '${day}' order by person_id, course_id, round desc) e`);
  const workOf = new Map(work.map((each) => [each.key, each]));
  const tagged = await query<{ person: number; tag: number }>(
    `select person_id::int as person, tag_id::int as tag from person_tag x where x.from_at < ${end} and coalesce(x.until_at >= ${end}, true)`,
  );
  const people = counted.map((each): Stood => {
    const courses: Stood['courses'] = [];
    for (const course of rules) {
      const key = `${each.personId}/${course.course.id}`;
      const stood = workOf.get(key);
      const { units } = resolve(course, each, day);
      const told = stood?.late ? { finished: knownOf.get(key)?.finished ?? [], scores: knownOf.get(key)?.scores ?? [] } : null;
      const needed = activities.filter(({ course: of, unit }) => of === course.course.id && units.includes(unit));
      const scores = told?.scores ?? [];
      const mean = scores.reduce((sum, score) => sum + score, 0) / Math.max(1, scores.length);
      const isDone = told
        ? needed.length > 0 && needed.every(({ id, pass }) => told.finished.includes(id) && (pass === null || mean >= pass))
        : stood?.done === true;
      const isBegun = told ? told.finished.length > 0 || scores.length > 0 : stood?.begun === true;
      if (units.length === 0 && !isDone && !isBegun && !stood?.exempt) continue;
      const status = isDone ? 'done' : isBegun ? 'under way' : 'not begun';
      courses.push({ id: course.course.id, status, exempt: stood?.exempt === true });
    }
    const id = each.personId ?? 0;
    return {
      id,
      groups: each.memberships.map(({ groupId }) => groupId),
      inForce: groupsInForce(tree, each, day),
      tags: tagged.filter(({ person }) => person === id).map(({ tag }) => tag),
      courses,
    };
  });
  return { people, isBelow };
}

/** The figures of a branch on a day under a filter of groups, tags, courses and statuses. */
export function figuresByHand({ people, isBelow }: Awaited<ReturnType<typeof stoodOn>>, groupId: number, filter: Filter) {
  const figures = { learners: 0, all: 0, done: 0, underWay: 0, exempt: 0 };
  for (const { groups, inForce, tags, courses } of people) {
    if (!inForce.some((id) => isBelow(id, groupId))) continue;
    let own = courses;
    const fits = filter.every((part) => {
      if (part.part === 'groups') {
        const isIn = groups.some((id) => part.ids.some((top) => (part.withSubgroups ? isBelow(id, top) : id === top)));
        return isIn === (part.how === 'in');
      }
      if (part.part === 'tags') return part.ids.some((id) => tags.includes(id)) === (part.how === 'any');
      if (part.part === 'course') own = own.filter(({ id }) => part.courses.includes(id));
      else if (part.part === 'status') own = own.filter(({ status }) => part.of.includes(status));
      return true;
    });
    if (!fits || (own.length === 0 && filter.some(({ part }) => part === 'course' || part === 'status'))) continue;
    figures.learners++;
    for (const { status, exempt } of own) {
      figures.all++;
      if (exempt) figures.exempt++;
      else if (status === 'done') figures.done++;
      else if (status === 'under way') figures.underWay++;
    }
  }
  return figures;
}
