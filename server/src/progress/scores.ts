import type { ProgressReport } from '@gate-roster/contract';
import { courseParts, type Filter, personParts, type Quartiles, scoreTens } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { scopeOf, seenWork } from './tallies.ts';

/** Scores of the enrolments of a scope that fit a filter and are not exempt: rows of person, course and score. */
function scoresOf(reader: FilterReader, { groupId, withSubgroups, filter }: ScoreQuestion): SQL {
  // Without a filter nobody needs to know what is open beside what was worked on, which takes ten times as long.
  if (filter.length === 0)
    return sql`
      select e.person_id, e.course_id, e.score from enrolment e join person p on p.id = e.person_id
      where e.is_current and not e.exempt and e.score is not null and ${isCounted(groupId, withSubgroups)} and e.course_id in (select id from course_now) and ${seenWork(reader)}`;
  const people = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  return sql`select e.person_id, e.course_id, e.score from (${fittingEnrolments(reader, people, courseParts(filter))}) e where e.score is not null and not e.exempt`;
}

export interface ScoreQuestion {
  groupId: number;
  withSubgroups: boolean;
  filter: Filter;
}

/** Median scores by row and course; of all courses under course 0. */
export type Medians = ReadonlyMap<number, ReadonlyMap<number, number>>;

/** How many scores there are of each ten, the lowest first. */
export async function scoresByTens(db: Queryable, reader: FilterReader, question: ScoreQuestion): Promise<number[]> {
  const found = await rows<{ ten: number; scores: number }>(
    db,
    sql`select least(${scoreTens - 1}, greatest(0, floor(score / 10)))::int as ten, count(*)::int as scores from (${scoresOf(reader, question)}) s group by 1`,
  );
  const byTen = new Map(found.map(({ ten, scores }) => [ten, scores]));
  return Array.from({ length: scoreTens }, (_, ten) => byTen.get(ten) ?? 0);
}

/** Lower quartile, median and upper quartile; null: none has a score. */
export async function quartilesOfScores(db: Queryable, reader: FilterReader, question: ScoreQuestion): Promise<Quartiles | null> {
  const [found] = await rows<{ quarters: number[] | null; scored: number }>(
    db,
    sql`select percentile_cont(array[0.25, 0.5, 0.75]) within group (order by score) as quarters, count(*)::int as scored from (${scoresOf(reader, question)}) s`,
  );
  const [low, median, high] = found?.quarters ?? [];
  return low === undefined || median === undefined || high === undefined ? null : { low, median, high, of: found?.scored ?? 0 };
}

/** Medians for groups within the scope. */
export async function mediansOfGroups(
  db: Queryable,
  reader: FilterReader,
  question: ScoreQuestion,
  groups: readonly number[],
): Promise<Medians> {
  return mediansBy(
    db,
    reader,
    question,
    sql`select s.group_id as row, p.id as person_id from person p join (${scopeOf(groups, question.withSubgroups)}) s on s.set_id = p.set_id`,
  );
}

/** @param pairs A statement for rows of row and person_id: who is in which row. */
export async function mediansBy(db: Queryable, reader: FilterReader, question: ScoreQuestion, pairs: SQL): Promise<Medians> {
  const found = await rows<{ row: number; course_id: number; median: number }>(
    db,
    sql`
    with scored as materialized (${scoresOf(reader, question)}), pairs as materialized (${pairs})
    select r.row, coalesce(s.course_id, 0)::int as course_id, percentile_cont(0.5) within group (order by s.score) as median
    from scored s join pairs r on r.person_id = s.person_id group by grouping sets ((r.row, s.course_id), (r.row))`,
  );
  const medians = new Map<number, Map<number, number>>();
  for (const { row, course_id, median } of found) medians.set(row, (medians.get(row) ?? new Map<number, number>()).set(course_id, median));
  return medians;
}

/** The medians of a row in the order of the courses; null: they were not asked for. */
export const mediansOfRow = (
  medians: Medians | null,
  row: number,
  courses: readonly { id: number }[],
): ProgressReport['rows'][number]['medians'] => {
  if (medians === null) return null;
  const own = medians.get(row);
  return { total: own?.get(0) ?? null, cells: courses.map(({ id }) => own?.get(id) ?? null) };
};
