import { dayOfMoment } from '@gate-roster/core';
import { connect, onlyOne } from './connect.ts';
import * as tables from './schema.ts';
import { rebuildDerived } from './rebuild.ts';

const url = process.env['DATABASE_URL'];
if (!url) throw new Error('DATABASE_URL is not set');
const { pool, db } = connect(url);
const { time_zone } = await onlyOne(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
await db.transaction((tx) => rebuildDerived(tx, dayOfMoment(new Date(), time_zone)));
await pool.end();
console.log('Rebuilt: branches, membership sets, entitlements.');
