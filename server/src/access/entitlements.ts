import {
  Alike,
  type CourseId,
  type CourseGrants,
  type Grant,
  later,
  type Learner,
  needsSeat,
  type Tree,
  dueDay,
  type Window,
  windows,
} from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import {
  type ChangedAccess,
  compareWindows,
  type DueRow,
  type EntitlementRow,
  insertWindows,
  type WindowChanges,
  type WorkedOut,
  writeWindows,
} from './entitlement-rows.ts';
import { grantsByCourse, learnerOfSet, learners, rulesOf } from './load-rules.ts';

export interface Stale {
  sets: readonly number[] | 'all';
  /** People with windows of their own, now or until now. */
  persons: readonly number[] | 'all';
  courses: readonly CourseId[] | 'all';
}

/** Windows of sets in some courses, worked out before the roster lock was held. */
export interface EntitlementsAhead {
  sets: readonly number[];
  courses: readonly CourseId[] | 'all';
  windows: WindowChanges;
}

/**
 * Works out in which windows sets and people have courses, and stores that.
 * @param ahead Taken when it speaks of the same sets and courses; nothing of what it follows from has changed since.
 * @returns Where access differs from before; null: everything was made from scratch.
 */
export async function refreshEntitlements(tx: Transaction, stale: Stale, ahead?: EntitlementsAhead): Promise<ChangedAccess[] | null> {
  if (stale.sets.length === 0 && stale.persons.length === 0) return [];
  if (stale.sets === 'all' && stale.persons === 'all' && stale.courses === 'all') {
    await tx.execute(sql`delete from entitlement`);
    await insertWindows(tx, await workOut(tx, await wholeTree(tx), stale));
    await tx.execute(sql`insert into standing_mark select id from membership_set`);
    return null;
  }
  const windows = ahead && isOf(ahead, stale) ? ahead.windows : await changesOf(tx, await wholeTree(tx), stale);
  await writeWindows(tx, windows);
  const { changed } = windows;
  await tx.execute(sql`
    insert into standing_mark select distinct s from unnest(${ids(new Set(changed.flatMap(({ set }) => set ?? [])))}) s
    union select set_id from person where id = any(${ids(new Set(changed.flatMap(({ person }) => person ?? [])))})`);
  return changed;
}

/** The windows of sets as they would be in another tree. */
export const entitlementsAhead = async (
  db: Queryable,
  tree: Tree,
  sets: readonly number[],
  courses: readonly CourseId[] | 'all',
): Promise<EntitlementsAhead> => ({ sets, courses, windows: await changesOf(db, tree, { sets, persons: [], courses }) });

function isOf(ahead: EntitlementsAhead, { sets, persons, courses }: Stale): boolean {
  const isSame = (a: readonly number[] | 'all', b: readonly number[] | 'all'): boolean =>
    a === 'all' || b === 'all' ? a === b : a.length === b.length && new Set([...a, ...b]).size === a.length;
  return persons.length === 0 && isSame(ahead.sets, sets) && isSame(ahead.courses, courses);
}

const among = (column: SQL, list: readonly number[] | 'all'): SQL =>
  list === 'all' ? sql`${column} is not null` : sql`${column} = any(${ids(list)})`;

async function changesOf(db: Queryable, tree: Tree, stale: Stale): Promise<WindowChanges> {
  const courses = stale.courses === 'all' ? sql`true` : sql`x.course_id = any(${ids(stale.courses)})`;
  const which = sql`(${among(sql`x.set_id`, stale.sets)} or ${among(sql`x.person_id`, stale.persons)}) and ${courses}`;
  return compareWindows(db, which, await workOut(db, tree, stale));
}

async function workOut(db: Queryable, tree: Tree, stale: Stale): Promise<WorkedOut[]> {
  const sets = await rows<{ id: number; key: string }>(db, sql`select id, key from membership_set where ${among(sql`id`, stale.sets)}`);
  const owners = (await rows<{ id: number }>(db, sql`select id from person where own_windows and ${among(sql`id`, stale.persons)}`)).map(
    ({ id }) => id,
  );
  const about = await grantsByCourse(db, stale.courses === 'all' ? null : stale.courses);
  const entitled = [
    ...sets.map(({ id, key }) => ({ set: id, person: null as number | null, learner: learnerOfSet(key) })),
    ...(await learners(db, owners)).map((learner) => ({ set: null, person: learner.personId, learner })),
  ];
  return [...windowsOf(tree, about, entitled, await moreTimeOf(db, owners))];
}

type Entitled = { set: number | null; person: number | null; learner: Learner };

/** Until when more time was given, and in the name of which branch (null: of an administrator). */
interface MoreTime {
  day: string;
  makerBranch: number | null;
}

