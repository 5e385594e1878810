// Notes, while the tests run, what each written-out statement of the server gives: its columns, their types, and whether one was null.
// `check-sql.mjs` compares that with the row types in the code.
import fs from 'node:fs';
import path from 'node:path';
import { NodePgSession } from 'drizzle-orm/node-postgres';
import { root } from '../ensure.mjs';
import { seenFolder } from './seen-folder.mjs';

const source = path.join(root, 'server/src') + path.sep;
const self = path.join(source, 'database/connect.ts');
const file = path.join(seenFolder, `${process.pid}-${Date.now()}.jsonl`);

/** Where a place of the running code is in the source; mapping it takes long, so it is done once for each. */
const places = new Map();
const known = new Map();

/** The places that called, as V8 gives them: quick, and before source maps. */
function callers() {
  const { prepareStackTrace, stackTraceLimit } = Error;
  Error.stackTraceLimit = 25;
  Error.prepareStackTrace = (_, sites) => sites;
  const { stack } = new Error();
  Error.prepareStackTrace = prepareStackTrace;
  Error.stackTraceLimit = stackTraceLimit;
  return stack;
}

const fileOf = (site) => (site.getFileName() ?? '').replace('file://', '');

/** `folder/file.ts:12` of the code that asked for rows, or null where that is a test or cannot be told. */
function placeOf() {
  const sites = callers();
  const site = sites.find((each) => fileOf(each).startsWith(source) && fileOf(each) !== self);
  if (!site) return null;
  const key = `${fileOf(site)}:${site.getLineNumber()}:${site.getColumnNumber()}`;
  if (!places.has(key)) places.set(key, mapped());
  return places.get(key);
}

function mapped() {
  const { stackTraceLimit } = Error;
  Error.stackTraceLimit = 30;
  const lines = String(new Error().stack).split('\n');
  Error.stackTraceLimit = stackTraceLimit;
  const line = lines.map((each) => each.replace('file://', '')).find((each) => each.includes(source) && !each.includes(self));
  const found = /([^\s(]+\.ts):(\d+):(\d+)\)?$/u.exec(line ?? '');
  return found ? `${path.relative(source, found[1])}:${found[2]}:${found[3]}` : null;
}

function note(place, { fields, rows }) {
  const columns = known.get(place) ?? {};
  let isNew = !known.has(place);
  for (const { name, dataTypeID } of fields ?? []) {
    const column = (columns[name] ??= { type: dataTypeID, isNull: false, isNew: true });
    if (!column.isNull && rows.some((row) => row[name] === null)) column.isNull = column.isNew = true;
    isNew ||= column.isNew;
    delete column.isNew;
  }
  known.set(place, columns);
  if (isNew) fs.appendFileSync(file, `${JSON.stringify({ place, columns })}\n`);
}

const { prepareQuery } = NodePgSession.prototype;
NodePgSession.prototype.prepareQuery = function watched(...given) {
  const prepared = prepareQuery.apply(this, given);
  const place = given[1] === undefined ? placeOf() : null;
  if (place === null) return prepared;
  const { execute } = prepared;
  prepared.execute = async function executed(...values) {
    const result = await execute.apply(this, values);
    note(place, result);
    return result;
  };
  return prepared;
};
