import { arrangeLine, noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { ids, rows } from '../database/connect.ts';
import { groupsOf } from '../people/scope.ts';
import { licenceOf } from './hand-out-seats.ts';

interface Waiting {
  row_id: number;
  course_id: number;
  key: number;
  place: number;
}

/**
 * Lets people go first in the line of a branch for the courses that a licence pays for, or two of them change places. The branch
 * keeps the places it has: nobody outside it is passed.
 */
export const planArrangeLine: Planner<'arrange-line'> = async (context, { licenceId, groupId, personIds, how }) => {
  const licence = await licenceOf(context, { licenceId, groupId });
  const waiting = await rows<Waiting>(
    context.db,
    sql`
    select l.row_id, l.course_id, l.person_id as key, l.place from seat_line l join licence_course k on k.course_id = l.course_id and k.licence_id = ${licenceId}
    where l.until_at is null and exists (select 1 from membership m where m.person_id = l.person_id and m.until_at is null and m.group_id in (${groupsOf(groupId, true)}))
    order by l.course_id, l.place`,
  );
  const rowOf = new Map(waiting.map((each) => [`${each.course_id}/${each.key}`, each.row_id]));
  const courses = [...new Set(waiting.map(({ course_id }) => course_id))];
  const moved = courses.flatMap((courseId) =>
    arrangeLine(
      waiting.filter(({ course_id }) => course_id === courseId),
      personIds,
      how,
    ).map(({ key, place }) => ({ rowId: rowOf.get(`${courseId}/${key}`) ?? 0, key, place })),
  );
  const effects = noEffects();
  if (moved.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  effects.reordered = [...new Set(moved.map(({ key }) => key))];
  const chosen = [...new Set(personIds)].filter((id) => effects.reordered.includes(id));
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      people: chosen.slice(0, 3),
      names: { before: how, after: licence.name },
      counts: { people: chosen.length },
    }),
    async write(_, writer) {
      await writer.replace(
        'seat line',
        moved.map(({ rowId, place }) => ({ rowId, values: { place } })),
      );
      return { seats: true };
    },
  };
};

/** Those whose places in line come back when these rows stand again, in the order in which they will be served. */
export const placesBefore = async ({ db }: Parameters<Planner<'arrange-line'>>[0], rowIds: readonly number[]): Promise<number[]> =>
  (
    await rows<{ person_id: number }>(
      db,
      sql`select person_id from seat_line where row_id = any(${ids(rowIds)}) group by person_id order by min(course_id), min(place)`,
    )
  ).map(({ person_id }) => person_id);
