import { addTo } from '../lists/add-to.ts';
import type { Day } from '../time/day.ts';
import type { GroupId } from './tree.ts';

/** Where a group stood on the days from `from` up to, not including, `until`; null leaves that side open. */
export interface Placement {
  groupId: GroupId;
  parentId: GroupId | null;
  from: Day | null;
  until: Day | null;
}

/** On these days a group lay in the branch of another. */
export interface BranchDays {
  ancestorId: GroupId;
  groupId: GroupId;
  from: Day | null;
  until: Day | null;
}

/**
 * When each of `groups` lay below which others, from the history of the tree. A day's place is the one at its end; a group is
 * taken to have stood where it was made for as long as there can have been anybody in it.
 * @returns Rows without those of a group with itself; days that follow one another are one row.
 */
export function branchDays(placements: readonly Placement[], groups: Iterable<GroupId>): BranchDays[] {
  const byGroup = new Map<GroupId, Placement[]>();
  for (const placement of placements) if (isSome(placement.from, placement.until)) addTo(byGroup, placement.groupId, placement);
  for (const list of byGroup.values()) list.sort((a, b) => (a.from ?? '').localeCompare(b.from ?? ''));
  const found: BranchDays[] = [];
  for (const groupId of groups) {
    const spans = new Map<GroupId, Span[]>();
    const walk = (at: GroupId, from: Day | null, until: Day | null): void => {
      for (const step of joined(byGroup.get(at) ?? [])) {
        if (step.parentId === null) continue;
        const [first, end] = [latest(from, step.from), soonest(until, step.until)];
        if (!isSome(first, end)) continue;
        addTo(spans, step.parentId, { from: first, until: end });
        walk(step.parentId, first, end);
      }
    };
    walk(groupId, null, null);
    for (const [ancestorId, list] of spans) for (const span of merged(list)) found.push({ ancestorId, groupId, ...span });
  }
  return found;
}

type Span = Pick<BranchDays, 'from' | 'until'>;
const isSome = (from: Day | null, until: Day | null): boolean => from === null || until === null || from < until;
const latest = (a: Day | null, b: Day | null): Day | null => (a === null || (b !== null && b > a) ? b : a);
const soonest = (a: Day | null, b: Day | null): Day | null => (a === null || (b !== null && b < a) ? b : a);

/** Versions of a group that change something else leave its place as it was. The first one reaches back to the beginning. */
function joined(list: readonly Placement[]): Placement[] {
  const steps: Placement[] = [];
  for (const [index, placement] of list.entries()) {
    const before = steps.at(-1);
    if (before && before.parentId === placement.parentId && before.until === placement.from) before.until = placement.until;
    else steps.push(index === 0 ? { ...placement, from: null } : { ...placement });
  }
  return steps;
}

function merged(list: readonly Span[]): Span[] {
  const spans: Span[] = [];
  for (const span of list.toSorted((a, b) => (a.from ?? '').localeCompare(b.from ?? ''))) {
    const before = spans.at(-1);
    if (before && (before.until === null || (span.from !== null && span.from <= before.until))) {
      if (before.until !== null && (span.until === null || span.until > before.until)) before.until = span.until;
    } else spans.push({ ...span });
  }
  return spans;
}
