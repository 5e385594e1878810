import { createHash } from 'node:crypto';
import type { Look } from '@gate-roster/contract';
import { type CourseEffect, digestText, type Effects, type Who } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, isAmong, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { onlyGroups, seenPerson } from '../people/scope.ts';
import { shortLimits } from '../seats/short-limits.ts';
import { rulesSetOff } from '../rules/rules-set-off.ts';

/** Counted people for whom the windows of these sets speak. */
export async function peopleOfSets(db: Queryable, sets: readonly number[]): Promise<number[]> {
  if (sets.length === 0) return [];
  return (
    await db
      .select({ id: tables.person.id })
      .from(tables.person)
      .where(and(isAmong(tables.person.setId, sets), eq(tables.person.counted, true), eq(tables.person.ownWindows, false)))
      .orderBy(tables.person.id)
  ).map(({ id }) => id);
}

/** Effects as they go over the wire: numbers, names of courses and groups, and the digest of them. */
export async function lookOf(db: Queryable, actor: SignedIn, effects: Effects): Promise<Look> {
  const losing = [...effects.loses.map(({ who }) => who), ...effects.leaves.map(({ who }) => who), ...effects.joins.map(({ who }) => who)];
  const setsOfLosers = [...new Set(losing.flatMap(({ sets }) => sets))];
  const bySet = new Map<number, number[]>(setsOfLosers.map((set) => [set, []]));
  for (const { id, set_id } of await db
    .select({ id: tables.person.id, set_id: tables.person.setId })
    .from(tables.person)
    .where(and(isAmong(tables.person.setId, setsOfLosers), eq(tables.person.counted, true), eq(tables.person.ownWindows, false))))
    bySet.get(set_id)?.push(id);
  const text = digestText(effects, (sets) => sets.flatMap((set) => bySet.get(set) ?? []));

  const courseIds = [
    ...effects.gains,
    ...effects.loses,
    ...effects.still,
    ...effects.becomeDone,
    ...effects.noLongerDone,
    ...effects.excepted,
    ...effects.opensForNow,
    ...effects.closesForNow,
    ...effects.stillForNow,
  ].map(({ courseId }) => courseId);
  const groupIds = [...effects.joins, ...effects.leaves].map(({ groupId }) => groupId);
  const courses = new Map(
    (
      await db
        .select({ id: tables.courseNow.id, name: tables.courseNow.name })
        .from(tables.courseNow)
        .where(isAmong(tables.courseNow.id, courseIds))
    ).map(({ id, name }) => [id, name]),
  );
  const groups = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`
    select g.id, case when p.parent_id is null then '' else p.name || ' › ' end || g.name as name from group_now g left join group_now p on p.id = g.parent_id where g.id = any(${ids(groupIds)})`,
      )
    )
      .concat(effects.newGroups)
      .map(({ id, name }) => [id, name]),
  );
  const named = ({ courseId, day, people, partly = 0 }: CourseEffect): Look['gains'][number] => ({
    courseId,
    course: courses.get(courseId) ?? '',
    day,
    people,
    partly,
  });
  const onGroup = ({ groupId, people }: Effects['joins'][number]): Look['joins'][number] => ({
    groupId,
    group: groups.get(groupId) ?? '',
    people,
  });
  return {
    digest: createHash('sha256').update(text).digest('base64url'),
    gains: effects.gains.map(named),
    loses: effects.loses.map(named),
    still: effects.still.map(named),
    becomeDone: effects.becomeDone.map(named),
    noLongerDone: effects.noLongerDone.map(named),
    excepted: effects.excepted.map(named),
    opensForNow: effects.opensForNow.map(named),
    closesForNow: effects.closesForNow.map(named),
    stillForNow: effects.stillForNow.map(named),
    gaining: await distinctPeople(db, effects, effects.gains),
    losing: await distinctPeople(db, effects, effects.loses),
    joins: effects.joins.map(onGroup),
    leaves: effects.leaves.map(onGroup),
    newPeople: effects.newPeople,
    changedPeople: effects.changedPeople.length,
    takenBack: effects.takenBack.length,
    rows: effects.rows,
    rowCounts: effects.rowCounts,
    conflicts: await Promise.all(
      effects.conflicts.map(async ({ code, blocks, count, people = [], groups: about = [], names = [] }) => ({
        code,
        blocks,
        count,
        about: [...names.slice(0, namedAtMost), ...(await namesAbout(db, actor, people, about))],
      })),
    ),
    groups: effects.groups,
    seats: {
      day: effects.seats.day,
      needed: effects.seats.needed,
      free: effects.seats.free,
      fromLine: new Set(effects.seats.fromLine).size,
      ended: effects.seats.ended.length,
      moved: effects.seats.moved.length,
      leftLine: effects.seats.leftLine.length,
      inLine: new Set(effects.seats.line.map(({ key }) => key)).size,
      rows: effects.seats.line.flatMap(({ row }) => (row > 0 ? [row] : [])).slice(0, rowsShown),
      short: await shortLimits(db, actor, effects.seats.short),
    },
    letters: effects.letters,
    confirming: effects.confirming,
    byLetter: effects.byLetter.length,
    guardians: effects.guardians.length,
    reached: effects.reached.length,
    reordered: effects.reordered.length,
    rules: await rulesSetOff(db, actor, effects, (list) => distinctPeople(db, effects, list)),
  };
}

const namedAtMost = 4;
/** Rows that would be in line are worth naming so far. */
const rowsShown = 10_000;

/** Some names of what a conflict is about, as far as the actor may know them. */
async function namesAbout(db: Queryable, actor: SignedIn, people: readonly number[], groups: readonly number[]): Promise<string[]> {
  if (people.length + groups.length === 0) return [];
  const own = await seenGroups(db, actor);
  const found = await rows<{ name: string }>(
    db,
    sql`
    (select n.given_name || ' ' || n.family_name as name from personal_now n join person p on p.id = n.person_id
      where p.erased_at is null and p.id = any(${ids(people)}) and ${seenPerson(actor, sql`p.id`)} order by n.family_name collate people_order limit ${namedAtMost})
    union all (select name from group_now where id = any(${ids(groups)}) and ${onlyGroups(sql`id`, own)} order by name collate people_order limit ${namedAtMost})`,
  );
  return found.map(({ name }) => name).slice(0, namedAtMost);
}

async function distinctPeople(db: Queryable, effects: Effects, list: readonly { who: Who }[]): Promise<number> {
  const distinct = <K extends keyof Who>(part: K): number[] => [...new Set(list.flatMap(({ who }) => who[part]))];
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`select coalesce(sum(counted_alike), 0)::int as people from membership_set where id = any(${ids(distinct('sets'))})`,
  );
  return people + distinct('persons').length + distinct('newcomers').reduce((sum, index) => sum + (effects.newcomers[index] ?? 0), 0);
}
