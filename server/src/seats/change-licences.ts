import type { LicenceValues } from '@gate-roster/contract';
import { type Licence, lookAtSeats, may, noEffects, type SeatEffects, type SeatPerson, tidyName } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { grantsByCourse, learners } from '../access/load-rules.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, ids, isAmong, oneRow, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { type Concerned, concernedPeople, everybody, lineWithRoom } from './concerned.ts';
import { idleHolders, wordsOf } from './idle-seats.ts';
import { heldSeats, loadSeatBook, movedBy, type Otherwise, seatPerson } from './load-seats.ts';

export interface StandingLicence {
  row_id: number;
  licence_id: number;
  group_id: number;
  name: string;
  seats: number;
  first_day: string | null;
  last_day: string | null;
  on_leaving: LicenceValues['onLeaving'];
  by_hand: boolean;
  price: number | null;
  needs_approval: boolean;
  during_splits: boolean;
  renew_months: number | null;
  id_number: string | null;
  idle_days: number | null;
}

/** Makes a licence: the right to so many people's use of a course or course set, in its home's branch. */
export const planMakeLicence: Planner<'make-licence'> = async (context, { values }) => {
  const { db, actor, tree } = context;
  if (actor.role !== 'administrator' || !tree.has(values.homeId)) throw notFound();
  const covers = await rows<{ id: number }>(
    db,
    'course' in values.about
      ? sql`select id from course_now where id = ${values.about.course}`
      : sql`select course_id as id from course_in_set where course_set_id = ${values.about.courseSet}`,
  );
  if (covers.length === 0) throw notFound();
  const licence: Licence = { ...values, id: -1, covers: new Set(covers.map(({ id }) => id)) };
  const effects = noEffects();
  if (isOutOfOrder(values)) effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  else effects.seats = await seatsWith(context, { licences: (all) => [...all, licence] }, { courses: [...licence.covers] });
  return {
    effects,
    groups: [values.homeId],
    summary: summaryOf({
      groups: [values.homeId],
      courses: licence.covers.size === 1 ? [...licence.covers] : [],
      names: { before: '', after: tidyName(values.name) },
      counts: { seats: values.seats },
    }),
    async write(tx, writer) {
      await beginLicence(tx, writer, values);
      return { seats: true, courses: [...licence.covers] };
    },
  };
};

/** @returns The new licence's number. */
export async function beginLicence(tx: Transaction, writer: ChangeWriter, values: LicenceValues): Promise<number> {
  const { id } = await oneRow<{ id: number }>(tx, sql`insert into licence default values returning id`);
  await writer.begin('licence', [
    {
      licence_id: id,
      group_id: values.homeId,
      name: tidyName(values.name),
      seats: values.seats,
      first_day: values.firstDay,
      last_day: values.lastDay,
      course_id: 'course' in values.about ? values.about.course : null,
      course_set_id: 'courseSet' in values.about ? values.about.courseSet : null,
      on_leaving: values.onLeaving,
      by_hand: values.byHand,
      price: values.price ?? null,
      needs_approval: values.needsApproval ?? false,
      during_splits: values.duringSplits ?? false,
      renew_months: values.renewMonths ?? null,
      id_number: values.idNumber ?? null,
      idle_days: values.idleDays ?? null,
    },
  ]);
  return id;
}

/** What of a licence says whom it pays for; its number alone is a matter of the line. */
const paysOtherwise: ReadonlySet<string> = new Set(['first_day', 'last_day', 'on_leaving', 'by_hand']);

