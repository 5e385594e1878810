import { addMonths } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { rows, type Transaction } from '../database/connect.ts';
import { standingLicence } from './change-licences.ts';
import { limitsOnPath, type OrderRow } from './orders.ts';

/** Is what was ordered still there to be had: the licence, and for months its last day? */
export async function canTakeEffect(tx: Transaction, { licenceId, what }: OrderRow): Promise<boolean> {
  const licence = await standingLicence(tx, licenceId);
  return licence !== null && (what === 'seats' || licence.last_day !== null);
}

/** Gives a licence more seats, or fewer, and with it the limits on the way down to the group they are bought for. */
export async function alterSeats(
  tx: Transaction,
  writer: ChangeWriter,
  { licenceId }: Pick<OrderRow, 'licenceId'>,
  path: readonly number[],
  more: number,
): Promise<Touched> {
  const licence = await standingLicence(tx, licenceId);
  if (!licence) return {};
  await writer.replace('licence', [{ rowId: licence.row_id, values: { seats: Math.max(0, licence.seats + more) } }]);
  await writer.replace(
    'seat limit',
    (await limitsOnPath(tx, licenceId, path)).map(({ rowId, most }) => ({ rowId, values: { most: Math.max(0, most + more) } })),
  );
  return { seats: true };
}

/** A licence lasts so many months longer: from its last day on, or from today when it is over. */
export async function lengthen(tx: Transaction, writer: ChangeWriter, order: OrderRow, today: string): Promise<Touched> {
  const licence = await standingLicence(tx, order.licenceId);
  if (!licence || licence.last_day === null) return {};
  const from = licence.last_day < today ? today : licence.last_day;
  await writer.replace('licence', [{ rowId: licence.row_id, values: { last_day: addMonths(from, order.months) } }]);
  return { seats: true, licences: [order.licenceId], courses: await coursesPaidBy(tx, order.licenceId) };
}

async function coursesPaidBy(tx: Transaction, licenceId: number): Promise<number[]> {
  const found = await rows<{ id: number }>(tx, sql`select course_id as id from licence_course where licence_id = ${licenceId}`);
  return found.map(({ id }) => id);
}
