import { compareFeed, type FeedCourse, nameKey, tidyName, type UnitFromFeed } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { type Planner, rootsOf, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, maybeRow, onlyOne, type Queryable, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { found, notFound } from '../http/problem.ts';
import { playerKey } from '../player/player.ts';
import { type CourseEdit, lookAtEdits } from './edit-course.ts';
import { type WishedUnit, writeUnits } from './make-courses.ts';
import { knownCourses } from './read-feed.ts';
import { type ActivityRow, activityRows, type CourseVersion } from './rows.ts';

/**
 * Takes from what the course platform offered when it was asked: makes the new courses that are wanted, changes others, and archives
 * some that it offers no more. What was made and set here stays: terms, days, done rule, activities that are marked or ticked off.
 */
export const planTakeFeed: Planner<'take-feed'> = async (context, { feedId, take, archive }) => {
  const { db, actor, tree } = context;
  if (actor.role !== 'administrator') throw notFound();
  const { courses } = found(await maybeRow<{ courses: FeedCourse[] }>(db, sql`select courses from course_feed where id = ${feedId}`));
  const difference = compareFeed(courses, await knownCourses(db));
  const wanted = new Set(take);
  const fresh = difference.fresh.filter(({ id }) => wanted.has(id));
  const changed = difference.changed.filter(({ course }) => wanted.has(course.id));
  const gone = difference.gone.filter(({ id }) => archive.includes(id));
  const standing = new Map((await activityRows(db, sql`until_at is null`)).map((row) => [row.activityId, row]));
  const numbers = await Numbers.of(
    db,
    changed.map(({ known }) => known.id),
  );
  const edits: CourseEdit[] = [
    ...changed.map(({ known, values, units }) => ({
      courseId: known.id,
      values,
      units: units.map((unit) => wishedOf(numbers.in(known.id, unit), standing)),
    })),
    ...gone.map(({ id }) => ({ courseId: id, values: { archived: true } })),
  ];
  const { effects, write } = await lookAtEdits(
    context,
    edits,
    fresh.map((course, index) => versionOf(course, -1 - index)),
  );
  const left = wanted.size + new Set(archive).size - fresh.length - changed.length - gone.length;
  if (left > 0) effects.conflicts.push({ code: 'gone since', blocks: false, count: left });
  if (fresh.length + edits.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: rootsOf(tree),
    summary: summaryOf({
      courses: edits.map(({ courseId }) => courseId).slice(0, 3),
      counts: { made: fresh.length, changed: changed.length, archived: gone.length },
    }),
    async write(tx, writer) {
      await tx.execute(
        sql`update course c set external_id = k.external from jsonb_to_recordset(${JSON.stringify(changed.map(({ known, course }) => ({ id: known.id, external: course.id })))}::jsonb) as k(id bigint, external text) where c.id = k.id`,
      );
      await makeFresh(tx, writer, fresh);
      return write(tx, writer);
    },
  };
};

const played = { finishedBy: 'player' as const, handIn: null, content: null };

/** Who finishes an activity is ours to say, and stays. */
const wishedOf = (unit: UnitFromFeed, standing: ReadonlyMap<number, ActivityRow>): WishedUnit => ({
  ...unit,
  activities: unit.activities.map((each) => {
    const { finishedBy, handIn, content } = standing.get(each.id ?? 0) ?? played;
    return { ...each, finishedBy, handIn, content };
  }),
});

const versionOf = ({ title, code, subject, description }: FeedCourse, courseId: number): CourseVersion => ({
  rowId: 0,
  courseId,
  name: tidyName(title),
  code: code ?? null,
  subject: subject ?? null,
  description: description ?? null,
  terms: 'group',
  archived: false,
  passScore: null,
  doneByActivities: null,
  validMonths: null,
  reopensDays: null,
  tags: [],
  homeId: null,
});

/** Makes courses that are not here. One whose making was undone has its number still, and takes it again. */
async function makeFresh(tx: Transaction, writer: ChangeWriter, fresh: readonly FeedCourse[]): Promise<void> {
  if (fresh.length === 0) return;
  const source = await onlyOne(tx.select({ id: tables.source.id }).from(tables.source).where(eq(tables.source.key, playerKey)));
  await tx.execute(
    sql`insert into course (source_id, external_id) select ${source.id}::bigint, e from unnest(${texts(fresh.map(({ id }) => id))}) e on conflict (source_id, external_id) do nothing`,
  );
  const known = await tx
    .select({ external: tables.course.externalId, id: tables.course.id })
    .from(tables.course)
    .where(and(eq(tables.course.sourceId, source.id), sql`${tables.course.externalId} = any(${texts(fresh.map(({ id }) => id))})`));
  const idOf = new Map(known.map(({ external, id }) => [external, id]));
  const numbers = await Numbers.of(tx, [...idOf.values()]);
  await writer.begin(
    'course',
    fresh.map((course) => {
      const { name, code, subject, description, terms } = versionOf(course, 0);
      return {
        course_id: idOf.get(course.id),
        name,
        name_key: nameKey(name),
        code,
        subject,
        description,
        terms,
        archived: false,
        tags: [],
      };
    }),
  );
  for (const course of fresh) {
    const courseId = idOf.get(course.id) ?? 0;
    await writeUnits(
      tx,
      writer,
      courseId,
      course.units.map(({ id, title, activities }) => {
        const unit = {
          id: null,
          externalId: id,
          name: title,
          activities: activities.map((each) => ({ ...each, id: null, externalId: each.id, name: each.title })),
        };
        return wishedOf(numbers.in(courseId, unit), new Map());
      }),
      { units: [], activities: [] },
    );
  }
}

/** Units and activities that courses have, or had, by the platform's numbers: what comes back is what it was. */
class Numbers {
  readonly #known: ReadonlyMap<string, number>;

  private constructor(known: ReadonlyMap<string, number>) {
    this.#known = known;
  }

  static async of(db: Queryable, courseIds: readonly number[]): Promise<Numbers> {
    const list = await rows<{ kind: string; courseId: number; external: string; id: number }>(
      db,
      sql`
      select 'unit' as kind, course_id as "courseId", external_id as external, id from unit where course_id = any(${ids(courseIds)}) and external_id is not null
      union all select 'activity', course_id, external_id, id from activity where course_id = any(${ids(courseIds)}) and external_id is not null`,
    );
    return new Numbers(new Map(list.map(({ kind, courseId, external, id }) => [`${kind} ${courseId} ${external}`, id])));
  }

  /** A unit with the numbers that it and its activities have in a course. */
  in(courseId: number, unit: UnitFromFeed): UnitFromFeed {
    const numbered = <T extends { id: number | null; externalId: string | null }>(kind: string, each: T): T => ({
      ...each,
      id: each.id ?? this.#known.get(`${kind} ${courseId} ${each.externalId ?? ''}`) ?? null,
    });
    return { ...numbered('unit', unit), activities: unit.activities.map((each) => numbered('activity', each)) };
  }
}
