import type { ByValue } from '@gate-roster/core';
import type { Queryable } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import type { ListFilter } from './filtered.ts';
import { type Page, readCursor, someInOrder, writeCursor } from './list.ts';

/** So few people are looked for by their ids; of more, everybody is read by name. */
const mostToName = 2000;

/** People of one value, or without any. */
interface Alike {
  value: number | null;
  ids: Float64Array;
}

/** Where a page ended: at this value, and there at this name. */
interface Place {
  value: number | null;
  name: string;
}

/** @returns Null for a cursor that was not made here: the list begins again. */
function placeOf(after: string): Place | null {
  const [text, name] = readCursor(after);
  const value = text === null ? null : Number.parseFloat(text);
  return Number.isNaN(value) ? null : { value, name };
}

/**
 * A page of the people whom a list shows, in the order of a value, and of names where it is the same.
 * @returns Their ids.
 */
export async function pageByValue(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  { backwards, ...sorted }: ByValue & { backwards: boolean },
  { after, limit }: Page,
): Promise<{ ids: number[]; next: string | null }> {
  const steps = stepsOf(sorted, backwards);
  const place = after === undefined ? null : placeOf(after);
  const byName: ListFilter = { ...filter, sort: 'name' };
  const found: { id: number; value: number | null; name: string }[] = [];
  let at = place === null ? 0 : steps.findIndex(({ value }) => isReached(value, place.value, backwards));
  for (let [step, room] = [steps[at], limit * 3]; step && found.length <= limit; step = steps[at], room = Math.min(room * 4, mostToName)) {
    const { value } = step;
    const from = place !== null && value === place.value ? place.name : undefined;
    const isLarge = value === null || step.ids.length > mostToName;
    const chunk = isLarge || from !== undefined ? [step] : together(steps, at, room);
    const valueOf = isLarge ? null : new Map(chunk.flatMap((each) => Array.from(each.ids, (id) => [id, each.value] as const)));
    const page = { after: from, limit: limit - found.length };
    const read = await someInOrder(
      db,
      reader,
      groupId,
      byName,
      page,
      valueOf ? { among: [...valueOf.keys()] } : { isWanted: isOf(step, sorted) },
    );
    const valued = read.map(({ id, key }) => ({ id, value: valueOf ? (valueOf.get(id) ?? null) : value, name: writeCursor(key) ?? '' }));
    if (!isLarge) valued.sort((a, b) => (backwards ? -1 : 1) * ((a.value ?? 0) - (b.value ?? 0)));
    for (const each of valued) found.push(each);
    at += chunk.length;
  }
  const last = found[limit - 1];
  return {
    ids: found.slice(0, limit).map(({ id }) => id),
    next: found.length > limit && last ? writeCursor([last.value === null ? null : String(last.value), last.name, 0]) : null,
  };
}

/** In the order in which they are shown; who has no value comes last, whichever way round. */
function stepsOf({ values, ends, ids }: ByValue, backwards: boolean): Alike[] {
  const steps = Array.from(values, (value, at): Alike => ({ value, ids: ids.subarray(ends[at - 1] ?? 0, ends[at]) }));
  if (backwards) steps.reverse();
  return [...steps, { value: null, ids: new Float64Array(0) }];
}

/** Of a step that is too large to name its people. */
function isOf({ value, ids }: Alike, all: ByValue): (id: number) => boolean {
  const named = new Set(value === null ? all.ids : ids);
  return value === null ? (id) => !named.has(id) : (id) => named.has(id);
}

/** What was left last may be nobody's any more: then it goes on with what comes after it. */
const isReached = (value: number | null, left: number | null, backwards: boolean): boolean =>
  value === null || (left !== null && (backwards ? value <= left : value >= left));

/** Small steps that are looked for at once. */
function together(steps: readonly Alike[], from: number, room: number): Alike[] {
  const chunk: Alike[] = [];
  let count = 0;
  for (const step of steps.slice(from)) {
    count += step.ids.length;
    if (step.value === null || (chunk.length > 0 && count > room)) break;
    chunk.push(step);
  }
  return chunk;
}
