import type { Change } from '@gate-roster/contract';
import { type Conflict, type Effects, isBlocked, loopOfSets, nameKey, noEffects, type SetItem, tidyName } from '@gate-roster/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { type Plan, type PlanContext, type Planner, rootsOf, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { firstOf, ids, isAmong, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { found, notFound } from '../http/problem.ts';
import { coursesWithItems, setItemRows, type SetItemRow } from './rows.ts';

type Holds = Extract<Change, { kind: 'make-course-set' }>['holds'];

/** Makes a course set. It reaches nobody until something is said about it. */
export const planMakeCourseSet: Planner<'make-course-set'> = async (context, { name, holds }) => {
  const items = await knownItems(context, 0, holds);
  const effects = noEffects();
  effects.conflicts = await nameConflicts(context.db, 0, name);
  return {
    effects,
    groups: rootsOf(context.tree),
    summary: summaryOf({ courses: holds.courses, names: { before: '', after: tidyName(name) } }),
    async write(tx, writer) {
      const { id } = await oneRow<{ id: number }>(tx, sql`insert into course_set default values returning id`);
      const { place } = await oneRow<{ place: number }>(tx, sql`select coalesce(max(position), -1) + 1 as place from course_set_now`);
      await writer.begin('course set', [{ course_set_id: id, name: tidyName(name), name_key: nameKey(name), position: place }]);
      await writer.begin(
        'course set item',
        items.map((item) => columnsOf(id, item)),
      );
      return {};
    },
  };
};

