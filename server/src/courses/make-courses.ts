import { nameKey, noEffects, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { ids, oneRow, rows, texts, type Transaction } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { playerKey } from '../player/player.ts';

/** Makes courses with their units and activities; open to nobody until they are opened to a group. */
export const planMakeCourses: Planner<'make-courses'> = async ({ db, actor, tree }, change) => {
  if (actor.role !== 'administrator') throw notFound();
  const effects = noEffects();
  const keys = change.courses.map(({ name }) => nameKey(name));
  const taken = await rows(db, sql`select 1 from course where name_key = any(${texts(keys)})`);
  const twice = keys.length - new Set(keys).size + taken.length;
  if (twice > 0) effects.conflicts.push({ code: 'name taken', blocks: true, count: twice });
  const root = [...tree.nodes()].filter(({ parentId }) => parentId === null).map(({ id }) => id);
  return {
    effects,
    groups: root,
    summary: summaryOf({
      counts: { courses: change.courses.length },
      names: {
        before: '',
        after: change.courses
          .map(({ name }) => tidyName(name))
          .slice(0, 3)
          .join(', '),
      },
    }),
    async write(tx, writer) {
      const source = await oneRow<{ id: number }>(tx, sql`select id from source where key = ${playerKey}`);
      for (const course of change.courses) {
        const { id } = await oneRow<{ id: number }>(
          tx,
          sql`insert into course (source_id, name, name_key) values (${source.id}, ${tidyName(course.name)}, ${nameKey(course.name)}) returning id`,
        );
        await tx.execute(sql`insert into course_terms (course_id, terms) values (${id}, 'group')`);
        const units = await rows<{ id: number }>(
          tx,
          sql`
          insert into unit (course_id, position, name) select ${id}::bigint, r.position, r.name
          from jsonb_to_recordset(${JSON.stringify(course.units.map(({ name }, index) => ({ position: index + 1, name: tidyName(name) })))}::jsonb) as r(position int, name text) order by r.position returning id`,
        );
        const activities = course.units.flatMap((unit, index) =>
          unit.activities.map((name, place) => ({ unit: units[index]?.id, position: place + 1, name: tidyName(name) })),
        );
        await tx.execute(sql`
          insert into activity (unit_id, position, name, scored) select unit, position, name, true
          from jsonb_to_recordset(${JSON.stringify(activities)}::jsonb) as r(unit bigint, position int, name text)`);
        writer.note('course', { after_row: id });
      }
      return {};
    },
  };
};

/** Courses on which nothing hangs. */
export async function unusedCourses(db: Transaction | Parameters<typeof rows>[0], courseIds: readonly number[]): Promise<Set<number>> {
  const found = await rows<{ id: number }>(
    db,
    sql`
    select id from course c where id = any(${ids(courseIds)}) and not exists (select 1 from enrolment e where e.course_id = c.id)
      and not exists (select 1 from access_grant g where g.course_id = c.id) and not exists (select 1 from course_set_course s where s.course_id = c.id) and not exists (select 1 from licence_version l where l.course_id = c.id)`,
  );
  return new Set(found.map(({ id }) => id));
}

export async function deleteCourses(tx: Transaction, courseIds: readonly number[]): Promise<void> {
  if (courseIds.length === 0) return;
  const gone = ids(courseIds);
  await tx.execute(sql`delete from entitlement where course_id = any(${gone})`);
  await tx.execute(sql`delete from activity where unit_id in (select id from unit where course_id = any(${gone}))`);
  await tx.execute(sql`delete from launch where course_id = any(${gone})`);
  for (const table of ['unit', 'course_terms']) await tx.execute(sql`delete from ${sql.identifier(table)} where course_id = any(${gone})`);
  await tx.execute(sql`delete from course where id = any(${gone})`);
}
