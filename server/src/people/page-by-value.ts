import type { Queryable } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import type { ListFilter } from './filtered.ts';
import { type Page, readCursor, someInOrder, writeCursor } from './list.ts';

/** By what people are sorted who have a value each; those without one come last, whichever way round. */
export interface ByValue {
  values: ReadonlyMap<number, number>;
  backwards: boolean;
}

/** So few people are looked for by their ids; of more, everybody is read by name. */
const mostToName = 2000;

/** People of one value, or without any. */
interface Alike {
  value: number | null;
  ids: readonly number[];
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
  { values, backwards }: ByValue,
  { after, limit }: Page,
): Promise<{ ids: number[]; next: string | null }> {
  const steps = inSteps(values, backwards);
  const place = after === undefined ? null : placeOf(after);
  const byName: ListFilter = { ...filter, sort: 'name' };
  const found: { id: number; value: number | null; name: string }[] = [];
  let at = place === null ? 0 : steps.findIndex(({ value }) => isReached(value, place.value, backwards));
  for (let step = steps[at]; step && found.length <= limit; step = steps[at]) {
    const { value } = step;
    const from = place !== null && value === place.value ? place.name : undefined;
    const isLarge = value === null || step.ids.length > mostToName;
    const chunk = isLarge || from !== undefined ? [step] : together(steps, at);
    const read = await someInOrder(
      db,
      reader,
      groupId,
      byName,
      { after: from, limit: limit - found.length },
      isLarge ? { isWanted: (id) => (values.get(id) ?? null) === value } : { among: chunk.flatMap(({ ids }) => ids) },
    );
    const valued = read.map(({ id, key }) => ({ id, value: values.get(id) ?? null, name: writeCursor(key) ?? '' }));
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

function inSteps(values: ReadonlyMap<number, number>, backwards: boolean): Alike[] {
  const byValue = new Map<number, number[]>();
  for (const [id, value] of values) {
    const list = byValue.get(value);
    if (list) list.push(id);
    else byValue.set(value, [id]);
  }
  const steps = [...byValue].sort(([a], [b]) => (backwards ? b - a : a - b)).map(([value, ids]): Alike => ({ value, ids }));
  return [...steps, { value: null, ids: [] }];
}

/** What was left last may be nobody's any more: then it goes on with what comes after it. */
const isReached = (value: number | null, left: number | null, backwards: boolean): boolean =>
  value === null || (left !== null && (backwards ? value <= left : value >= left));

/** Small steps that are looked for at once. */
function together(steps: readonly Alike[], from: number): Alike[] {
  const chunk: Alike[] = [];
  let count = 0;
  for (const step of steps.slice(from)) {
    count += step.ids.length;
    if (step.value === null || (chunk.length > 0 && count > mostToName)) break;
    chunk.push(step);
  }
  return chunk;
}