/** Changes a licence's number, days or name. Fewer seats take none away: it is over, and lets nobody in. */
export const planEditLicence: Planner<'edit-licence'> = async (context, { licenceId, values }) => {
  const { db, actor } = context;
  const standing = await standingLicence(db, licenceId);
  if (actor.role !== 'administrator' || !standing) throw notFound();
  const next = {
    name: tidyName(values.name ?? standing.name),
    seats: values.seats ?? standing.seats,
    first_day: values.firstDay === undefined ? standing.first_day : values.firstDay,
    last_day: values.lastDay === undefined ? standing.last_day : values.lastDay,
    on_leaving: values.onLeaving ?? standing.on_leaving,
    by_hand: values.byHand ?? standing.by_hand,
    price: values.price === undefined ? standing.price : values.price,
    needs_approval: values.needsApproval ?? standing.needs_approval,
    during_splits: values.duringSplits ?? standing.during_splits,
    renew_months: values.renewMonths === undefined ? standing.renew_months : values.renewMonths,
    id_number: values.idNumber === undefined ? standing.id_number : values.idNumber,
    idle_days: values.idleDays === undefined ? standing.idle_days : values.idleDays,
  };
  // What lies idle by the new number comes back at once; after that the days do it.
  const idle = next.idle_days === null || next.idle_days === standing.idle_days ? [] : await idleHolders(db, licenceId, next.idle_days);
  const fields = (Object.keys(next) as (keyof typeof next)[]).filter((field) => next[field] !== standing[field]);
  const pays = fields.some((field) => paysOtherwise.has(field));
  const covers = pays
    ? (await rows<{ id: number }>(db, sql`select course_id as id from licence_course where licence_id = ${licenceId}`)).map(({ id }) => id)
    : [];
  const concerned: Concerned = {
    people: idle.map(({ personId }) => personId),
    ...(pays ? { licences: [licenceId], courses: covers } : {}),
  };
  const effects = noEffects();
  const span = { firstDay: next.first_day, lastDay: next.last_day };
  if (fields.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  if (isOutOfOrder(span)) effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  else
    effects.seats = await seatsWith(
      context,
      {
        licences: (all) =>
          all.map((licence) =>
            licence.id === licenceId
              ? { ...licence, ...span, seats: next.seats, onLeaving: next.on_leaving, byHand: next.by_hand }
              : licence,
          ),
        words: idle.map(({ personId }) => ({ personId, licenceId, word: 'taken back' })),
      },
      concerned,
    );
  return {
    effects,
    groups: [standing.group_id],
    summary: summaryOf({
      groups: [standing.group_id],
      names: { before: standing.name, after: next.name },
      fields: fields.map((field) => field.replaceAll(/_(.)/gu, (_, letter: string) => letter.toUpperCase())),
      counts: { seats: next.seats },
    }),
    async write(tx, writer) {
      await writer.replace('licence', [{ rowId: standing.row_id, values: next }]);
      await writer.end(
        'seat word',
        idle.flatMap(({ wordRow }) => wordRow ?? []),
      );
      await writer.begin('seat word', wordsOf(licenceId, idle, actor.personId));
      return { seats: true, seated: [...(concerned.people ?? [])], licences: [...(concerned.licences ?? [])], courses: covers };
    },
  };
};

/**
 * Says how many seats of a licence branches may use. Whoever hands out seats sets limits below the group that the power
 * stands at; that group's own limit is for those above it.
 */
export const planLimitSeats: Planner<'limit-seats'> = async (context, { licenceId, limits }) => {
  const { db, actor, tree } = context;
  const licence = await standingLicence(db, licenceId);
  const isTheirs = ({ groupId }: { groupId: number }): boolean =>
    licence !== null && tree.has(groupId) && tree.path(groupId).includes(licence.group_id) && mayLimit(actor, tree.path(groupId));
  if (!licence || !limits.every(isTheirs)) throw notFound();
  const standing = await db
    .select({ row_id: tables.seatLimit.rowId, group_id: tables.seatLimit.groupId, most: tables.seatLimit.most })
    .from(tables.seatLimit)
    .where(
      and(
        eq(tables.seatLimit.licenceId, licenceId),
        isNull(tables.seatLimit.untilAt),
        isAmong(
          tables.seatLimit.groupId,
          limits.map(({ groupId }) => groupId),
        ),
      ),
    );
  const mostNow = new Map(standing.map((row) => [row.group_id, row]));
  const changing = limits.filter(({ groupId, most }) => (mostNow.get(groupId)?.most ?? null) !== most);
  const effects = noEffects();
  if (changing.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  else
    effects.seats = await seatsWith(
      context,
      {
        limits: (all) => [
          ...all.filter((limit) => limit.licenceId !== licenceId || !changing.some(({ groupId }) => groupId === limit.groupId)),
          ...changing.flatMap(({ groupId, most }) => (most === null ? [] : [{ licenceId, groupId, most }])),
        ],
      },
      {},
    );
  return {
    effects,
    groups: changing.map(({ groupId }) => groupId),
    summary: summaryOf({
      groups: changing.slice(0, 3).map(({ groupId }) => groupId),
      names: { before: '', after: licence.name },
      counts: { groups: changing.length },
    }),
    async write(_tx, writer) {
      await writer.end(
        'seat limit',
        changing.flatMap(({ groupId }) => mostNow.get(groupId)?.row_id ?? []),
      );
      await writer.begin(
        'seat limit',
        changing.flatMap(({ groupId, most }) => (most === null ? [] : [{ licence_id: licenceId, group_id: groupId, most }])),
      );
      return { seats: true };
    },
  };
};

/** The licences of these rows. */
export const licencesOf = async (db: PlanContext['db'], rowIds: readonly number[]): Promise<number[]> =>
  rowIds.length === 0
    ? []
    : (
        await db
          .selectDistinct({ id: tables.licenceVersion.licenceId })
          .from(tables.licenceVersion)
          .where(isAmong(tables.licenceVersion.rowId, rowIds))
      ).map(({ id }) => id);

/** The courses that licences pay for, by the rows in which they stood. */
export async function coursesOfLicences(db: PlanContext['db'], rowIds: readonly number[]): Promise<number[]> {
  const found = await rows<{ id: number }>(
    db,
    sql`
    select course_id as id from licence_version where row_id = any(${ids(rowIds)}) and course_id is not null
    union select s.course_id from licence_version l join course_in_set s on s.course_set_id = l.course_set_id where l.row_id = any(${ids(rowIds)})`,
  );
  return found.map(({ id }) => id);
}

/** Limits are set from above: the power has to stand at a group over this one. */
export const mayLimit = (actor: PlanContext['actor'], path: readonly number[]): boolean =>
  actor.role === 'administrator' || (path.length > 1 && may(actor, 'handOutSeats', { path: path.slice(0, -1) }));

const isOutOfOrder = ({ firstDay, lastDay }: Pick<LicenceValues, 'firstDay' | 'lastDay'>): boolean =>
  firstDay !== null && lastDay !== null && lastDay < firstDay;

export const standingLicence = (db: PlanContext['db'], licenceId: number): Promise<StandingLicence | null> =>
  firstOf(
    db
      .select({
        row_id: tables.licenceNow.rowId,
        licence_id: tables.licenceNow.licenceId,
        group_id: tables.licenceNow.groupId,
        name: tables.licenceNow.name,
        seats: tables.licenceNow.seats,
        first_day: tables.licenceNow.firstDay,
        last_day: tables.licenceNow.lastDay,
        on_leaving: tables.licenceNow.onLeaving,
        by_hand: tables.licenceNow.byHand,
        price: tables.licenceNow.price,
        needs_approval: tables.licenceNow.needsApproval,
        during_splits: tables.licenceNow.duringSplits,
        renew_months: tables.licenceNow.renewMonths,
        id_number: tables.licenceNow.idNumber,
        idle_days: tables.licenceNow.idleDays,
      })
      .from(tables.licenceNow)
      .where(eq(tables.licenceNow.licenceId, licenceId)),
  );

/**
 * What other licences, limits or decisions would do to seats.
 * @param concerned Whom it concerns, beside those in line for whom there would be room; everybody when it is not said.
 */
export async function seatsWith(
  { db, tree, today, seen }: Pick<PlanContext, 'db' | 'tree' | 'today' | 'seen'>,
  otherwise: Otherwise,
  concerned: Concerned = everybody,
): Promise<SeatEffects> {
  const book = await loadSeatBook(db, tree, await grantsByCourse(db, null), today, otherwise);
  if (!book) return noEffects().seats;
  const first = new Set(await concernedPeople(db, concerned));
  const of = async (list: readonly number[]): Promise<SeatPerson[]> => {
    const held = await heldSeats(db, list, otherwise);
    return (await learners(db, list)).map((learner) => seatPerson(book, learner, today, held(learner.personId)));
  };
  const people = await of([...first]);
  const theirs = people.flatMap((person) => person.seats);
  for (const each of await of((await lineWithRoom(db, book, theirs)).filter((id) => !first.has(id)))) people.push(each);
  const seats = lookAtSeats(book.room, people, seen);
  return { ...seats, moved: [...seats.moved, ...movedBy(otherwise)] };
}