/** More time that people have, by person and course. */
async function moreTimeOf(db: Queryable, persons: readonly number[]): Promise<Map<string, MoreTime>> {
  if (persons.length === 0) return new Map();
  const found = await rows<MoreTime & { key: string }>(
    db,
    sql`
    select person_id || '/' || course_id as key, day, maker_branch_id as "makerBranch" from course_exception
    where kind = 'more time' and until_at is null and person_id = any(${ids(persons)})`,
  );
  return new Map(found.map(({ key, ...given }) => [key, given]));
}

function* windowsOf(
  tree: Tree,
  about: readonly CourseGrants[],
  entitled: readonly Entitled[],
  moreTime: ReadonlyMap<string, MoreTime>,
): Generator<WorkedOut> {
  const rules = rulesOf(tree, about);
  for (const [index, course] of rules.entries()) {
    const grants = new Map(about[index]?.grants.map((grant) => [grant.id, grant]));
    const alike = new Alike(course);
    for (const { set, person, learner } of entitled) {
      if (alike.isClosedTo(learner)) continue;
      for (const window of windows(course, learner)) {
        const { dueDay, due } = dueOf(
          window,
          grants,
          notBeforeOn(tree, moreTime.get(`${person}/${course.course.id}`)),
          course.course.hasRounds === true,
        );
        yield {
          row: {
            set_id: set,
            person_id: person,
            course_id: course.course.id,
            first_day: window.firstDay,
            last_day: window.lastDay,
            units: window.units,
            via_groups: [...new Set(window.paths.flatMap(({ groupId }) => groupId ?? []))],
            by_grants: [...new Set(window.paths.flatMap(({ openedBy }) => openedBy ?? []))],
            due_day: dueDay,
            due_is_own: due.length > 0,
            ...payersOf(window),
          },
          due,
        };
      }
    }
  }
}

function payersOf({ paths }: Window): Pick<EntitlementRow, 'needs_seat' | 'payers' | 'other_payers'> {
  if (!needsSeat(paths)) return { needs_seat: false, payers: [], other_payers: false };
  const payers = paths.flatMap((path) => path.payers ?? []);
  return {
    needs_seat: true,
    payers: [...new Set(payers.flatMap(({ licences }) => licences))],
    other_payers: payers.some(({ others }) => others),
  };
}

/** A leader's word acts on paths through the leader's branch only. */
const notBeforeOn =
  (tree: Tree, given: MoreTime | undefined) =>
  (groupId: number | null): string | null => {
    if (!given) return null;
    const { day, makerBranch } = given;
    return makerBranch === null || (groupId !== null && tree.has(makerBranch) && tree.isInBranch(groupId, makerBranch)) ? day : null;
  };

/** One day for all, or the parts from which each person's own day follows. */
function dueOf(
  window: Window,
  grants: ReadonlyMap<number, Grant>,
  notBefore: (groupId: number | null) => string | null,
  hasRounds: boolean,
): { dueDay: string | null; due: Omit<DueRow, 'entitlement_id'>[] } {
  const all = window.paths.map((path) => ({
    groupId: path.groupId,
    grant: path.openedBy === null ? null : (grants.get(path.openedBy) ?? null),
  }));
  // What an administrator opens for a person stands in place of what groups open; leaders' opens for that person stand beside it.
  const own = all.filter(({ grant }) => grant !== null && 'person' in grant.at);
  const paths = own.some(({ groupId }) => groupId === null) ? own : all;
  const rules = paths.map(({ grant }) => grant?.due ?? null);
  const hasMoreTime = paths.some(({ groupId }) => notBefore(groupId) !== null) && rules.some((rule) => rule !== null);
  const needsPerson =
    hasMoreTime ||
    (hasRounds && rules.some((rule) => rule !== null)) ||
    rules.some((rule) => rule !== null && ('days' in rule.at || rule.leastDays !== null));
  if (!needsPerson) return { dueDay: dueDay(rules.map((rule) => ({ rule, couldBegin: '0001-01-01' }))), due: [] };
  return {
    dueDay: null,
    due: paths.map(({ groupId, grant }) => ({
      group_id: groupId,
      grant_id: grant?.id ?? null,
      grant_day: grant && [grant.firstDay ?? grant.madeDay, grant.inSetSince ?? grant.madeDay].reduce(later, grant.madeDay),
      due_day: grant?.due && 'day' in grant.due.at ? grant.due.at.day : null,
      due_days: grant?.due && 'days' in grant.due.at ? grant.due.at.days : null,
      least_days: grant?.due?.leastDays ?? null,
      firm: grant?.due?.firm ?? false,
      not_before: notBefore(groupId),
    })),
  };
}
