import type { Answer, Routes } from '@gate-roster/contract';
import type { Filter } from '@gate-roster/core';
import { isBlocked, nameKey, noEffects, tidyName } from '@gate-roster/core';
import { eq, sql, type SQL } from 'drizzle-orm';
import { progressSight, seenThrough } from '../accounts/reach.ts';
import { type Planner, rootsOf, summaryOf } from '../changes/plan.ts';
import { firstOf, iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { type FilterReader, whoFits } from '../filters/conditions.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { countNotCounted, groupsOf, isCounted } from '../people/scope.ts';

const mostNamed = 200;

/** Confirmed skills: rows of skill_id, person_id, marked_at, marked_by and via_groups, for people `p` under a condition. */
const confirmed = (people: SQL, visible: SQL): SQL => sql`
  select k.skill_id, e.person_id, m.marked_at, m.marked_by from person p join enrolment e on e.person_id = p.id join work w on w.enrolment_id = e.id
  join work_version v on v.work_id = w.id join mark m on m.version_id = v.id and m.until_at is null and m.verdict = 'marked' cross join lateral unnest(m.skill_ids) as k(skill_id)
  where ${people} and ${visible}`;

/** Skills that can be shown, and how many learners of a scope have shown each. */
export async function skillsOf(
  db: Queryable,
  reader: FilterReader,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  filter: Filter,
): Promise<Answer<Routes['skillsOffered']>> {
  const visible = seenThrough(await progressSight(db, reader.actor), sql`e.via_groups`);
  const counted = isCounted(groupId, withSubgroups);
  const who = whoFits(reader, counted, groupsOf(groupId, withSubgroups), filter);
  const skills = await rows<{ skillId: number; name: string; course: string | null; people: number; times: number }>(
    db,
    sql`
    with shown as (${confirmed(who, visible)}), tallied as (select skill_id, count(distinct person_id)::int as people, count(*)::int as times from shown group by 1)
    select s.skill_id as "skillId", s.name, c.name as course, coalesce(t.people, 0) as people, coalesce(t.times, 0) as times
    from (select distinct on (skill_id) * from skill_version order by skill_id, row_id desc) s left join course_now c on c.id = s.course_id left join tallied t on t.skill_id = s.skill_id
    where s.until_at is null or t.people > 0 order by c.name nulls first, s.name_key`,
  );
  const { learners, ofAll } = await oneRow<{ learners: number; ofAll: number }>(
    db,
    sql`select count(*) filter (where ${who})::int as learners, count(*)::int as "ofAll" from person p where ${counted}`,
  );
  return {
    skills,
    learners,
    ofAll,
    notCounted: await countNotCounted(db, groupId, withSubgroups),
    mayEdit: reader.actor.role === 'administrator',
  };
}

/** Who of a scope has shown a skill. @throws ProblemError `not-found` when there is no such skill. */
export async function peopleWithSkill(
  db: Queryable,
  reader: FilterReader,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  skillId: number,
  filter: Filter,
): Promise<Answer<Routes['skillPeople']>> {
  found(await firstOf(db.select({ id: tables.skill.id }).from(tables.skill).where(eq(tables.skill.id, skillId))));
  const visible = seenThrough(await progressSight(db, reader.actor), sql`e.via_groups`);
  const who = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), filter);
  const people = await rows<{
    id: number;
    givenName: string;
    familyName: string;
    times: number;
    lastAt: string;
    by: string[];
    all: number;
  }>(
    db,
    sql`
    with shown as (select * from (${confirmed(who, visible)}) s where s.skill_id = ${skillId}),
    people as (select person_id, count(*)::int as times, max(marked_at) as last_at, array_agg(distinct marked_by) as markers from shown group by 1)
    select n.person_id as id, n.given_name as "givenName", n.family_name as "familyName", t.times, t.last_at as "lastAt",
      coalesce((select jsonb_agg(b.given_name || ' ' || b.family_name order by b.family_name) from personal_now b where b.person_id = any(t.markers)), '[]') as by, count(*) over ()::int as "all"
    from people t join personal_now n on n.person_id = t.person_id order by n.family_name, n.given_name, n.person_id limit ${mostNamed}`,
  );
  const all = people[0]?.all ?? 0;
  return { people: people.map(({ all: _, ...person }) => ({ ...person, lastAt: iso(person.lastAt) })), more: all - people.length };
}

