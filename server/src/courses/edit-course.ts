import { isDeepStrictEqual } from 'node:util';
import type { Change, CourseValues, WishedUnits } from '@gate-roster/contract';
import { type Actor, type Conflict, type Effects, isBlocked, nameKey, noEffects, tidyName, tidyTags } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse } from '../access/load-rules.ts';
import { type Plan, type PlanContext, type Planner, rootsOf, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { ids, type Queryable, rows, texts } from '../database/connect.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { type WishedUnit, writeUnits } from './make-courses.ts';
import { mayMakeCourses } from './own-courses.ts';
import {
  type ActivityRow,
  courseVersions,
  activityRows,
  type CourseVersion,
  definitionOf,
  type UnitRow,
  unitRows,
  withFacts,
} from './rows.ts';
import { mayFinish } from './undo-courses.ts';

/**
 * Changes what a course says of itself, and its units and activities. Nobody's work is lost: what was done in an activity that is
 * taken out stays with the learner. Who is under way may become done, or no longer be done by narrowing; the look counts both.
 */
export const planEditCourse: Planner<'edit-course'> = async (context, change) => {
  const { db, actor, tree } = context;
  const standing = sql`course_id = ${change.courseId} and until_at is null`;
  const version = found((await courseVersions(db, standing))[0]);
  if (!mayMakeCourses(actor, tree, version.homeId)) throw notFound();
  checkOwn(actor, version, change);
  await checkContent(context, change);
  if (change.units) checkUnits(change.units, await unitRows(db, standing), await activityRows(db, standing));
  const { effects, edited, write } = await lookAtEdits(context, [change]);
  const { then, fields } = found(edited[0]);
  if (fields.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: version.homeId === null || then.homeId === null ? rootsOf(tree) : [version.homeId],
    summary: summaryOf({ courses: [change.courseId], fields, names: { before: version.name, after: then.name } }),
    write,
  };
};

/** A course as it should be. Units and activities with a number may be ones that were taken out before. */
export interface CourseEdit {
  courseId: number;
  values: { [K in keyof CourseValues]?: CourseValues[K] | undefined };
  units?: readonly WishedUnit[] | undefined;
}

interface Edited {
  edit: CourseEdit;
  version: CourseVersion;
  then: CourseVersion;
  units: UnitRow[];
  activities: ActivityRow[];
  /** What would be otherwise. */
  fields: string[];
}

/** What several edits would do together, and how they are written. */
export async function lookAtEdits(
  context: PlanContext,
  edits: readonly CourseEdit[],
  /** Courses that are made with them, by numbers below zero: names and codes may clash with theirs. */
  made: readonly CourseVersion[] = [],
): Promise<{ effects: Effects; edited: Edited[]; write: Plan['write'] }> {
  const { db } = context;
  const standing = sql`course_id = any(${ids(edits.map(({ courseId }) => courseId))}) and until_at is null`;
  const [versions, allUnits, allActivities] = [
    await courseVersions(db, standing),
    await unitRows(db, standing),
    await activityRows(db, standing),
  ];
  const edited = edits.map((edit): Edited => {
    const ofCourse = ({ courseId }: { courseId: number }): boolean => courseId === edit.courseId;
    const version = found(versions.find(ofCourse));
    const [units, activities] = [allUnits.filter(ofCourse), allActivities.filter(ofCourse)];
    const then = versionAfter(version, edit.values, edit.units ?? null, activities);
    const fields = [...fieldsThatDiffer(version, then), ...(edit.units && differs(edit.units, units, activities) ? ['units'] : [])];
    return { edit, version, then, units, activities, fields };
  });
  const ruling = edited.filter(({ fields }) => fields.some((field) => rulingFields.includes(field)));
  const courseIds = ruling.map(({ edit }) => edit.courseId);
  const effects = noEffects();
  effects.conflicts = await inTheWay(db, [...edited.map(({ then }) => then), ...made]);
  if (ruling.length > 0 && !isBlocked(effects)) {
    const said = new Map((await grantsByCourse(db, courseIds)).map((about) => [about.course.id, about]));
    const turning = ruling.map(({ edit, then, activities }) => ({
      then,
      activities,
      about: found(said.get(edit.courseId)),
      numbered: edit.units && withPlaceholders(edit.units),
    }));
    const archived = ruling.flatMap(({ edit, version, then }) => (then.archived && !version.archived ? [edit.courseId] : []));
    Object.assign(
      effects,
      await accessOfShift(context, {
        courses: turning.map(({ then, about, numbered }) =>
          withFacts(about, {
            terms: then.terms,
            archived: then.archived,
            home: then.homeId,
            units: numbered ? numbered.map(({ id }) => id) : about.course.units,
          }),
        ),
        definitions: turning.map(({ then, activities, numbered }) =>
          numbered
            ? { ...definitionOf(then, []), activities: numbered.flatMap((unit) => unit.activities) }
            : definitionOf(then, activities),
        ),
        ...(archived.length > 0 ? { people: await mayFinish(db, archived) } : {}),
      }),
    );
  }
  return {
    effects,
    edited,
    async write(tx, writer) {
      const turned = edited.filter(({ version, then }) => fieldsThatDiffer(version, then).length > 0);
      await writer.replace(
        'course',
        turned.map(({ version, then }) => ({ rowId: version.rowId, values: columnsOf(then) })),
      );
      for (const { edit, units, activities } of edited)
        if (edit.units) await writeUnits(tx, writer, edit.courseId, edit.units, { units, activities });
      const restored = ruling.flatMap(({ edit, version, then }) => (version.archived === then.archived ? [] : [edit.courseId]));
      const { personIds } = restored.length === 0 ? { personIds: [] } : await mayFinish(tx, restored);
      return { everywhere: courseIds, redefined: courseIds, people: [...personIds] };
    },
  };
}

/** What decides to whom it is open, and by what it is done. */
const rulingFields = ['units', 'terms', 'archived', 'homeId', 'passScore', 'doneByActivities'];

function versionAfter(
  version: CourseVersion,
  values: CourseEdit['values'],
  wished: readonly WishedUnit[] | null,
  activities: readonly ActivityRow[],
): CourseVersion {
  const then = { ...version, ...(values as Partial<CourseValues>) };
  const there = new Set(
    wished ? wished.flatMap((unit) => unit.activities.flatMap(({ id }) => id ?? [])) : activities.map(({ activityId }) => activityId),
  );
  const doneBy = then.doneByActivities?.filter((id) => there.has(id)) ?? null;
  if (values.doneByActivities && doneBy?.length !== values.doneByActivities.length) throw unknown('doneByActivities');
  return {
    ...then,
    name: tidyName(then.name),
    tags: tidyTags(then.tags),
    // When none of the named ones is left, all count again.
    doneByActivities: doneBy && doneBy.length > 0 ? doneBy : null,
    reopensDays: then.validMonths === null ? null : then.reopensDays,
  };
}

/**
 * A branch's own course is open by what is said of it, and no outside player shows it; only an administrator makes one everybody's.
 * @throws ProblemError `bad-request`
 */
function checkOwn(actor: Actor, { homeId }: CourseVersion, { values, units }: Extract<Change, { kind: 'edit-course' }>): void {
  const becomes = values.homeId === undefined ? homeId : values.homeId;
  const isWrong =
    (becomes !== homeId && (becomes !== null || actor.role !== 'administrator')) ||
    (becomes !== null &&
      ((values.terms ?? 'group') !== 'group' ||
        units?.some(({ activities }) => activities.some(({ finishedBy }) => finishedBy === 'player'))));
  if (isWrong)
    throw new ProblemError('bad-request', { where: [{ place: 'body.change', what: 'Not for a course of a branch of its own' }] });
}

/** A file is added by the person who sent it, or is part of the course already. @throws ProblemError `not-found` */
async function checkContent({ db, actor }: PlanContext, { courseId, units }: Extract<Change, { kind: 'edit-course' }>): Promise<void> {
  const uploads = new Set(units?.flatMap(({ activities }) => activities.flatMap(({ content }) => content?.uploadId ?? [])));
  if (uploads.size === 0) return;
  const known = await rows(
    db,
    sql`select 1 from upload u where u.id = any(${ids(uploads)}) and (u.made_by = ${actor.personId}
      or exists (select 1 from activity_version a where a.course_id = ${courseId} and (a.content->>'uploadId')::bigint = u.id))`,
  );
  if (known.length < uploads.size) throw notFound();
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
function withPlaceholders(wished: readonly WishedUnit[]): { id: number; activities: { id: number; unitId: number; scored: boolean }[] }[] {
  let next = 0;
  return wished.map((unit) => {
    const unitId = unit.id ?? --next;
    return { id: unitId, activities: unit.activities.map(({ id, scored }) => ({ id: id ?? --next, unitId, scored })) };
  });
}

const differs = (
  wished: readonly WishedUnit[],
  units: readonly { unitId: number; name: string }[],
  activities: readonly ActivityRow[],
): boolean =>
  !isDeepStrictEqual(
    wished.map(({ id, name, activities: list }) => [
      id,
      tidyName(name),
      list.map((each) => [each.id, tidyName(each.name), each.scored, each.finishedBy, each.handIn, each.content]),
    ]),
    units.map(({ unitId, name }) => [
      unitId,
      name,
      activities.flatMap((each) =>
        each.unitId === unitId ? [[each.activityId, each.name, each.scored, each.finishedBy, each.handIn, each.content]] : [],
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
  home_id: version.homeId,
  tags: version.tags,
});

/** Names and codes that another course would have too. */
async function inTheWay(db: Queryable, wished: readonly CourseVersion[]): Promise<Conflict[]> {
  const mine = ids(wished.map(({ courseId }) => courseId));
  const others = await rows<{ nameKey: string; code: string | null; homeId: number | null }>(
    db,
    sql`
    select name_key as "nameKey", code, home_id as "homeId" from course_now
    where id <> all(${mine}) and (name_key = any(${texts(wished.map(({ name }) => nameKey(name)))}) or code = any(${texts(wished.flatMap(({ code }) => code ?? []))}))`,
  );
  const all = [...others, ...wished.map(({ name, code, homeId }) => ({ nameKey: nameKey(name), code, homeId }))];
  const clashing = (isSame: (other: (typeof all)[number], course: CourseVersion) => boolean): number =>
    wished.filter((course) => all.filter((other) => other.homeId === course.homeId && isSame(other, course)).length > 1).length;
  const names = clashing((other, { name }) => other.nameKey === nameKey(name));
  const codes = clashing((other, { code }) => code !== null && other.code === code);
  return [
    ...(names > 0 ? [{ code: 'course name taken' as const, blocks: true, count: names }] : []),
    ...(codes > 0 ? [{ code: 'course code taken' as const, blocks: true, count: codes }] : []),
  ];
}
