import type { CourseId } from '../access/grant.ts';
import { addTo } from '../lists/add-to.ts';

export type CourseSetId = number;

/** One thing that a course set holds: a course, or another set with all that it holds. */
export type SetItem = { set: CourseSetId } & ({ course: CourseId } | { inner: CourseSetId });

/** Which courses each set holds, also through sets in it. A set that holds nothing is left out. */
export function coursesInSets(items: readonly SetItem[]): Map<CourseSetId, Set<CourseId>> {
  const inner = innerSets(items);
  const found = new Map<CourseSetId, Set<CourseId>>();
  const own = new Map<CourseSetId, CourseId[]>();
  for (const item of items) if ('course' in item) addTo(own, item.set, item.course);
  for (const set of new Set(items.map((item) => item.set))) {
    const held = new Set([...reach(inner, set)].flatMap((each) => own.get(each) ?? []));
    if (held.size > 0) found.set(set, held);
  }
  return found;
}

/** A way by which a set holds itself: its sets in order, the first one again at the end. Null: there is none. */
export function loopOfSets(items: readonly SetItem[]): CourseSetId[] | null {
  const inner = innerSets(items);
  const clear = new Set<CourseSetId>();
  const walk = (set: CourseSetId, way: readonly CourseSetId[]): CourseSetId[] | null => {
    const at = way.indexOf(set);
    if (at >= 0) return [...way.slice(at), set];
    if (clear.has(set)) return null;
    for (const next of inner.get(set) ?? []) {
      const loop = walk(next, [...way, set]);
      if (loop) return loop;
    }
    clear.add(set);
    return null;
  };
  for (const set of inner.keys()) {
    const loop = walk(set, []);
    if (loop) return loop;
  }
  return null;
}

function innerSets(items: readonly SetItem[]): Map<CourseSetId, CourseSetId[]> {
  const inner = new Map<CourseSetId, CourseSetId[]>();
  for (const item of items) if ('inner' in item) addTo(inner, item.set, item.inner);
  return inner;
}

/** A set and all sets in it. */
function reach(inner: ReadonlyMap<CourseSetId, readonly CourseSetId[]>, set: CourseSetId): Set<CourseSetId> {
  const found = new Set([set]);
  for (const each of found) for (const next of inner.get(each) ?? []) found.add(next);
  return found;
}
