import { addDays } from '@gate-roster/core';
import { and, isNotNull, sql, type SQL } from 'drizzle-orm';
import { joinedDays } from '../accounts/joined-days.ts';
import { ids, isAmong, maybeRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { mayStill } from './may-undo.ts';
import { neverUndone } from './note-act.ts';
import type { PlanContext, Summary } from './plan.ts';
import type { Subject } from './writer.ts';

/* Which changes an undo takes back, and what they touched all together. */

interface Made {
  id: number;
  actor_id: number | null;
  made_day: string;
  kind: string;
  undone_by: number | null;
  summary: Pick<Summary, 'groups' | 'courses' | 'undid' | 'undidActs'>;
}

/** Changes `c` of rules that a change set off, or that followed from those. */
export const followsFrom = (changeId: number): SQL => sql`c.id in (
  with recursive followed as (
    select change_id from rule_cause where cause_id = ${changeId} union select r.change_id from rule_cause r join followed f on r.cause_id = f.change_id
  ) select change_id from followed)`;

/**
 * The change, and the acts of rules because of it that are undone with it.
 * @throws ProblemError `not-found` when one is not the actor's to undo, or does not follow from the change.
 */
export async function undoneChanges(
  context: PlanContext,
  { changeId, actIds = [] }: { changeId: number; actIds?: readonly number[] | undefined },
): Promise<{ made: Made; acts: Made[]; isJoin: boolean }> {
  const { db, actor } = context;
  const columns = sql`c.id, c.actor_id, (c.made_at at time zone ${actor.timeZone})::date::text as made_day, c.kind, c.undone_by, c.summary`;
  const isTheirs = ({ actor_id, kind }: Made): boolean =>
    (actor.role === 'administrator' || actor_id === actor.personId) && !neverUndone.includes(kind);
  const made = await maybeRow<Made>(db, sql`select ${columns} from change_log c where c.id = ${changeId}`);
  if (!made || !isTheirs(made)) throw notFound();
  const isJoin = (made.summary.undid ?? made.kind) === 'join-accounts';
  // Who joined their own accounts may part them again for two weeks, whatever groups they are in.
  const isOwnJoin = isJoin && made.actor_id === actor.personId && addDays(made.made_day, joinedDays) >= context.today;
  const acts =
    actIds.length === 0
      ? []
      : await rows<Made>(db, sql`select ${columns} from change_log c where c.id = any(${ids(actIds)}) and ${followsFrom(changeId)}`);
  if (acts.length !== new Set(actIds).size || !acts.every(isTheirs)) throw notFound();
  if (!isOwnJoin) await mayStill(context, changeId, context.powerFor(made.summary.undid ?? made.kind));
  for (const kind of made.summary.undidActs ?? []) await mayStill(context, changeId, context.powerFor(kind));
  for (const act of acts) await mayStill(context, act.id, context.powerFor(act.kind));
  return { made, acts: acts.filter(({ undone_by }) => undone_by === null), isJoin };
}

/** What changes touched. A row that others ended and an undo put back is followed to the row that is there for it now. */
export async function subjectsOf({ db }: PlanContext, changeIds: readonly number[]): Promise<Subject[]> {
  const found = await rows<Subject>(
    db,
    sql`
    with recursive standing as (
      select s.id, s.kind, s.after_row as row_id, 0 as steps from change_subject s where s.change_id = any(${ids(changeIds)})
      union all
      select standing.id, standing.kind, r.now_row, steps + 1 from standing join restored_row r on r.kind = standing.kind and r.was_row = standing.row_id
    ), latest as (select distinct on (id) id, row_id from standing order by id, steps desc)
    select s.kind, s.person_id, s.group_id, s.before_row, latest.row_id as after_row, s.before from change_subject s join latest on latest.id = s.id
    where s.change_id = any(${ids(changeIds)}) order by s.id`,
  );
  return changeIds.length === 1 ? found : together(found);
}

/** Several changes as one: a row that one of them began and a later one ended was neither there before nor is it now. */
function together(subjects: readonly Subject[]): Subject[] {
  const rowKey = (kind: string, row: number | null): string => `${kind}/${row ?? ''}`;
  const hasRows = ({ kind }: Subject): boolean => kind !== 'person' && kind !== 'enrolment';
  const begun = new Set(subjects.filter(hasRows).flatMap(({ kind, after_row }) => (after_row === null ? [] : [rowKey(kind, after_row)])));
  const passing = new Set(
    subjects.filter(hasRows).flatMap(({ kind, before_row }) => {
      const key = rowKey(kind, before_row);
      return before_row !== null && begun.has(key) ? [key] : [];
    }),
  );
  return subjects.flatMap((subject) => {
    const without = (row: number | null): number | null => (passing.has(rowKey(subject.kind, row)) ? null : row);
    const left = hasRows(subject)
      ? { ...subject, before_row: without(subject.before_row), after_row: without(subject.after_row) }
      : subject;
    return left.before_row === null && left.after_row === null ? [] : [left];
  });
}

export async function erasedPeople({ db }: PlanContext, subjects: readonly Subject[]): Promise<Set<number>> {
  const concerned = new Set(subjects.flatMap(({ person_id }) => person_id ?? []));
  const found = await db
    .select({ id: tables.person.id })
    .from(tables.person)
    .where(and(isNotNull(tables.person.erasedAt), isAmong(tables.person.id, concerned)));
  return new Set(found.map(({ id }) => id));
}
