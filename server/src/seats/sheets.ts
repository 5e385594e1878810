import type { LicenceSheet } from '@gate-roster/contract';
import { type Licence, type OnLeaving, contains, forecastSeats, type SeatForecast, SeatRoom } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import { mayLimit } from './change-licences.ts';
import { inLineByGroup } from './line.ts';
import { seatLimits, seatsHeld, seatsInUse } from './load-seats.ts';
import { seatTurns } from './seat-turns.ts';

interface LicenceRow {
  id: number;
  name: string;
  seats: number;
  home_id: number;
  about_id: number;
  about: string;
  is_set: boolean;
  courses: number[];
  first_day: string | null;
  last_day: string | null;
  on_leaving: OnLeaving;
  by_hand: boolean;
  price: number | null;
  currency: string;
  needs_approval: boolean;
  during_splits: boolean;
  renew_months: number | null;
  id_number: string | null;
  idle_days: number | null;
}

/** Licences that pay in a branch, as this reader may know them: what lies above their own groups is left out. */
export async function seatSheets(db: Queryable, actor: SignedIn, groupId: number): Promise<LicenceSheet[]> {
  const tree = await wholeTree(db);
  const seen = await seenGroups(db, actor);
  const mayKnow = (id: number): boolean => seen === null || seen.has(id);
  const branch = tree.branch(groupId);
  const inScope = new Set(branch);
  const found = (
    await rows<LicenceRow>(
      db,
      sql`
      select l.licence_id as id, l.name, l.seats, l.group_id as home_id, l.first_day, l.last_day, l.on_leaving, l.by_hand, l.price, l.needs_approval, l.during_splits, l.renew_months, l.id_number, l.idle_days, (select currency from billing) as currency,
        coalesce(c.id, s.id) as about_id, coalesce(c.name, s.name) as about, s.id is not null as is_set,
        array(select course_id from licence_course x where x.licence_id = l.licence_id) as courses
      from licence_now l left join course_now c on c.id = l.course_id left join course_set_now s on s.id = l.course_set_id order by l.last_day nulls last, l.licence_id`,
    )
  ).filter(({ home_id }) => tree.has(home_id) && (inScope.has(home_id) || tree.path(groupId).includes(home_id)));
  if (found.length === 0) return [];

  const licences = found.map((row): Licence => ({
    id: row.id,
    seats: row.seats,
    covers: new Set(row.courses),
    homeId: row.home_id,
    onLeaving: row.on_leaving,
    firstDay: row.first_day,
    lastDay: row.last_day,
  }));
  const limits = await seatLimits(db);
  const waiting = await inLineByGroup(db);
  const inUse = await seatsInUse(db);
  const used = new SeatRoom(tree, licences, limits, inUse);
  const room = new SeatRoom(tree, licences, limits, [...inUse, ...(await seatsHeld(db))]);
  const most = new Map(limits.map((limit) => [`${limit.licenceId}/${limit.groupId}`, limit.most]));
  const turns = await seatTurns(db, tree, actor.today);
  /** Of a row with a limit, or of the home; what lies above it does not show in it. */
  const forecastAt = ({ id: licenceId, home_id, last_day }: LicenceRow, id: number): SeatForecast | null => {
    const free = room.free({ licenceId, groupId: id }, mayKnow);
    const isOwn = most.has(`${licenceId}/${id}`) || (id === home_id && mayKnow(id));
    if (!isOwn || free === null) return null;
    const { weeks, turned, known } = turns(licenceId, id);
    return forecastSeats({ today: actor.today, weeks, turns: turned, free, known, lastDay: last_day });
  };
  const depthOf = (id: number): number => tree.path(id).length - tree.path(groupId).length;
  return found.map((row, index): LicenceSheet => {
    const licence = licences[index];
    return {
      id: row.id,
      name: row.name,
      about: { id: row.about_id, name: row.about },
      isSet: row.is_set,
      courses: row.courses,
      home: { id: row.home_id, name: mayKnow(row.home_id) ? tree.node(row.home_id).name : '' },
      firstDay: row.first_day,
      lastDay: row.last_day,
      onLeaving: row.on_leaving,
      byHand: row.by_hand,
      price: row.price,
      currency: row.currency,
      needsApproval: row.needs_approval,
      duringSplits: row.during_splits,
      renewMonths: row.renew_months,
      idleDays: row.idle_days,
      idNumber: row.id_number,
      inForce: licence !== undefined && contains(licence, actor.today),
      seats: mayKnow(row.home_id) ? row.seats : null,
      mayEdit: actor.role === 'administrator',
      groups: branch
        .filter((id) => tree.path(id).includes(row.home_id))
        .map((id) => ({
          id,
          name: tree.node(id).name,
          depth: Math.max(0, depthOf(id)),
          used: used.used(row.id, id),
          held: room.used(row.id, id) - used.used(row.id, id),
          most: most.get(`${row.id}/${id}`) ?? null,
          free: room.free({ licenceId: row.id, groupId: id }, mayKnow),
          inLine: waiting.get(`${row.id}/${id}`) ?? 0,
          mayLimit: mayLimit(actor, tree.path(id)) && tree.path(id).includes(row.home_id),
          forecast: forecastAt(row, id),
        })),
    };
  });
}
