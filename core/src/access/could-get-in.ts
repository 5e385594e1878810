import type { GroupId } from '../groups/tree.ts';
import { addDays, type Day, earlier, later, type Span } from '../time/day.ts';
import type { GrantId, Membership, PersonId } from './grant.ts';
import type { CourseRules } from './resolve.ts';
import { type Window, windows } from './windows.ts';

/** What was said about a course from a day on, until the next such stretch begins. */
export interface Epoch {
  firstDay: Day;
  rules: CourseRules;
}

/** Somebody over a span of days: when their account worked, and in which groups they were on record. */
export interface PastLearner {
  personId: PersonId;
  active: readonly Span[];
  memberships: readonly Membership[];
}

/** Days on which a course was open to somebody in one and the same way. */
export interface Stay {
  firstDay: Day;
  lastDay: Day;
  /** Groups whose paths it was open on; none: by the course's own terms or a statement on the person. */
  through: readonly GroupId[];
  /** The statements that opened it; none: its own terms did. */
  by: readonly GrantId[];
}

/**
 * Who could get into one course between two days (both inclusive), through what.
 * Epochs are in order of days; the first begins on or before the span.
 */
export class CouldGetIn {
  readonly #epochs: readonly Epoch[];
  readonly #span: { firstDay: Day; lastDay: Day };
  /** Whoever was in the same groups on the same days of the span, and of whom nothing is said by name, had the same. */
  readonly #known = new Map<string, readonly Stay[]>();
  readonly #named: ReadonlySet<PersonId>;

  constructor(epochs: readonly Epoch[], span: { firstDay: Day; lastDay: Day }) {
    this.#epochs = epochs;
    this.#span = span;
    this.#named = new Set(epochs.flatMap(({ rules }) => [...rules.onPerson.keys()]));
  }

  of({ personId, active, memberships }: PastLearner): readonly Stay[] {
    const spans = active.flatMap((span) => this.#within(span) ?? []);
    const held = memberships.flatMap(({ groupId, ...span }) => {
      const within = this.#within(span);
      return within === null ? [] : [{ groupId, ...within }];
    });
    const isNamed = this.#named.has(personId);
    const key = isNamed ? null : JSON.stringify([spans, held]);
    const known = key === null ? undefined : this.#known.get(key);
    if (known) return known;
    const stays = this.#epochs.flatMap(({ firstDay, rules }, index) => {
      const next = this.#epochs[index + 1]?.firstDay;
      const lastDay = next === undefined ? this.#span.lastDay : earlier(addDays(next, -1), this.#span.lastDay);
      const learners = spans.map((span) => ({ personId: isNamed ? personId : null, active: true, ...span, memberships: held }));
      return learners
        .flatMap((learner) => windows(rules, learner))
        .flatMap((window) => clipped(window, later(firstDay, this.#span.firstDay), lastDay));
    });
    const found = joined(stays.sort((a, b) => (a.firstDay < b.firstDay ? -1 : 1)));
    if (key !== null) this.#known.set(key, found);
    return found;
  }

  /** A span cut down to the days asked about, open where it goes beyond them; null when it lies outside. */
  #within({ firstDay, lastDay }: Span): Span | null {
    if ((firstDay !== null && firstDay > this.#span.lastDay) || (lastDay !== null && lastDay < this.#span.firstDay)) return null;
    return {
      firstDay: firstDay !== null && firstDay > this.#span.firstDay ? firstDay : null,
      lastDay: lastDay !== null && lastDay < this.#span.lastDay ? lastDay : null,
    };
  }
}

function clipped({ firstDay, lastDay, paths }: Window, from: Day, until: Day): Stay[] {
  const first = firstDay === null ? from : later(firstDay, from);
  const last = lastDay === null ? until : earlier(lastDay, until);
  if (first > last) return [];
  const unique = (list: readonly number[]): number[] => [...new Set(list)].sort((a, b) => a - b);
  return [
    {
      firstDay: first,
      lastDay: last,
      through: unique(paths.flatMap(({ groupId }) => groupId ?? [])),
      by: unique(paths.flatMap(({ openedBy }) => openedBy ?? [])),
    },
  ];
}

/** Stretches that follow each other day by day in the same way are one. */
function joined(stays: readonly Stay[]): Stay[] {
  const found: Stay[] = [];
  for (const stay of stays) {
    const before = found.at(-1);
    if (before && addDays(before.lastDay, 1) === stay.firstDay && sameWay(before, stay))
      found[found.length - 1] = { ...before, lastDay: stay.lastDay };
    else found.push(stay);
  }
  return found;
}

const sameWay = (a: Stay, b: Stay): boolean => a.through.join() === b.through.join() && a.by.join() === b.by.join();
