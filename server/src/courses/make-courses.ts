import { isDeepStrictEqual } from 'node:util';
import type { ActivityContent } from '@gate-roster/contract';
import { type FinishedBy, type HandIn, nameKey, noEffects, tidyName, tidyTags } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { rootsOf, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { onlyOne, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { mayMakeCourses } from './own-courses.ts';
import { playerKey } from '../player/player.ts';

/** Makes courses with their units and activities; open to nobody until they are opened to a group. */
export const planMakeCourses: Planner<'make-courses'> = async ({ db, actor, tree }, change) => {
  const { homeId } = change;
  if ((homeId !== null && !tree.has(homeId)) || !mayMakeCourses(actor, tree, homeId)) throw notFound();
  const effects = noEffects();
  const keys = change.courses.map(({ name }) => nameKey(name));
  const taken = await rows(
    db,
    sql`select 1 from course_now where home_id is not distinct from ${homeId}::bigint and name_key = any(${texts(keys)})`,
  );
  const twice = keys.length - new Set(keys).size + taken.length;
  const codes = change.courses.flatMap(({ code }) => (code ? [code.toLowerCase()] : []));
  const takenCodes = await rows(
    db,
    sql`select 1 from course_now where home_id is not distinct from ${homeId}::bigint and lower(code) = any(${texts(codes)})`,
  );
  const codeTwice = codes.length - new Set(codes).size + takenCodes.length;
  if (codeTwice > 0) effects.conflicts.push({ code: 'course code taken', blocks: true, count: codeTwice });
  if (twice > 0) effects.conflicts.push({ code: 'course name taken', blocks: true, count: twice });
  return {
    effects,
    groups: homeId === null ? rootsOf(tree) : [homeId],
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
      const source = await onlyOne(tx.select({ id: tables.source.id }).from(tables.source).where(eq(tables.source.key, playerKey)));
      for (const course of change.courses) {
        const { id } = await onlyOne(tx.insert(tables.course).values({ sourceId: source.id }).returning({ id: tables.course.id }));
        await writer.begin('course', [
          {
            course_id: id,
            name: tidyName(course.name),
            name_key: nameKey(course.name),
            code: course.code ?? null,
            subject: course.subject ?? null,
            description: course.description ?? null,
            tags: tidyTags(course.tags ?? []),
            terms: 'group',
            archived: false,
            home_id: homeId,
          },
        ]);
        await writeUnits(
          tx,
          writer,
          id,
          course.units.map(({ name, activities }) => ({
            id: null,
            name,
            activities: activities.map((each) => ({
              id: null,
              name: each,
              scored: homeId === null,
              finishedBy: homeId === null ? ('player' as const) : ('learner' as const),
              handIn: null,
              content: null,
            })),
          })),
          { units: [], activities: [] },
        );
      }
      return {};
    },
  };
};

/** Units of a course as they are wished, in order; without a number they are made. */
export interface WishedUnit {
  id: number | null;
  /** The course platform's number; left out: it has none, or keeps the one it has. */
  externalId?: string | null;
  name: string;
  activities: readonly ({ id: number | null; externalId?: string | null; name: string; scored: boolean } & Finishing)[];
}

/** Who finishes an activity, and what is to be handed in for it. */
interface Finishing {
  finishedBy: FinishedBy;
  handIn: HandIn | null;
  content: ActivityContent | null;
}

interface StandingRow {
  rowId: number;
  name: string;
  position: number;
}

/** Brings a course's units and activities to what is wished: rows that say the same stay as they are. */
export async function writeUnits(
  tx: Transaction,
  writer: ChangeWriter,
  courseId: number,
  wished: readonly WishedUnit[],
  now: {
    units: readonly (StandingRow & { unitId: number })[];
    activities: readonly (StandingRow & Finishing & { activityId: number; unitId: number; scored: boolean })[];
  },
): Promise<void> {
  const unitIds = await withNumbers(tx, 'unit', courseId, wished);
  const activities = wished.flatMap((unit, place) =>
    unit.activities.map((activity, position) => ({ ...activity, unitId: unitIds[place] ?? 0, position: position + 1 })),
  );
  const activityIds = await withNumbers(tx, 'activity', courseId, activities);
  const units = wished.map(({ name }, index) => ({ unitId: unitIds[index] ?? 0, name: tidyName(name), position: index + 1 }));
  const placed = activities.map(({ unitId, name, scored, position, finishedBy, handIn, content }, index) => ({
    activityId: activityIds[index] ?? 0,
    unitId,
    name: tidyName(name),
    scored,
    position,
    finishedBy,
    handIn,
    content,
  }));
  const sameUnits = now.units.filter((row) =>
    units.some(({ unitId, name, position }) => unitId === row.unitId && name === row.name && position === row.position),
  );
  const sameActivities = now.activities.filter((row) =>
    placed.some(
      (each) =>
        each.activityId === row.activityId &&
        each.unitId === row.unitId &&
        each.name === row.name &&
        each.scored === row.scored &&
        each.position === row.position &&
        each.finishedBy === row.finishedBy &&
        isDeepStrictEqual([each.handIn, each.content], [row.handIn, row.content]),
    ),
  );
  const ending = <R extends { rowId: number }>(all: readonly R[], same: readonly R[]): number[] =>
    all.flatMap((row) => (same.includes(row) ? [] : [row.rowId]));
  await writer.end('activity', ending(now.activities, sameActivities));
  await writer.end('unit', ending(now.units, sameUnits));
  await writer.begin(
    'unit',
    units
      .filter(({ unitId }) => !sameUnits.some((row) => row.unitId === unitId))
      .map(({ unitId, name, position }) => ({ unit_id: unitId, course_id: courseId, name, position })),
  );
  await writer.begin(
    'activity',
    placed
      .filter(({ activityId }) => !sameActivities.some((row) => row.activityId === activityId))
      .map(({ activityId, unitId, name, scored, position, finishedBy, handIn, content }) => ({
        activity_id: activityId,
        unit_id: unitId,
        course_id: courseId,
        name,
        scored,
        position,
        finished_by: finishedBy,
        hand_in: handIn,
        content,
      })),
  );
}

/** The numbers of units or activities; those without one get one. The course platform's numbers are kept with them. */
async function withNumbers(
  tx: Transaction,
  table: 'unit' | 'activity',
  courseId: number,
  list: readonly { id: number | null; externalId?: string | null }[],
): Promise<number[]> {
  const fresh = list.filter(({ id }) => id === null).length;
  const made = await rows<{ id: number }>(
    tx,
    sql`insert into ${sql.identifier(table)} (course_id) select ${courseId}::bigint from generate_series(1, ${fresh}::int) returning id`,
  );
  const numbers = list.map(({ id }) => id ?? made.shift()?.id ?? 0);
  const known = list.flatMap(({ externalId }, index) => (externalId ? [{ id: numbers[index], external: externalId }] : []));
  if (known.length > 0)
    await tx.execute(
      sql`update ${sql.identifier(table)} t set external_id = k.external from jsonb_to_recordset(${JSON.stringify(known)}::jsonb) as k(id bigint, external text)
      where t.id = k.id and t.external_id is distinct from k.external`,
    );
  return numbers;
}
