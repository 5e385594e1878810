import type { GroupId } from '../groups/tree.ts';
import type { Grant, Learner } from './grant.ts';
import type { CourseRules } from './resolve.ts';
import { type Window, windows } from './windows.ts';

/**
 * Learners by what the rules of one course say to them. Most groups of a branch hear the same words from above and stand on
 * the same days; whoever has the same mark has the course on the same days and the same units of it, although through other
 * groups. Marks made with the same `numbers` can be compared, as long as a grant's id means the same grant in both rules.
 */
export class Alike {
  readonly #rules: CourseRules;
  /** What a leader says hangs on whole paths: then only groups that have the same path are alike. */
  readonly #byPath: boolean;
  readonly #isReached = new Map<GroupId, boolean>();
  readonly #marks = new Map<GroupId, number>();
  readonly #windows = new Map<string, readonly Window[]>();
  /** A short number for whatever is said on a path. */
  readonly #numbers: Map<string, number>;

  constructor(rules: CourseRules, numbers = new Map<string, number>()) {
    this.#rules = rules;
    this.#numbers = numbers;
    const said = [...rules.atGroup.values(), ...rules.onPerson.values()].flat();
    this.#byPath = said.some(({ makerBranch }) => makerBranch !== null);
  }

  /** No grant reaches them, and without one the course is closed: it is open to them on no day. */
  isClosedTo({ personId, memberships }: Learner): boolean {
    const { course, onPerson } = this.#rules;
    if (course.terms === 'everyone' || (personId !== null && onPerson.has(personId))) return false;
    return !memberships.some(({ groupId }) => this.#isReachedAt(groupId));
  }

  mark(learner: Learner): string {
    const held = learner.memberships.map(({ groupId, firstDay, lastDay }) =>
      firstDay === null && lastDay === null ? this.#markOf(groupId) : `${this.#markOf(groupId)}@${firstDay ?? ''}/${lastDay ?? ''}`,
    );
    const groups = held.length > 1 ? [...new Set(held)].sort().join() : String(held[0] ?? '');
    const { active, firstDay, lastDay, personId } = learner;
    const mayFinish = learner.mayFinish?.includes(this.#rules.course.id) ?? false;
    const own = personId === null ? undefined : this.#rules.onPerson.get(personId);
    if (active && !mayFinish && firstDay === null && lastDay === null && !own) return groups;
    return `${groups}|${active}|${mayFinish}|${firstDay ?? ''}/${lastDay ?? ''}|${idsOf(own ?? [])}`;
  }

  /** The windows of the first who came with this mark: days and units are right for all of them, the paths are that one's own. */
  windowsOf(mark: string, learner: Learner): readonly Window[] {
    const known = this.#windows.get(mark);
    if (known) return known;
    const found = windows(this.#rules, learner);
    this.#windows.set(mark, found);
    return found;
  }

  #isReachedAt(groupId: GroupId): boolean {
    const known = this.#isReached.get(groupId);
    if (known !== undefined) return known;
    const { tree, atGroup } = this.#rules;
    const isReached = tree.has(groupId) && tree.path(groupId).some((step) => atGroup.has(step));
    this.#isReached.set(groupId, isReached);
    return isReached;
  }

  #markOf(groupId: GroupId): number {
    const known = this.#marks.get(groupId);
    if (known !== undefined) return known;
    const said = this.#rules.tree.has(groupId) ? this.#saidTo(groupId) : 'gone';
    const mark = this.#numbers.get(said) ?? this.#numbers.size;
    this.#numbers.set(said, mark);
    this.#marks.set(groupId, mark);
    return mark;
  }

  #saidTo(groupId: GroupId): string {
    const { tree, atGroup, course } = this.#rules;
    return tree
      .path(groupId)
      .map((step) => {
        const { state, firstDay, lastDay } = tree.node(step);
        const said = (atGroup.get(step) ?? []).filter(({ at }) => 'group' in at && (at.withSubgroups || step === groupId));
        const home = step === course.home ? 'home' : '';
        const days = state === 'active' && firstDay === null && lastDay === null ? '' : `${state} ${firstDay ?? ''}/${lastDay ?? ''}`;
        const own = this.#byPath ? `${step}:` : '';
        return days === '' && said.length === 0 && own === '' && home === '' ? '' : `${own}${home}${days}[${idsOf(said)}]`;
      })
      .filter(Boolean)
      .join('>');
  }
}

const idsOf = (grants: readonly Grant[]): string => grants.map(({ id }) => id).join();
