import type { Answer, Routes } from '@gate-roster/contract';
import { emptyTally, type Filter, type Tally } from '@gate-roster/core';
import type { FilterReader } from '../filters/conditions.ts';
import { type Database, isAmong } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Table } from '../http/table.ts';
import { figureHead, figures } from './group-table.ts';
import { commonUnits, talliesOnUnits } from './common-units.ts';
import { figuresFrom, rememberedFigures, reportFigures } from './report.ts';
import { quartilesOfScores } from './scores.ts';

type Row = Answer<Routes['progressSideBySide']>['rows'][number];

/** Groups next to one another, and the scope below them: the same figures as the report, with quartiles of scores. */
export async function sideBySide(
  db: Database,
  reader: FilterReader,
  scopeId: number,
  groupIds: readonly number[],
  withSubgroups: boolean,
  filter: Filter,
  { onCommonUnits = false }: { onCommonUnits?: boolean } = {},
): Promise<Answer<Routes['progressSideBySide']>> {
  const wanted = [...new Set(groupIds)];
  const found = await figuresOfAll(db, reader, [...wanted, scopeId], withSubgroups, filter);
  const names = new Map(
    (
      await db
        .select({ id: tables.groupNow.id, name: tables.groupNow.name })
        .from(tables.groupNow)
        .where(isAmong(tables.groupNow.id, [...wanted, scopeId]))
    ).map(({ id, name }) => [id, name]),
  );
  const courseIds = [...new Set(found.flatMap(({ byCourse }) => byCourse.map(({ courseId }) => courseId)))];
  const courses = await db
    .select({ id: tables.courseNow.id, name: tables.courseNow.name })
    .from(tables.courseNow)
    .where(isAmong(tables.courseNow.id, courseIds))
    .orderBy(tables.courseNow.id);
  const rowOf = ({ groupId, byCourse, totals, learners, everybody, scores }: Found): Row => {
    const cells = new Map<number, Tally>(byCourse.map(({ courseId, tally }) => [courseId, tally]));
    return {
      id: groupId,
      name: names.get(groupId) ?? '',
      learners: learners.get(groupId) ?? 0,
      ofAll: everybody.get(groupId) ?? 0,
      total: totals.get(groupId) ?? emptyTally,
      scores,
      cells: courses.map(({ id }) => {
        const tally = cells.get(id);
        return tally && tally.all > 0 ? tally : null;
      }),
    };
  };
  const all = found.map(rowOf);
  if (onCommonUnits) {
    const units = await commonUnits(db, reader, { groups: wanted, withSubgroups, filter });
    for (const row of all) {
      const counted = await talliesOnUnits(db, reader, row.id, { withSubgroups, filter }, units);
      row.cells = courses.map(({ id }, index) => {
        const [cell, tally] = [row.cells[index], counted.get(id)];
        return cell && tally ? { ...cell, ...tally } : null;
      });
    }
  }
  const scope = all.pop();
  if (!scope) throw new RangeError('no scope');
  return { courses, rows: all, scope };
}

type Found = Awaited<ReturnType<typeof figuresOf>>;

/** In the order of the groups. One question to memory serves all, unless the filter speaks of each group by itself. */
async function figuresOfAll(
  db: Database,
  reader: FilterReader,
  groups: readonly number[],
  withSubgroups: boolean,
  filter: Filter,
): Promise<Found[]> {
  const isOfScope = filter.some(({ part }) => part === 'came');
  const scopeId = groups.at(-1) ?? 0;
  const question = { groupId: scopeId, groups, withSubgroups, filter, spreadOf: groups, scores: 'quartiles' as const };
  const remembered = isOfScope ? null : await rememberedFigures(reader, question);
  const found: Found[] = [];
  for (const groupId of groups) {
    const own = remembered?.get(groupId);
    found.push(
      own
        ? { groupId, ...figuresFrom(new Map([[groupId, own]]), groupId, reader.actor.today), scores: own.quartiles }
        : await figuresOf(db, reader, groupId, withSubgroups, filter),
    );
  }
  return found;
}

async function figuresOf(db: Database, reader: FilterReader, groupId: number, withSubgroups: boolean, filter: Filter) {
  return {
    groupId,
    ...(await reportFigures(db, reader, { groupId, withSubgroups, filter }, [groupId])),
    scores: await quartilesOfScores(db, reader, { groupId, withSubgroups, filter }),
  };
}

/** The same as a file: a line for each group and course. */
export const besideTable = ({ courses, rows: list, scope }: Answer<Routes['progressSideBySide']>): Table => ({
  name: 'Side by side',
  head: ['Group', 'Learners', 'Course', ...figureHead, 'Lower quartile', 'Median score', 'Upper quartile'],
  lines: [...list, scope].flatMap((row) => [
    [
      row.name,
      row.learners,
      'All courses',
      ...figures(row.total),
      row.scores?.low ?? null,
      row.scores?.median ?? null,
      row.scores?.high ?? null,
    ],
    ...courses.flatMap((course, index) => {
      const cell = row.cells[index];
      return cell ? [[row.name, row.learners, course.name, ...figures(cell), null, null, null]] : [];
    }),
  ]),
});
