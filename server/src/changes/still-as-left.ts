import { type GroupId, type GroupNode, nameKey, type Tree } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { coursesAsLeft } from '../courses/undo-courses.ts';
import { ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { withoutRoom } from '../seats/move-seats.ts';
import type { PlanContext } from './plan.ts';
import { keptRows, needsGroup, type RowKind } from './kept-rows.ts';
import { takenPlaces } from './taken-places.ts';
import type { Subject, SubjectKind } from './writer.ts';

/* Which parts of a change still are as it left them, and can be put back without hanging in the air. */

/** What can be put back, and the tree as it would stand then. */
export interface Restoring {
  restorable: Subject[];
  after: Tree;
}

export async function stillAsLeft(context: PlanContext, subjects: readonly Subject[]): Promise<Restoring> {
  const kept: Subject[][] = [];
  for (const kind of new Set(subjects.map((subject) => subject.kind))) {
    const list = subjects.filter((subject) => subject.kind === kind);
    kept.push(await (kind in keptRows ? rowsAsLeft(context, kind as RowKind, list) : placesAsLeft(context, kind, list)));
  }
  return withStandingGroups(context, await coursesAsLeft(context, subjects, kept.flat()));
}

/** Accounts and enrolments, which have no rows that end. */
async function placesAsLeft({ db }: PlanContext, kind: SubjectKind, list: readonly Subject[]): Promise<Subject[]> {
  const concerned = list.flatMap(({ after_row }) => after_row ?? []);
  const found = await rows<{ id: number }>(
    db,
    kind === 'person'
      ? sql`select person_id as id from person_state where person_id = any(${ids(concerned)}) and until_at is null and state <> 'ended'`
      : sql`select id from enrolment where id = any(${ids(concerned)})`,
  );
  const there = new Set(found.map(({ id }) => id));
  return list.filter(({ after_row }) => after_row !== null && there.has(after_row));
}

async function rowsAsLeft(context: PlanContext, kind: RowKind, list: readonly Subject[]): Promise<Subject[]> {
  const { db } = context;
  const touchedRows = list.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat());
  const found = await rows<{ row_id: number; stands: boolean }>(
    db,
    sql`select row_id, until_at is null as stands from ${sql.identifier(keptRows[kind].table)} where row_id = any(${ids(touchedRows)})`,
  );
  const stands = new Map(found.map((row) => [row.row_id, row.stands]));
  const blocked = await takenPlaces(
    db,
    kind,
    list.flatMap(({ before_row }) => before_row ?? []),
    list.flatMap(({ after_row }) => after_row ?? []),
  );
  if (kind === 'seat') for (const row of await withoutRoom(context, list)) blocked.add(row);
  return list.filter(
    ({ before_row, after_row }) =>
      (after_row === null || stands.get(after_row) === true) &&
      (before_row === null || (stands.has(before_row) && !blocked.has(before_row))),
  );
}

/**
 * Groups hang on groups, and people, leaders and grants hang on them. What would hang in the air, go in a circle, or take a
 * sibling's name is not restored, and a group that others have put something into does not go.
 */
async function withStandingGroups(context: PlanContext, kept: readonly Subject[]): Promise<Restoring> {
  const { db, tree } = context;
  const versions = new Map(
    (
      await db
        .select({
          rowId: tables.groupVersion.rowId,
          id: tables.groupVersion.groupId,
          parentId: tables.groupVersion.parentId,
          name: tables.groupVersion.name,
          state: tables.groupVersion.state,
          firstDay: tables.groupVersion.firstDay,
          lastDay: tables.groupVersion.lastDay,
        })
        .from(tables.groupVersion)
        .where(
          isAmong(
            tables.groupVersion.rowId,
            kept.flatMap(({ kind, before_row }) => (kind === 'group' ? (before_row ?? []) : [])),
          ),
        )
    ).map(({ rowId, ...node }) => [rowId, node]),
  );
  const hung = await hungOnSince(context, kept);
  const given = await givenSince(context, kept);
  let restorable = kept.filter(
    ({ kind, group_id, before_row, after_row }) =>
      (kind !== 'group' || before_row !== null || !hung.has(group_id ?? 0)) && (kind !== 'tag' || !given.has(after_row ?? 0)),
  );
  for (;;) {
    const changes = new Map<GroupId, GroupNode | null>();
    for (const { kind, group_id, before_row } of restorable)
      if (kind === 'group' && group_id !== null) changes.set(group_id, before_row === null ? null : (versions.get(before_row) ?? null));
    const after = tree.with(changes);
    const touched = [...changes.keys()];
    const isBad = (id: GroupId): boolean =>
      after.has(id)
        ? !after.isRooted(id) ||
          after.children(after.node(id).parentId).some((other) => other.id !== id && nameKey(other.name) === nameKey(after.node(id).name))
        : [...after.nodes()].some(({ parentId }) => parentId === id);
    const bad = new Set(touched.filter(isBad));
    const stays = restorable.filter(({ kind, group_id, before_row }) => {
      if (kind === 'group') return !bad.has(group_id ?? 0);
      // A row that begins again needs its group.
      return group_id === null || before_row === null || !needsGroup.has(kind) || after.has(group_id);
    });
    if (stays.length === restorable.length) return { restorable, after };
    restorable = stays;
  }
}

/** Of tags that a change made, the rows of those that people or groups have who did not get them by it. */
async function givenSince({ db }: PlanContext, subjects: readonly Subject[]): Promise<Set<number>> {
  const made = subjects.flatMap(({ kind, before_row, after_row }) => (kind === 'tag' && before_row === null ? (after_row ?? []) : []));
  if (made.length === 0) return new Set();
  const own = (wanted: RowKind): SQL => ids(subjects.flatMap(({ kind, after_row }) => (kind === wanted ? (after_row ?? []) : [])));
  const found = await rows<{ row_id: number }>(
    db,
    sql`
    select v.row_id from tag_version v where v.row_id = any(${ids(made)}) and (
      exists (select 1 from person_tag t where t.tag_id = v.tag_id and t.until_at is null and t.row_id <> all(${own('person tag')}))
      or exists (select 1 from group_tag t where t.tag_id = v.tag_id and t.until_at is null and t.row_id <> all(${own('group tag')})))`,
  );
  return new Set(found.map(({ row_id }) => row_id));
}

/** Of groups that a change made, those that have people, leaders, grants or subgroups that it did not bring. */
async function hungOnSince({ db }: PlanContext, subjects: readonly Subject[]): Promise<Set<GroupId>> {
  const made = subjects.flatMap(({ kind, before_row, group_id }) => (kind === 'group' && before_row === null ? (group_id ?? []) : []));
  if (made.length === 0) return new Set();
  const own = (wanted: RowKind): SQL => ids(subjects.flatMap(({ kind, after_row }) => (kind === wanted ? (after_row ?? []) : [])));
  const found = await rows<{ id: GroupId }>(
    db,
    sql`
    select group_id as id from membership where until_at is null and group_id = any(${ids(made)}) and row_id <> all(${own('membership')})
    union select group_id from leadership where until_at is null and group_id = any(${ids(made)}) and row_id <> all(${own('leadership')})
    union select group_id from access_grant where until_at is null and group_id = any(${ids(made)}) and row_id <> all(${own('grant')})
    union select parent_id from group_now where parent_id = any(${ids(made)}) and row_id <> all(${own('group')})`,
  );
  return new Set(found.map(({ id }) => id));
}
