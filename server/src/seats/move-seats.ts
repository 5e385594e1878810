import { noEffects, type SeatWay } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse, learners } from '../access/load-rules.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { groupsOf } from '../people/scope.ts';
import { seatsWith } from './change-licences.ts';
import { licenceOf } from './hand-out-seats.ts';
import { heldSeats, loadSeatBook, type SeatMove, seatPerson } from './load-seats.ts';

/**
 * Moves seats of people in a branch to another licence that pays for all they use the first one for. Each stays charged to the
 * group it was charged to, or to another of the holder's where the other licence pays only there.
 */
export const planMoveSeats: Planner<'move-seats'> = async (context, { licenceId, toLicenceId, groupId, personIds }) => {
  const licence = await licenceOf(context, { licenceId, groupId });
  const other = await licenceOf(context, { licenceId: toLicenceId, groupId });
  const { moves, full, unfit } = await movesOf(context, { licenceId, toLicenceId, groupId, personIds });
  const effects = noEffects();
  if (full > 0) effects.conflicts.push({ code: 'licence full', blocks: moves.length === 0, count: full });
  if (unfit > 0) effects.conflicts.push({ code: 'licence does not fit', blocks: moves.length === 0, count: unfit });
  if (moves.length === 0 && effects.conflicts.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  if (moves.length > 0) effects.seats = await seatsWith(context, { moves }, { people: moves.map(({ personId }) => personId) });
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      people: moves.slice(0, 3).map(({ personId }) => personId),
      names: { before: licence.name, after: other.name },
      counts: { people: moves.length },
    }),
    async write(_, writer) {
      await writer.replace(
        'seat',
        moves.map(({ seatId, to }) => ({ rowId: seatId, values: { licence_id: to.licenceId, group_id: to.groupId } })),
      );
      return { seats: true, seated: moves.map(({ personId }) => personId) };
    },
  };
};

/** Which seats can move, as far as there is room; and how many cannot, since the other licence is full or pays for less. */
async function movesOf(
  { db, tree, today }: PlanContext,
  about: { licenceId: number; toLicenceId: number; groupId: number; personIds: readonly number[] },
): Promise<{ moves: SeatMove[]; full: number; unfit: number }> {
  const book = await loadSeatBook(db, tree, await grantsByCourse(db, null), today);
  const holders = await rows<{ id: number }>(
    db,
    sql`
    select distinct t.person_id as id from seat t where t.until_at is null and t.licence_id = ${about.licenceId} and t.group_id in (${groupsOf(about.groupId, true)})
      and t.person_id = any(${ids(about.personIds)}) order by 1`,
  );
  const list = holders.map(({ id }) => id);
  const held = await heldSeats(db, list);
  const moves: SeatMove[] = [];
  let [full, unfit] = [0, 0];
  // Who was chosen first goes first, as far as there is room.
  const place = new Map(about.personIds.map((id, index) => [id, index]));
  const all = book ? await learners(db, list) : [];
  for (const learner of all.toSorted((a, b) => (place.get(a.personId) ?? 0) - (place.get(b.personId) ?? 0))) {
    if (!book) break;
    const person = seatPerson(book, learner, today, held(learner.personId));
    const seat = person.seats.find((each) => each.licenceId === about.licenceId);
    const used = person.needs.filter(({ ways }) => ways.some((way) => way.licenceId === about.licenceId));
    const ways = used.map((need) => need.ways.filter((way) => way.licenceId === about.toLicenceId));
    const has = person.seats.some((each) => each.licenceId === about.toLicenceId);
    const fits = ways.length > 0 && ways.every((each) => each.length > 0);
    if (!seat || has || !fits) {
      unfit += 1;
      continue;
    }
    const room = ways.flat().filter((way) => book.room.hasRoom(way));
    const to: SeatWay | undefined = room.find((way) => way.groupId === seat.groupId) ?? room[0];
    if (!to) {
      full += 1;
      continue;
    }
    book.room.release(seat);
    book.room.charge(to);
    moves.push({ seatId: seat.id, personId: person.key, from: { licenceId: seat.licenceId, groupId: seat.groupId }, to });
  }
  return { moves, full, unfit };
}

/** Of the rows in which seats stood before they moved, those that cannot stand again: their licence has no room for them by now. */
export async function withoutRoom(
  { db, tree, today }: PlanContext,
  pairs: readonly { before_row: number | null; after_row: number | null }[],
): Promise<Set<number>> {
  const book = await loadSeatBook(db, tree, await grantsByCourse(db, null), today);
  const wasOf = new Map(pairs.map(({ before_row, after_row }) => [after_row, before_row]));
  const blocked = new Set<number>();
  for (const { seatId, to } of await movesBack(db, pairs)) {
    if (book?.room.hasRoom(to)) book.room.charge(to);
    else blocked.add(wasOf.get(seatId) ?? 0);
  }
  return blocked;
}

/** Seats as they would be when these rows end and those stand again: of one person each. */
export async function movesBack(
  db: Queryable,
  pairs: readonly { before_row: number | null; after_row: number | null }[],
): Promise<SeatMove[]> {
  return rows<SeatMove>(
    db,
    sql`
    select now.row_id as "seatId", now.person_id as "personId", jsonb_build_object('licenceId', now.licence_id, 'groupId', now.group_id) as "from",
      jsonb_build_object('licenceId', was.licence_id, 'groupId', was.group_id) as "to"
    from jsonb_to_recordset(${JSON.stringify(pairs)}::jsonb) as p(before_row bigint, after_row bigint) join seat was on was.row_id = p.before_row join seat now on now.row_id = p.after_row
    order by now.row_id`,
  );
}
