import type { ProgressReport, RowKind, ScoreKind } from '@gate-roster/contract';
import {
  type Day,
  emptyTally,
  type Filter,
  type GroupInBranch,
  orderReport,
  shownGroups,
  talliesOf,
  type Tally,
  usualLevels,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import type { ProgressSight } from '../accounts/reach.ts';
import { type Database, ids, isAmong, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { FilterReader } from '../filters/conditions.ts';
import { countNotCounted } from '../people/scope.ts';
import type { FiguresAnswer, FiguresQuestion } from './columns/questions.ts';
import { filteredFigures } from './filtered-figures.ts';
import { reportRows } from './report-rows.ts';
import { firstWeek, mondayOf, weeksFrom } from './weeks.ts';
import { type Medians, mediansOfGroups, mediansOfRow, type ScoreQuestion, scoresByTens } from './scores.ts';
import { type GroupTally, learnersPerGroup, scopeOf, seenWork, tallies, tallyPerGroup } from './tallies.ts';

export interface ReportRows {
  rows?: RowKind;
  /** Levels of subgroups; 0: two, or one where two make a large table. */
  levels?: number;
  /** Groups whose subgroups are rows too. */
  unfold?: readonly number[];
  scores?: ScoreKind;
  /** Courses that are left out of the table, and what its rows are sorted by (`readSort`). */
  without?: readonly number[];
  by?: string;
}

/**
 * Group by course for a scope: the group itself, and with subgroups the levels below it, and more where a group is unfolded; or other
 * rows below the group. One computation for screen, file and chart.
 */
export async function progressReport(
  db: Database,
  reader: FilterReader,
  groupId: number,
  withSubgroups: boolean,
  filter: Filter,
  { rows: kind = 'groups', levels = 0, unfold = [], scores = 'mean', without, by }: ReportRows = {},
): Promise<ProgressReport> {
  const notCounted = countNotCounted(db, groupId, withSubgroups);
  notCounted.catch(() => undefined); // Awaited below, when something else may have failed before.
  const shown = await groupRows(db, groupId, withSubgroups && kind === 'groups' ? { levels, unfold } : null);
  const groups = shown.map(({ id }) => id);
  const withMedians = scores === 'median';
  const question = { groupId, withSubgroups, filter };
  const figures = await reportFigures(db, reader, question, groups, { withMedians });
  const { byCourse, totals, learners, weeks, everybody } = figures;
  const { tens, medians } = figures.scores ?? (await readScores(db, reader, question, groups, withMedians));
  const others = kind === 'groups' ? null : await reportRows(db, reader, question, kind, withMedians);
  const cells = new Map<number, Map<number, Tally>>(groups.map((id) => [id, new Map()]));
  for (const each of byCourse) cells.get(each.groupId)?.set(each.courseId, each.tally);
  const wanted = [...new Set([...byCourse.map(({ courseId }) => courseId), ...(others?.courseIds ?? [])])];
  const courses = await db
    .select({ id: tables.courseNow.id, name: tables.courseNow.name })
    .from(tables.courseNow)
    .where(isAmong(tables.courseNow.id, wanted))
    .orderBy(tables.courseNow.id);
  const report: ProgressReport = {
    learners: learners.get(groupId) ?? 0,
    ofAll: everybody.get(groupId) ?? 0,
    notCounted: await notCounted,
    total: totals.get(groupId) ?? emptyTally,
    courses,
    rows: [
      ...inTreeOrder(shown, groupId).map((row) => ({
        ...row,
        part: null,
        learners: learners.get(row.id) ?? 0,
        total: totals.get(row.id) ?? emptyTally,
        cells: courses.map(({ id }) => {
          const tally = cells.get(row.id)?.get(id);
          return tally && tally.all > 0 ? tally : null;
        }),
        medians: mediansOfRow(medians, row.id, courses),
      })),
      ...(others?.rowsFor(courses.map(({ id }) => id)) ?? []),
    ],
    tens,
    weeks,
  };
  return orderReport(report, { without, by });
}

type GroupRow = GroupInBranch & { name: string; hasSubgroups: boolean };

/** The groups that are rows, level by level. @param asked Null: the group alone. */
async function groupRows(db: Queryable, groupId: number, asked: { levels: number; unfold: readonly number[] } | null): Promise<GroupRow[]> {
  const { levels, unfold } = asked ?? { levels: 0, unfold: [] };
  const deepest = asked && (levels || usualLevels);
  const [{ columns }, branch] = await Promise.all([
    oneRow<{ columns: number }>(db, sql`select count(*)::int as columns from course_now`),
    rows<GroupRow>(
      db,
      sql`
      select g.id, g.parent_id as "parentId", g.name, b.depth, exists (select 1 from group_now c where c.parent_id = g.id) as "hasSubgroups"
      from group_branch b join group_now g on g.id = b.group_id
      where b.ancestor_id = ${groupId} and (b.depth <= ${deepest ?? 0} or ${asked !== null} and g.parent_id = any(${ids(unfold)}))
      order by b.depth, g.name collate people_order`,
    ),
  ]);
  return shownGroups(branch, { levels, unfold: new Set(unfold), columns });
}

/** What a report is made of: per group and course, per group, and done per week. */
export interface Figures {
  byCourse: GroupTally[];
  totals: Map<number, Tally>;
  learners: Map<number, number>;
  weeks: ProgressReport['weeks'];
}

/** What it says of scores besides. */
export interface ScoreFigures {
  tens: number[];
  medians: Medians | null;
}

/** The figures of groups in a scope, with how many learners each has in all, and what is said of scores where memory knows it. */
export const reportFigures = (
  db: Database,
  reader: FilterReader,
  question: ScoreQuestion,
  groups: readonly number[],
  { withMedians = false }: { withMedians?: boolean } = {},
): Promise<ReportFigures> =>
  ifKept(reader, question, ['figures', groups, withMedians], () => findFigures(db, reader, question, groups, withMedians));

type ReportFigures = Figures & { everybody: Map<number, number>; scores: ScoreFigures | null };

/** Of a past day what was found before; who fits a filter may be another today. */
const ifKept = <T>({ kept, sight }: FilterReader, question: ScoreQuestion, more: unknown[], find: () => Promise<T>): Promise<T> =>
  kept && question.filter.length === 0 ? kept.of([question, sight, ...more], find) : find();

async function findFigures(
  db: Database,
  reader: FilterReader,
  { groupId, withSubgroups, filter }: ScoreQuestion,
  groups: readonly number[],
  withMedians: boolean,
): Promise<ReportFigures> {
  const remembered = await rememberedFigures(reader, {
    groupId,
    groups,
    withSubgroups,
    filter,
    spreadOf: withMedians ? groups : [groupId],
    scores: withMedians ? 'medians' : 'none',
  });
  if (remembered)
    return {
      ...figuresFrom(remembered, groupId, reader.actor.today),
      scores: { tens: [...(remembered.get(groupId)?.tens ?? [])], medians: withMedians ? mediansFrom(remembered) : null },
    };
  const everybody = await learnersPerGroup(db, groups, withSubgroups);
  const figures =
    filter.length === 0
      ? await keptFigures(db, reader, groupId, groups, withSubgroups, everybody)
      : await filteredFigures(db, reader, groupId, groups, withSubgroups, filter);
  return { ...figures, everybody, scores: null };
}

const readScores = (
  db: Database,
  reader: FilterReader,
  question: ScoreQuestion,
  groups: readonly number[],
  withMedians: boolean,
): Promise<ScoreFigures> =>
  ifKept(reader, question, ['scores', groups, withMedians], async () => ({
    tens: await scoresByTens(db, reader, question),
    medians: withMedians ? await mediansOfGroups(db, reader, question, groups) : null,
  }));

const mediansFrom = (answer: FiguresAnswer): Medians =>
  new Map([...answer].map(([id, { medians, quartiles }]) => [id, quartiles ? new Map([...medians, [0, quartiles.median]]) : new Map()]));

/** From memory; null: the database has to answer. */
export async function rememberedFigures(
  { actor, own, sight, realToday, columns }: FilterReader,
  question: Omit<FiguresQuestion, 'kind' | 'reader' | 'scores' | 'byCourse'> & Partial<Pick<FiguresQuestion, 'scores' | 'byCourse'>>,
): Promise<FiguresAnswer | null> {
  return (
    (await columns?.answer({ kind: 'figures', reader: { actor, own, sight, realToday }, scores: 'none', byCourse: true, ...question })) ??
    null
  );
}

/** What each of these groups comes to in all, without a filter. */
export async function totalsOf(
  db: Database,
  reader: FilterReader,
  groups: readonly number[],
  withSubgroups: boolean,
): Promise<Map<number, Tally>> {
  const [groupId = 0] = groups;
  // For somebody who sees everything the kept standings only have to be added up.
  const remembered =
    reader.sight && (await rememberedFigures(reader, { groupId, groups, withSubgroups, filter: [], spreadOf: [], byCourse: false }));
  if (remembered) return new Map([...remembered].map(([id, { total }]) => [id, total]));
  return tallyPerGroup(db, { groups, withSubgroups, sight: reader.sight, today: reader.actor.today });
}

/** @param spreadOf The group of which weeks are told. */
export function figuresFrom(answer: FiguresAnswer, spreadOf: number, today: Day): Figures & { everybody: Map<number, number> } {
  const all = [...answer];
  const first = firstWeek(today);
  const byMonday = new Map<Day, number>();
  for (const { day, done } of answer.get(spreadOf)?.doneOn ?? [])
    if (day >= first) byMonday.set(mondayOf(day), (byMonday.get(mondayOf(day)) ?? 0) + done);
  return {
    byCourse: all.flatMap(([id, { byCourse }]) =>
      Array.from(talliesOf(byCourse), ([courseId, tally]) => ({ groupId: id, courseId, tally })),
    ),
    totals: new Map(all.map(([id, { total }]) => [id, total])),
    learners: new Map(all.map(([id, { learners }]) => [id, learners])),
    everybody: new Map(all.map(([id, { everybody }]) => [id, everybody])),
    weeks: weeksFrom(
      first,
      [...byMonday].map(([monday, done]) => ({ monday, done })),
    ),
  };
}

/** Without a filter: what the kept standings add up to. */
async function keptFigures(
  db: Database,
  { actor, sight }: FilterReader,
  groupId: number,
  groups: readonly number[],
  withSubgroups: boolean,
  learners: Map<number, number>,
): Promise<Figures> {
  const question = { groups, withSubgroups, sight, today: actor.today };
  const [byCourse, totals, weeks] = await Promise.all([
    tallies(db, { ...question, byCourse: true }),
    tallyPerGroup(db, question),
    doneByWeek(db, actor, groupId, withSubgroups, sight),
  ]);
  return { byCourse, totals, learners, weeks };
}

function inTreeOrder<T extends { id: number; parentId: number | null }>(list: readonly T[], top: number): T[] {
  const walk = (row: T): T[] => [row, ...list.filter(({ parentId }) => parentId === row.id).flatMap(walk)];
  return list.filter(({ id }) => id === top).flatMap(walk);
}

async function doneByWeek(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  withSubgroups: boolean,
  sight: ProgressSight,
): Promise<ProgressReport['weeks']> {
  const first = firstWeek(actor.today);
  const found = await rows<{ monday: string; done: number }>(
    db,
    sql`
    select date_trunc('week', e.done_day)::date as monday, count(*)::int as done from enrolment e join person p on p.id = e.person_id
    where e.is_current and not e.exempt and e.done_day >= ${first} and p.counted and p.set_id in (select set_id from (${scopeOf([groupId], withSubgroups)}) scope)
      and ${seenWork({ actor, sight })} group by 1`,
  );
  return weeksFrom(first, found);
}
