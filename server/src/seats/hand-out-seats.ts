import { may, noEffects, type SeatWord } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { groupsOf } from '../people/scope.ts';
import { seatsWith, type StandingLicence, standingLicence } from './change-licences.ts';
import type { Otherwise } from './load-seats.ts';
import { isIdle } from './idle-seats.ts';

interface Concerned {
  person_id: number;
  /** The row in which something was decided about them before. */
  row_id: number | null;
  word: SeatWord | null;
}

/**
 * Takes seats back from chosen people, or from those who have had one for some days and begun nothing. They stand in line from then
 * on, and get no seat by themselves.
 */
export const planTakeBackSeats: Planner<'take-back-seats'> = async (context, { licenceId, groupId, personIds, idleDays }) => {
  const found = await concerned(
    context,
    licenceId,
    sql`select distinct t.person_id from seat t where t.until_at is null and t.licence_id = ${licenceId} and t.group_id in (${groupsOf(groupId, true)})
      and ${personIds === null ? sql`true` : sql`t.person_id = any(${ids(personIds)})`} and ${idleDays === null ? sql`true` : isIdle(idleDays)}`,
  );
  return planWords(context, { licenceId, groupId }, found, 'taken back', personIds);
};

/** Takes people of a branch out of the line for a licence: they wait for none of its seats until somebody puts them back. */
export const planGiveUpPlaces: Planner<'give-up-places'> = async (context, { licenceId, groupId, personIds }) =>
  planWords(
    context,
    { licenceId, groupId },
    await concerned(context, licenceId, inLineFor(licenceId, groupId, personIds)),
    'gave up',
    personIds,
  );

/** People of a branch who are in line for what a licence pays for. */
const inLineFor = (licenceId: number, groupId: number, personIds: readonly number[]): SQL => sql`
  select distinct l.person_id from seat_line l join licence_course k on k.course_id = l.course_id and k.licence_id = ${licenceId}
  join membership m on m.person_id = l.person_id and m.until_at is null and m.group_id in (${groupsOf(groupId, true)})
  where l.until_at is null and l.person_id = any(${ids(personIds)})`;

/** People of a branch who gave up their place in the line for a licence `w`. */
export const gaveUp = (groups: SQL): SQL =>
  sql`seat_word w where w.until_at is null and w.word = 'gave up' and exists (select 1 from membership m where m.person_id = w.person_id and m.until_at is null and m.group_id in (${groups}))`;

/**
 * Gives people who are in line a seat by hand, as soon as there is room; for a seat that was taken back that is forgotten. Those who
 * gave up their place are in line again, or have a seat.
 */
export const planGiveSeats: Planner<'give-seats'> = async (context, { licenceId, groupId, personIds }) => {
  const licence = await standingLicence(context.db, licenceId);
  const found = await concerned(
    context,
    licenceId,
    sql`${inLineFor(licenceId, groupId, personIds)}
      union select w.person_id from ${gaveUp(groupsOf(groupId, true))} and w.licence_id = ${licenceId} and w.person_id = any(${ids(personIds)})`,
  );
  const waiting = found.filter(({ word }) => (licence?.by_hand ? word !== 'given' : word !== null && word !== 'given'));
  return planWords(context, { licenceId, groupId }, waiting, licence?.by_hand ? 'given' : null, personIds);
};

const concerned = ({ db }: PlanContext, licenceId: number, people: SQL): Promise<Concerned[]> =>
  rows<Concerned>(
    db,
    sql`
    select p.person_id, w.row_id, w.word from (${people}) p left join seat_word w on w.person_id = p.person_id and w.licence_id = ${licenceId} and w.until_at is null
    order by p.person_id`,
  );

/** @throws ProblemError `not-found` unless the licence pays in the branch of a group in which the actor hands out seats. */
export async function licenceOf(
  { db, actor, tree }: PlanContext,
  { licenceId, groupId }: { licenceId: number; groupId: number },
): Promise<StandingLicence> {
  const licence = await standingLicence(db, licenceId);
  const isTheirs =
    licence !== null &&
    tree.has(groupId) &&
    tree.has(licence.group_id) &&
    (tree.isInBranch(groupId, licence.group_id) || tree.isInBranch(licence.group_id, groupId)) &&
    may(actor, 'handOutSeats', { path: tree.path(groupId) });
  if (!isTheirs) throw notFound();
  return licence;
}

async function planWords(
  context: PlanContext,
  about: { licenceId: number; groupId: number },
  found: readonly Concerned[],
  word: SeatWord | null,
  asked: readonly number[] | null,
): Promise<Plan> {
  const { actor } = context;
  const { licenceId, groupId } = about;
  const licence = await licenceOf(context, about);
  const effects = noEffects();
  const missing = (asked === null ? 0 : new Set(asked).size) - (asked === null ? 0 : found.length);
  if (found.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  else {
    if (missing > 0) effects.conflicts.push({ code: 'gone since', blocks: false, count: missing });
    effects.seats = await seatsWith(
      context,
      { words: found.map(({ person_id }) => ({ personId: person_id, licenceId, word })) },
      { people: found.map(({ person_id }) => person_id) },
    );
  }
  const people = found.map(({ person_id }) => person_id);
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      people: people.slice(0, 3),
      names: { before: '', after: licence.name },
      counts: { people: people.length },
    }),
    async write(_, writer) {
      await writer.end(
        'seat word',
        found.flatMap(({ row_id }) => row_id ?? []),
      );
      if (word !== null)
        await writer.begin(
          'seat word',
          people.map((person_id) => ({ person_id, licence_id: licenceId, word, made_by: actor.personId })),
        );
      return { seats: true, seated: people };
    },
  };
}

/** What will have been decided about people once these rows have ended and those stand again. */
export async function wordsBefore(
  db: Queryable,
  { end, begin }: { end: readonly number[]; begin: readonly number[] },
): Promise<NonNullable<Otherwise['words']>> {
  const found = await db
    .select({
      row_id: tables.seatWord.rowId,
      personId: tables.seatWord.personId,
      licenceId: tables.seatWord.licenceId,
      word: tables.seatWord.word,
    })
    .from(tables.seatWord)
    .where(isAmong(tables.seatWord.rowId, [...end, ...begin]))
    .orderBy(tables.seatWord.rowId);
  const back = new Set(begin);
  return [
    ...found.filter(({ row_id }) => !back.has(row_id)).map(({ personId, licenceId }) => ({ personId, licenceId, word: null })),
    ...found.filter(({ row_id }) => back.has(row_id)),
  ];
}