/** Renames a course set, adds to it, takes out of it: all who have the set gain or lose from that moment on. */
export const planEditCourseSet: Planner<'edit-course-set'> = async (context, { courseSetId, name, add, takeOut }) => {
  const { db } = context;
  const set = await setNow(context, courseSetId);
  const standing = await setItemRows(db, sql`until_at is null`);
  const own = standing.filter((item) => item.set === courseSetId);
  const isIn = (item: SetItem, holds: Holds): boolean =>
    'course' in item ? holds.courses.includes(item.course) : holds.sets.includes(item.inner);
  const gone = own.filter((item) => isIn(item, takeOut));
  const fresh = (await knownItems(context, courseSetId, add)).filter((item) => !own.some((known) => sameItem(known, item)));
  const items = [...standing.filter((item) => !gone.includes(item)), ...fresh];
  const isRenamed = name !== undefined && tidyName(name) !== set.name;
  const effects = noEffects();
  if (isRenamed) effects.conflicts = await nameConflicts(db, courseSetId, name);
  const loop = loopOfSets(items);
  if (loop) effects.conflicts.push({ code: 'set in itself', blocks: true, count: loop.length - 1, names: await namesOf(db, loop) });
  if (!isRenamed && gone.length + fresh.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return planned(
    context,
    { effects, items, set, name: isRenamed ? name : set.name, courseIds: coursesOf([...gone, ...fresh]) },
    async (writer) => {
      if (isRenamed) await writer.replace('course set', [{ rowId: set.row_id, values: { name: tidyName(name), name_key: nameKey(name) } }]);
      await writer.end(
        'course set item',
        gone.map(({ rowId }) => rowId),
      );
      await writer.begin(
        'course set item',
        fresh.map((item) => columnsOf(courseSetId, item)),
      );
    },
  );
};

/** Takes a course set away of which nothing is said any more. */
export const planDeleteCourseSet: Planner<'delete-course-set'> = async (context, { courseSetId }) => {
  const { db } = context;
  const set = await setNow(context, courseSetId);
  const standing = await setItemRows(db, sql`until_at is null`);
  const gone = standing.filter((item) => item.set === courseSetId);
  const effects = noEffects();
  const { uses } = await oneRow<{ uses: number }>(
    db,
    sql`
    select ((select count(*) from access_grant where course_set_id = ${courseSetId} and until_at is null) + (select count(*) from licence_now where course_set_id = ${courseSetId})
      + (select count(*) from course_set_item where inner_set_id = ${courseSetId} and until_at is null))::int as uses`,
  );
  if (uses > 0) effects.conflicts.push({ code: 'set in use', blocks: true, count: uses });
  return planned(
    context,
    { effects, items: standing.filter((item) => !gone.includes(item)), set, name: set.name, courseIds: coursesOf(gone) },
    async (writer) => {
      await writer.end(
        'course set item',
        gone.map(({ rowId }) => rowId),
      );
      await writer.end('course set', [set.row_id]);
    },
  );
};

interface SetRow {
  row_id: number;
  name: string;
}

async function setNow({ db, actor }: PlanContext, courseSetId: number): Promise<SetRow> {
  if (actor.role !== 'administrator') throw notFound();
  return found(
    await firstOf(
      db
        .select({ row_id: tables.courseSetNow.rowId, name: tables.courseSetNow.name })
        .from(tables.courseSetNow)
        .where(eq(tables.courseSetNow.id, courseSetId)),
    ),
  );
}

async function planned(
  context: PlanContext,
  { effects, items, set, name, courseIds }: { effects: Effects; items: readonly SetItem[]; set: SetRow; name: string; courseIds: number[] },
  write: (writer: Parameters<Plan['write']>[1]) => Promise<void>,
): Promise<Plan> {
  const after = isBlocked(effects) ? [] : await coursesWithItems(context.db, items);
  if (after.length > 0) Object.assign(effects, await accessOfShift(context, { courses: after }));
  return {
    effects,
    groups: rootsOf(context.tree),
    summary: summaryOf({ courses: courseIds, names: { before: set.name, after: tidyName(name) } }),
    async write(_, writer) {
      await write(writer);
      return { everywhere: after.map(({ course }) => course.id), seats: true };
    },
  };
}

/** @throws ProblemError `not-found` when a course or set is not there. */
async function knownItems({ db, actor }: PlanContext, set: number, holds: Holds): Promise<SetItem[]> {
  if (actor.role !== 'administrator') throw notFound();
  const [courses, sets] = [[...new Set(holds.courses)], [...new Set(holds.sets)]];
  const known = await rows(
    db,
    sql`select id from course_now where home_id is null and id = any(${ids(courses)}) union all select id from course_set_now where id = any(${ids(sets)})`,
  );
  if (known.length < courses.length + sets.length) throw notFound();
  return [...courses.map((course) => ({ set, course })), ...sets.map((inner) => ({ set, inner }))];
}

const sameItem = (a: SetItem, b: SetItem): boolean =>
  'course' in a ? 'course' in b && a.course === b.course : 'inner' in b && a.inner === b.inner;

const columnsOf = (set: number, item: SetItem): Record<string, unknown> => ({
  course_set_id: set,
  course_id: 'course' in item ? item.course : null,
  inner_set_id: 'inner' in item ? item.inner : null,
});

const coursesOf = (items: readonly (SetItem | SetItemRow)[]): number[] => items.flatMap((item) => ('course' in item ? [item.course] : []));

async function nameConflicts(db: Queryable, courseSetId: number, name: string): Promise<Conflict[]> {
  const taken = await firstOf(
    db
      .select({ id: tables.courseSetNow.id })
      .from(tables.courseSetNow)
      .where(and(eq(tables.courseSetNow.nameKey, nameKey(name)), ne(tables.courseSetNow.id, courseSetId))),
  );
  return taken ? [{ code: 'set name taken', blocks: true, count: 1 }] : [];
}

async function namesOf(db: Queryable, sets: readonly number[]): Promise<string[]> {
  const names = new Map(
    (
      await db
        .select({ id: tables.courseSetNow.id, name: tables.courseSetNow.name })
        .from(tables.courseSetNow)
        .where(isAmong(tables.courseSetNow.id, sets))
    ).map(({ id, name }) => [id, name]),
  );
  return sets.map((id) => names.get(id) ?? '');
}
