import { dayOfMoment } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { connect, oneRow } from './connect.ts';
import { rebuildDerived } from './rebuild.ts';

const url = process.env['DATABASE_URL'];
if (!url) throw new Error('DATABASE_URL is not set');
const { pool, db } = connect(url);
const { time_zone } = await oneRow<{ time_zone: string }>(db, sql`select time_zone from organisation`);
await db.transaction((tx) => rebuildDerived(tx, dayOfMoment(new Date(), time_zone)));
await pool.end();
console.log('Rebuilt: branches, membership sets, entitlements.');
