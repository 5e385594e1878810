import type { Answer, Routes } from '@gate-roster/contract';
import { courseParts, emptyTally, type Filter, personParts, type Tally } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import { type Database, ids, type Queryable, rows } from '../database/connect.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import type { Table } from '../http/table.ts';
import { figureHead, figures } from './group-table.ts';
import { reportFigures } from './report.ts';

type Row = Answer<Routes['progressSideBySide']>['rows'][number];

/** Groups next to one another, and the scope below them: the same figures as the report, with quartiles of scores. */
export async function sideBySide(
  db: Database,
  reader: FilterReader,
  scopeId: number,
  groupIds: readonly number[],
  withSubgroups: boolean,
  filter: Filter,
): Promise<Answer<Routes['progressSideBySide']>> {
  const wanted = [...new Set(groupIds)];
  const found: Found[] = [];
  for (const id of [...wanted, scopeId]) found.push(await figuresOf(db, reader, id, withSubgroups, filter));
  const names = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from group_now where id = any(${ids([...wanted, scopeId])})`)).map(
      ({ id, name }) => [id, name],
    ),
  );
  const courseIds = [...new Set(found.flatMap(({ byCourse }) => byCourse.map(({ courseId }) => courseId)))];
  const courses = await rows<{ id: number; name: string }>(
    db,
    sql`select id, name from course_now where id = any(${ids(courseIds)}) order by id`,
  );
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
  const scope = all.pop();
  if (!scope) throw new RangeError('no scope');
  return { courses, rows: all, scope };
}

type Found = Awaited<ReturnType<typeof figuresOf>>;

async function figuresOf(db: Database, reader: FilterReader, groupId: number, withSubgroups: boolean, filter: Filter) {
  return {
    groupId,
    ...(await reportFigures(db, reader, groupId, [groupId], withSubgroups, filter)),
    scores: await quartiles(db, reader, groupId, withSubgroups, filter),
  };
}

/** Lower quartile, median and upper quartile over the enrolments that have a score; null: none has. */
async function quartiles(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  withSubgroups: boolean,
  filter: Filter,
): Promise<Row['scores']> {
  const people = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  const [found] = await rows<{ quarters: number[] | null; scored: number }>(
    db,
    sql`
    select percentile_cont(array[0.25, 0.5, 0.75]) within group (order by e.score) as quarters, count(e.score)::int as scored
    from (${fittingEnrolments(reader, people, courseParts(filter))}) e where e.score is not null and not e.exempt`,
  );
  const [low, median, high] = found?.quarters ?? [];
  return low === undefined || median === undefined || high === undefined ? null : { low, median, high, of: found?.scored ?? 0 };
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
