import { addTo, type Bundle, EnrolmentColumns } from '@gate-roster/core';
import type { LoadedSet } from './load.ts';
import type { ColumnFigures, FiguresQuestion } from './questions.ts';

/** Each group's own branch and those above it. */
export type GroupsAbove = ReadonlyMap<number, readonly number[]>;

export interface KeptFigures {
  figures: ColumnFigures;
  hasCourses: boolean;
  hasSpread: boolean;
  scores: FiguresQuestion['scores'];
}

/** What a tree makes of the sets; null: groups count for themselves alone. */
class Counting {
  readonly tree: GroupsAbove | null;
  readonly #sets = new Map<number, Set<LoadedSet>>();
  /** Figures of groups for those who see everything, without a filter. */
  readonly kept = new Map<number, KeptFigures>();
  keptFor: object | null = null;
  /** The groups that were asked for last, and the sets by those of them that they count for. */
  #last: { groups: string; bundles: Bundle<LoadedSet>[] } | null = null;

  constructor(tree: GroupsAbove | null, sets: Iterable<LoadedSet>) {
    this.tree = tree;
    for (const set of sets) this.add(set);
  }

  add(set: LoadedSet): void {
    this.#last = null;
    for (const group of this.#groupsOf(set)) {
      const known = this.#sets.get(group);
      if (known) known.add(set);
      else this.#sets.set(group, new Set([set]));
      this.kept.delete(group);
    }
  }

  delete(set: LoadedSet): void {
    this.#last = null;
    for (const group of this.#groupsOf(set)) {
      this.#sets.get(group)?.delete(set);
      this.kept.delete(group);
    }
  }

  setsOf(group: number): Iterable<LoadedSet> {
    return this.#sets.get(group) ?? [];
  }

  /** Each set once, with others that count for the same of these groups. */
  countingFor(groups: readonly number[]): Iterable<Bundle<LoadedSet>> {
    const asked = groups.join();
    if (this.#last?.groups === asked) return this.#last.bundles;
    const countsFor = new Map<LoadedSet, number[]>();
    for (const group of groups) for (const set of this.setsOf(group)) addTo(countsFor, set, group);
    const found = new Map<string, { countsFor: readonly number[]; sets: LoadedSet[] }>();
    for (const [set, own] of countsFor) {
      const key = own.join();
      const known = found.get(key);
      if (known) known.sets.push(set);
      else found.set(key, { countsFor: own, sets: [set] });
    }
    const bundles = [...found.values()];
    this.#last = { groups: asked, bundles };
    return bundles;
  }

  #groupsOf({ groups }: LoadedSet): Iterable<number> {
    const { tree } = this;
    return tree === null ? groups : new Set(groups.flatMap((id) => tree.get(id) ?? []));
  }
}

/** Membership sets that have been read, by the groups they count for, with what groups were found to come to. */
export class SetsByGroup {
  /** In which they lie. */
  readonly columns = new EnrolmentColumns();
  readonly #sets = new Map<number, LoadedSet>();
  #alone = new Counting(null, []);
  #within: Counting | null = null;

  set(id: number, set: LoadedSet): void {
    this.delete(id);
    this.#sets.set(id, set);
    this.#alone.add(set);
    this.#within?.add(set);
  }

  delete(id: number): void {
    const old = this.#sets.get(id);
    if (!old) return;
    this.#sets.delete(id);
    this.columns.drop(old.stretch);
    this.#alone.delete(old);
    this.#within?.delete(old);
  }

  of(group: number, tree: GroupsAbove | null): Iterable<LoadedSet> {
    return this.#counting(tree).setsOf(group);
  }

  /** Each set once, with others that count for the same of these groups. */
  countingFor(groups: readonly number[], tree: GroupsAbove | null): Iterable<Bundle<LoadedSet>> {
    return this.#counting(tree).countingFor(groups);
  }

  /** @param courses The courses there are: with others, figures are others. To be added to. */
  keptFigures(tree: GroupsAbove | null, courses: object): Map<number, KeptFigures> {
    const counting = this.#counting(tree);
    if (counting.keptFor !== courses) counting.kept.clear();
    counting.keptFor = courses;
    return counting.kept;
  }

  #counting(tree: GroupsAbove | null): Counting {
    if (tree === null) return this.#alone;
    if (this.#within?.tree !== tree) this.#within = new Counting(tree, this.#sets.values());
    return this.#within;
  }
}