/** What the own work has shown. */
export async function mySkills(db: Queryable, personId: number): Promise<Answer<Routes['mySkills']>> {
  const skills = await rows<{ name: string; course: string | null; times: number; lastAt: string }>(
    db,
    sql`
    with shown as (${confirmed(sql`p.id = ${personId}`, sql`true`)})
    select s.name, c.name as course, count(*)::int as times, max(t.marked_at) as "lastAt" from shown t
    join lateral (select name, course_id from skill_version o where o.skill_id = t.skill_id order by row_id desc limit 1) s on true left join course_now c on c.id = s.course_id
    group by t.skill_id, s.name, c.name order by max(t.marked_at) desc`,
  );
  return { skills: skills.map((skill) => ({ ...skill, lastAt: iso(skill.lastAt) })) };
}

/** The skills of a course, or those of all courses, as they are wished. What work has shown stays shown. */
export const planSetSkills: Planner<'set-skills'> = async ({ db, actor, tree }, { courseId, skills }) => {
  if (actor.role !== 'administrator') throw notFound();
  if (courseId !== null)
    found(await firstOf(db.select({ id: tables.courseNow.id }).from(tables.courseNow).where(eq(tables.courseNow.id, courseId))));
  const now = await rows<{ rowId: number; id: number; name: string; nameKey: string }>(
    db,
    sql`select row_id as "rowId", id, name, name_key as "nameKey" from skill_now where course_id is not distinct from ${courseId}::bigint order by row_id`,
  );
  const wished = skills.map(({ id, name }) => ({ id, name: tidyName(name), nameKey: nameKey(name) }));
  const known = wished.flatMap(({ id }) => id ?? []);
  if (new Set(known).size !== known.length || known.some((id) => !now.some((skill) => skill.id === id)))
    throw new ProblemError('bad-request', { where: [{ place: 'body.change.skills', what: 'A skill that is not kept here' }] });
  const effects = noEffects();
  const twice = wished.length - new Set(wished.map((skill) => skill.nameKey)).size;
  if (twice > 0) effects.conflicts.push({ code: 'skill name taken', blocks: true, count: twice });
  const renamed = now.flatMap((skill) => {
    const then = wished.find(({ id }) => id === skill.id);
    return then && then.name !== skill.name ? [{ rowId: skill.rowId, values: { name: then.name, name_key: then.nameKey } }] : [];
  });
  const gone = now.filter(({ id }) => !known.includes(id));
  const fresh = wished.filter(({ id }) => id === null);
  if (renamed.length + gone.length + fresh.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: rootsOf(tree),
    summary: summaryOf({
      courses: courseId === null || isBlocked(effects) ? [] : [courseId],
      counts: { made: fresh.length, renamed: renamed.length, gone: gone.length },
      names: {
        before: '',
        after: fresh
          .map(({ name }) => name)
          .slice(0, 3)
          .join(', '),
      },
    }),
    async write(tx, writer) {
      await writer.end(
        'skill',
        gone.map(({ rowId }) => rowId),
      );
      await writer.replace('skill', renamed);
      const made = await rows<{ id: number }>(tx, sql`insert into skill select from generate_series(1, ${fresh.length}::int) returning id`);
      await writer.begin(
        'skill',
        fresh.map((skill, place) => ({ skill_id: made[place]?.id ?? 0, course_id: courseId, name: skill.name, name_key: skill.nameKey })),
      );
      return { progressed: [] };
    },
  };
};
