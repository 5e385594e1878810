import type { ProgressReport } from '@gate-roster/contract';
import { emptyTally, type Filter, type Tally } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, seenThrough } from '../accounts/reach.ts';
import { type Database, ids, type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, filterReader } from '../filters/conditions.ts';
import { countNotCounted } from '../people/scope.ts';
import { filteredFigures } from './filtered-figures.ts';
import { firstWeek, weeksFrom } from './weeks.ts';
import { onDay } from './standings.ts';
import { type GroupTally, learnersPerGroup, scopeOf, tallies, tallyPerGroup } from './tallies.ts';

/** Group by course for a scope: the group itself, and with subgroups the two levels below it. One computation for screen, file and chart. */
export async function progressReport(
  db: Database,
  actor: SignedIn,
  groupId: number,
  withSubgroups: boolean,
  filter: Filter,
): Promise<ProgressReport> {
  const reader = await filterReader(db, actor);
  const shown = await rows<{ id: number; parentId: number | null; name: string; depth: number; hasSubgroups: boolean }>(
    db,
    sql`
    select g.id, g.parent_id as "parentId", g.name, b.depth, exists (select 1 from group_now c where c.parent_id = g.id) as "hasSubgroups"
    from group_branch b join group_now g on g.id = b.group_id where b.ancestor_id = ${groupId} and b.depth <= ${withSubgroups ? 2 : 0} order by b.depth, g.name collate people_order`,
  );
  const groups = shown.map(({ id }) => id);
  const { byCourse, totals, learners, weeks, everybody } = await reportFigures(db, reader, groupId, groups, withSubgroups, filter);
  const cells = new Map<string, Tally>(byCourse.map(({ groupId: group, courseId, tally }) => [`${group}/${courseId}`, tally]));
  const wanted = [...new Set(byCourse.map(({ courseId }) => courseId))];
  const courses = await rows<{ id: number; name: string }>(
    db,
    sql`select id, name from course_now where id = any(${ids(wanted)}) order by id`,
  );
  return {
    learners: learners.get(groupId) ?? 0,
    ofAll: everybody.get(groupId) ?? 0,
    notCounted: await countNotCounted(db, groupId, withSubgroups),
    total: totals.get(groupId) ?? emptyTally,
    courses,
    rows: inTreeOrder(shown, groupId).map((row) => ({
      ...row,
      learners: learners.get(row.id) ?? 0,
      total: totals.get(row.id) ?? emptyTally,
      cells: courses.map(({ id }) => {
        const tally = cells.get(`${row.id}/${id}`);
        return tally && tally.all > 0 ? tally : null;
      }),
    })),
    weeks,
  };
}

/** What a report is made of: per group and course, per group, and done per week. */
export interface Figures {
  byCourse: GroupTally[];
  totals: Map<number, Tally>;
  learners: Map<number, number>;
  weeks: ProgressReport['weeks'];
}

/** The figures of groups in a scope, with how many learners each has in all. */
export async function reportFigures(
  db: Database,
  reader: FilterReader,
  groupId: number,
  groups: readonly number[],
  withSubgroups: boolean,
  filter: Filter,
): Promise<Figures & { everybody: Map<number, number> }> {
  const everybody = await learnersPerGroup(db, groups, withSubgroups);
  const figures =
    filter.length === 0
      ? await keptFigures(db, reader, groupId, groups, withSubgroups, everybody)
      : await filteredFigures(db, reader, groupId, groups, withSubgroups, filter);
  return { ...figures, everybody };
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
      and (${seenThrough(sight, sql`e.via_groups`)} or exists (select 1 from entitlement x
        where x.course_id = e.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(actor.today)} and ${seenThrough(sight, sql`x.via_groups`)})) group by 1`,
  );
  return weeksFrom(first, found);
}
