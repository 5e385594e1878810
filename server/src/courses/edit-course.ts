import { isDeepStrictEqual } from 'node:util';
import type { CourseValues, WishedUnits } from '@gate-roster/contract';
import { isBlocked, nameKey, noEffects, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse } from '../access/load-rules.ts';
import { type Planner, rootsOf, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { ids, rows } from '../database/connect.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { writeUnits } from './make-courses.ts';
import { type ActivityRow, courseVersions, activityRows, type CourseVersion, definitionOf, unitRows, withFacts } from './rows.ts';
import { mayFinish } from './undo-courses.ts';

/**
 * Changes what a course says of itself, and its units and activities. Nobody's work is lost: what was done in an activity that is
 * taken out stays with the learner. Who is under way may become done, or no longer be done by narrowing; the look counts both.
 */
export const planEditCourse: Planner<'edit-course'> = async (context, change) => {
  const { db, actor, tree } = context;
  if (actor.role !== 'administrator') throw notFound();
  const version = found((await courseVersions(db, sql`course_id = ${change.courseId} and until_at is null`))[0]);
  const [units, activities] = [
    await unitRows(db, sql`course_id = ${change.courseId} and until_at is null`),
    await activityRows(db, sql`course_id = ${change.courseId} and until_at is null`),
  ];
  if (change.units) checkUnits(change.units, units, activities);
  const then = versionAfter(version, change.values as Partial<CourseValues>, change.units ?? null, activities);
  const effects = noEffects();
  const wrong = await inTheWay(db, then);
  for (const code of wrong) effects.conflicts.push({ code, blocks: true, count: 1 });
  const fields = [...fieldsThatDiffer(version, then), ...(change.units && differs(change.units, units, activities) ? ['units'] : [])];
  if (fields.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const isOtherwise = fields.some((field) => rulingFields.includes(field));
  if (isOtherwise && !isBlocked(effects)) {
    const numbered = change.units && withPlaceholders(change.units);
    const about = found((await grantsByCourse(db, [change.courseId]))[0]);
    Object.assign(
      effects,
      await accessOfShift(context, {
        courses: [
          withFacts(about, {
            terms: then.terms,
            archived: then.archived,
            units: numbered ? numbered.map(({ id }) => id) : about.course.units,
          }),
        ],
        definitions: [
          numbered
            ? { ...definitionOf(then, []), activities: numbered.flatMap(({ activities: list }) => list) }
            : definitionOf(then, activities),
        ],
        ...(then.archived && !version.archived ? { people: await mayFinish(db, [change.courseId]) } : {}),
      }),
    );
  }
  return {
    effects,
    groups: rootsOf(tree),
    summary: summaryOf({ courses: [change.courseId], fields, names: { before: version.name, after: then.name } }),
    async write(tx, writer) {
      if (fieldsThatDiffer(version, then).length > 0) await writer.replace('course', [{ rowId: version.rowId, values: columnsOf(then) }]);
      if (change.units) await writeUnits(tx, writer, change.courseId, change.units, { units, activities });
      if (!isOtherwise) return { everywhere: [], redefined: [] };
      const people = version.archived === then.archived ? { personIds: [] } : await mayFinish(tx, [change.courseId]);
      return { everywhere: [change.courseId], redefined: [change.courseId], people: [...people.personIds] };
    },
  };
};

/** What decides to whom it is open, and by what it is done. */
const rulingFields = ['units', 'terms', 'archived', 'passScore', 'doneByActivities'];

function versionAfter(
  version: CourseVersion,
  values: Partial<CourseValues>,
  wished: WishedUnits | null,
  activities: readonly ActivityRow[],
): CourseVersion {
  const then = { ...version, ...values };
  const there = new Set(
    wished ? wished.flatMap((unit) => unit.activities.flatMap(({ id }) => id ?? [])) : activities.map(({ activityId }) => activityId),
  );
  const doneBy = then.doneByActivities?.filter((id) => there.has(id)) ?? null;
  if (values.doneByActivities && doneBy?.length !== values.doneByActivities.length) throw unknown('doneByActivities');
  return {
    ...then,
    name: tidyName(then.name),
    // When none of the named ones is left, all count again.
    doneByActivities: doneBy && doneBy.length > 0 ? doneBy : null,
    reopensDays: then.validMonths === null ? null : then.reopensDays,
  };
}

const unknown = (place: string): ProblemError =>
  new ProblemError('bad-request', { where: [{ place: `body.change.${place}`, what: 'A unit or activity that is not of this course' }] });

function checkUnits(wished: WishedUnits, units: readonly { unitId: number }[], activities: readonly { activityId: number }[]): void {
  const isKnown = (given: readonly (number | null)[], known: readonly number[]): boolean => {
    const numbers = given.flatMap((id) => id ?? []);
    return new Set(numbers).size === numbers.length && numbers.every((id) => known.includes(id));
  };
  const givenActivities = wished.flatMap((unit) => unit.activities.map(({ id }) => id));
  if (
    !isKnown(
      wished.map(({ id }) => id),
      units.map(({ unitId }) => unitId),
    ) ||
    !isKnown(
      givenActivities,
      activities.map(({ activityId }) => activityId),
    )
  )
    throw unknown('units');
}

/** New units and activities under numbers below zero, for working out what would follow. */
function withPlaceholders(wished: WishedUnits): { id: number; activities: { id: number; unitId: number; scored: boolean }[] }[] {
  let next = 0;
  return wished.map((unit) => {
    const unitId = unit.id ?? --next;
    return { id: unitId, activities: unit.activities.map(({ id, scored }) => ({ id: id ?? --next, unitId, scored })) };
  });
}

const differs = (wished: WishedUnits, units: readonly { unitId: number; name: string }[], activities: readonly ActivityRow[]): boolean =>
  !isDeepStrictEqual(
    wished.map(({ id, name, activities: list }) => [
      id,
      tidyName(name),
      list.map((each) => [each.id, tidyName(each.name), each.scored, each.finishedBy, each.handIn]),
    ]),
    units.map(({ unitId, name }) => [
      unitId,
      name,
      activities.flatMap((each) =>
        each.unitId === unitId ? [[each.activityId, each.name, each.scored, each.finishedBy, each.handIn]] : [],
      ),
    ]),
  );

const fieldsThatDiffer = (before: CourseVersion, after: CourseVersion): string[] =>
  (Object.keys(before) as (keyof CourseVersion)[]).filter((key) => JSON.stringify(before[key]) !== JSON.stringify(after[key]));

const columnsOf = (version: CourseVersion): Record<string, unknown> => ({
  name: version.name,
  name_key: nameKey(version.name),
  code: version.code,
  subject: version.subject,
  description: version.description,
  terms: version.terms,
  archived: version.archived,
  pass_score: version.passScore,
  done_by_activities: version.doneByActivities,
  valid_months: version.validMonths,
  reopens_days: version.reopensDays,
});

async function inTheWay(
  db: Parameters<typeof rows>[0],
  { courseId, name, code }: CourseVersion,
): Promise<('course name taken' | 'course code taken')[]> {
  const others = await rows<{ has_name: boolean; has_code: boolean }>(
    db,
    sql`
    select name_key = ${nameKey(name)} as has_name, coalesce(code = ${code}, false) as has_code from course_now
    where id <> all(${ids([courseId])}) and (name_key = ${nameKey(name)} or code = ${code})`,
  );
  return [
    ...(others.some(({ has_name }) => has_name) ? (['course name taken'] as const) : []),
    ...(others.some(({ has_code }) => has_code) ? (['course code taken'] as const) : []),
  ];
}
