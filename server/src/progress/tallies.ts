import { type Day, emptyTally, type Tally } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Database, ids, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { type ProgressSight, seenThrough } from '../accounts/reach.ts';
import { onDay, setsToWorkOut, workedOut } from './standings.ts';
import { summedTally, tallyColumns, tallyFrom, type TallyRow } from './tally-columns.ts';

export interface TallyQuestion {
  /** One row for each of these groups. */
  groups: readonly number[];
  withSubgroups: boolean;
  byCourse: boolean;
  sight: ProgressSight;
  today: Day;
}

export interface GroupTally {
  groupId: number;
  /** 0 when not asked by course. */
  courseId: number;
  tally: Tally;
}

/** Which membership sets count for which group. */
export const scopeOf = (groups: readonly number[], withSubgroups: boolean): SQL =>
  withSubgroups
    ? sql`select ancestor_id as group_id, set_id from set_in_branch where ancestor_id = any(${ids(groups)})`
    : sql`select group_id, set_id from membership_set_group where group_id = any(${ids(groups)})`;

/** Work `e` of `p` of which a reader is told: it was done through a group they see, or it is open through one today. */
export const seenWork = ({ actor, sight }: { actor: { today: Day }; sight: ProgressSight }): SQL =>
  sql`(((e.status <> 'not begun' or e.exempt) and ${seenThrough(sight, sql`e.via_groups`)}) or exists (select 1 from entitlement x
    where x.course_id = e.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(actor.today)} and ${seenThrough(sight, sql`x.via_groups`)}))`;

/**
 * Enrolments of the counted learners of each group, added up: the sum over the standings of the sets that touch it. Kept ones
 * are read, the others worked out; one snapshot serves both.
 */
export async function tallies(db: Database, question: TallyQuestion): Promise<GroupTally[]> {
  return db.transaction((tx) => talliesWithin(tx, question), { isolationLevel: 'repeatable read', accessMode: 'read only' });
}

async function talliesWithin(tx: Transaction, { groups, withSubgroups, byCourse, sight, today }: TallyQuestion): Promise<GroupTally[]> {
  const scope = scopeOf(groups, withSubgroups);
  const toWorkOut = await setsToWorkOut(tx, scope, sight, today);
  const columns = sql`set_id, ${byCourse ? sql`course_id` : sql`0 as course_id`}, ${tallyColumns}`;
  const keptOnes = sql`select ${columns} from standing where course_id ${byCourse ? sql`<>` : sql`=`} 0 and day = ${today} and set_id <> all(${ids(toWorkOut)})`;
  const found = await rows<{ group_id: number; course_id: number } & TallyRow>(
    tx,
    sql`
    select scope.group_id, t.course_id, ${summedTally}
    from (${toWorkOut.length === 0 ? keptOnes : sql`${keptOnes} union all select ${columns} from (${workedOut(toWorkOut, sight, today)}) w`}) t
    join (${scope}) scope on scope.set_id = t.set_id group by 1, 2`,
  );
  return found.map((row) => ({
    groupId: row.group_id,
    courseId: row.course_id,
    tally: tallyFrom(row),
  }));
}

/** Counted learners of each group, once per branch. */
export async function learnersPerGroup(db: Queryable, groups: readonly number[], withSubgroups: boolean): Promise<Map<number, number>> {
  const found = await rows<{ group_id: number; people: number }>(
    db,
    sql`
    select scope.group_id, sum(s.counted)::int as people from (${scopeOf(groups, withSubgroups)}) scope join membership_set s on s.id = scope.set_id group by 1`,
  );
  return new Map(found.map(({ group_id, people }) => [group_id, people]));
}

/** One tally for each group, over all courses. */
export async function tallyPerGroup(db: Database, question: Omit<TallyQuestion, 'byCourse'>): Promise<Map<number, Tally>> {
  const found = new Map<number, Tally>(question.groups.map((id) => [id, emptyTally]));
  for (const { groupId, tally } of await tallies(db, { ...question, byCourse: false })) found.set(groupId, tally);
  return found;
}
