import { sql } from 'drizzle-orm';
import type { PlanContext } from '../changes/plan.ts';
import type { Subject } from '../changes/writer.ts';
import { ids, rows } from '../database/connect.ts';
import { groupOf, type StandingSplit, standingSplits } from './change-splits.ts';
import { type EffectsForNow, effectsForNow } from './effects-for-now.ts';
import type { StoredPart } from './running.ts';

interface Version {
  rowId: number;
  splitId: number;
  parts: StoredPart[];
  makerBranch: number | null;
  isRunning: boolean;
}

/** What opens and closes when rows of splits that a change ended begin again, and those that it began end. */
export async function splitsTurned(context: PlanContext, subjects: readonly Subject[]): Promise<EffectsForNow> {
  const { db } = context;
  const of = (kind: Subject['kind']) => subjects.filter((subject) => subject.kind === kind);
  const rowsIn = (list: readonly Subject[]) => ids(list.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat()));
  const sum: EffectsForNow = { opensForNow: [], closesForNow: [], stillForNow: [] };
  if (of('split').length + of('split member').length === 0) return sum;
  const versions = await rows<Version & { groupId: number }>(
    db,
    sql`
    select row_id as "rowId", split_id as "splitId", group_id as "groupId", parts, maker_branch_id as "makerBranch", coalesce(runs_until > now(), false) as "isRunning"
    from split_version where row_id = any(${rowsIn(of('split'))})`,
  );
  const members = await rows<{ rowId: number; splitId: number; personId: number; part: number }>(
    db,
    sql`select row_id as "rowId", split_id as "splitId", person_id as "personId", part from split_member where row_id = any(${rowsIn(of('split member'))})`,
  );
  const concerned = new Set([...versions, ...members].map(({ splitId }) => splitId));
  const standing = await rows<StandingSplit>(db, sql`${standingSplits} and v.split_id = any(${ids(concerned)})`);
  const begins = new Set(subjects.flatMap(({ before_row }) => before_row ?? []));
  const ends = new Set(of('split member').flatMap(({ after_row }) => after_row ?? []));
  const goes = new Set(of('split').flatMap(({ after_row }) => after_row ?? []));
  for (const splitId of concerned) {
    const now = standing.find(({ id }) => id === splitId);
    const then =
      versions.find((version) => version.splitId === splitId && begins.has(version.rowId)) ??
      (now && !goes.has(now.row_id)
        ? { splitId, groupId: now.group_id, parts: now.parts, makerBranch: now.maker_branch_id, isRunning: now.is_running }
        : undefined);
    const people = [
      ...(now?.members ?? []).filter(({ rowId }) => !ends.has(rowId)),
      ...members.filter((member) => member.splitId === splitId && begins.has(member.rowId)),
    ];
    const turned = await effectsForNow(
      context,
      now?.is_running ? groupOf(now) : null,
      then?.isRunning && context.tree.has(then.groupId) ? { ...then, members: people } : null,
    );
    for (const list of ['opensForNow', 'closesForNow', 'stillForNow'] as const) sum[list] = [...sum[list], ...turned[list]];
  }
  return sum;
}
