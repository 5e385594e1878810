import { addTo, may, mayActOnAccount, type Power } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { ids, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { keptRows, ofAccount, ofCourse, withPowers } from './kept-rows.ts';
import type { PlanContext } from './plan.ts';
import type { Subject, SubjectKind } from './writer.ts';

/* Undo asks for everything again that a direct change would ask, of everybody as they are now. */

/** What tells a subject of a change from the others. */
export const keyOf = ({ kind, before_row, after_row }: Subject): string => `${kind}/${before_row ?? ''}/${after_row ?? ''}`;

/** A leader undoes only what lies wholly in branches where they still have the power for it. Groups that are gone are nobody's. */
export async function mayStill({ db, actor, tree }: PlanContext, changeId: number, power: Power | undefined): Promise<void> {
  if (actor.role === 'administrator') return;
  const touched = await db
    .select({ group_id: tables.changeGroup.groupId })
    .from(tables.changeGroup)
    .where(eq(tables.changeGroup.changeId, changeId));
  const mayAt = (id: number): boolean => power !== undefined && (!tree.has(id) || may(actor, power, { path: tree.path(id) }));
  if (!touched.every(({ group_id }) => mayAt(group_id)) || !touched.some(({ group_id }) => tree.has(group_id))) throw notFound();
}

/** Not rows with a history, and about the account too. */
const alsoOfAccount: ReadonlySet<SubjectKind> = new Set(['person', 'enrolment']);

/**
 * Of what a leader's change touched, that which the same leader could not do directly now: accounts that are not theirs to act on
 * any more, people they no longer see, and powers they do not hold.
 */
export async function notTheirs({ db, actor, tree, seen }: PlanContext, subjects: readonly Subject[]): Promise<Subject[]> {
  if (actor.role === 'administrator' || seen === null) return [];
  const concerned = new Set(subjects.flatMap(({ person_id }) => person_id ?? []));
  const people = await rows<{ id: number; role: 'administrator' | 'none'; groups: number[]; led: number[] }>(
    db,
    sql`
    select p.id, p.role, array(select group_id from membership where person_id = p.id and until_at is null) as groups,
      array(select group_id from leadership where person_id = p.id and until_at is null) as led
    from person p where p.id = any(${ids(concerned)})`,
  );
  const byId = new Map(people.map((person) => [person.id, person]));
  // Somebody whom this change itself took out of a group is still theirs, as somebody of that group.
  const returning = new Map<number, number[]>();
  for (const { kind, person_id, group_id, before_row, after_row } of subjects)
    if (kind === 'membership' && before_row !== null && after_row === null && person_id !== null && group_id !== null)
      addTo(returning, person_id, group_id);
  const pathOf = (id: number): readonly number[] => (tree.has(id) ? tree.path(id) : []);
  const powers = await powersOf(db, subjects);
  const everybodys = await everybodysNow(db, subjects);
  return subjects.filter((subject) => {
    const { kind, person_id, group_id } = subject;
    if (ofCourse.some((each) => each === kind) && (group_id === null || everybodys.has(keyOf(subject)))) return true;
    const carried = powers.get(keyOf(subject)) ?? [];
    if (group_id !== null && tree.has(group_id) && !carried.every((power) => may(actor, power, { path: pathOf(group_id) }))) return true;
    const person = person_id === null ? undefined : byId.get(person_id);
    if (!person) return person_id !== null;
    const groups = [...new Set([...person.groups, ...(returning.get(person.id) ?? [])])];
    if (ofAccount.has(kind) || alsoOfAccount.has(kind))
      return !mayActOnAccount(actor, { personId: person.id, role: person.role, leads: person.led.length > 0, paths: groups.map(pathOf) });
    return ![...groups, ...person.led, ...(kind === 'leadership' && group_id !== null ? [group_id] : [])].some(seen);
  });
}

/** Of rows of courses, those of courses that have been made everybody's since. */
async function everybodysNow(db: PlanContext['db'], subjects: readonly Subject[]): Promise<Set<string>> {
  const found = new Set<string>();
  for (const kind of ofCourse) {
    const list = subjects.filter((subject) => subject.kind === kind);
    if (list.length === 0) continue;
    const touched = list.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat());
    const given = await rows<{ row_id: number }>(
      db,
      sql`select v.row_id from ${sql.identifier(keptRows[kind].table)} v join course_now c on c.id = v.course_id and c.home_id is null where v.row_id = any(${ids(touched)})`,
    );
    const taken = new Set(given.map(({ row_id }) => row_id));
    for (const subject of list) if (taken.has(subject.before_row ?? 0) || taken.has(subject.after_row ?? 0)) found.add(keyOf(subject));
  }
  return found;
}

/** The powers that rows carry which would come back. */
async function powersOf(db: PlanContext['db'], subjects: readonly Subject[]): Promise<Map<string, Power[]>> {
  const found = new Map<string, Power[]>();
  for (const kind of withPowers) {
    const list = subjects.filter((subject) => subject.kind === kind && subject.before_row !== null);
    if (list.length === 0) continue;
    const carried = await rows<{ row_id: number; powers: Power[] | null }>(
      db,
      sql`select row_id, powers from ${sql.identifier(keptRows[kind].table)} where row_id = any(${ids(list.flatMap(({ before_row }) => before_row ?? []))})`,
    );
    const byRow = new Map(carried.map(({ row_id, powers }) => [row_id, powers]));
    for (const subject of list) {
      const powers = byRow.get(subject.before_row ?? 0);
      if (powers) found.set(keyOf(subject), powers);
    }
  }
  return found;
}
