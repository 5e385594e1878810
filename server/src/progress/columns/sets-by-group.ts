import { type AddedSet, EnrolmentColumns } from '@gate-roster/core';
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

export type CountedSet = AddedSet & { countsFor: number[]; loaded: LoadedSet };

/** What a tree makes of the sets; null: groups count for themselves alone. */
class Counting {
  readonly tree: GroupsAbove | null;
  readonly #sets = new Map<number, Set<LoadedSet>>();
  /** Figures of groups for those who see everything, without a filter. */
  readonly kept = new Map<number, KeptFigures>();
  keptFor: object | null = null;
  /** The groups that were asked for last, and each set with those of them that it counts for. */
  #last: { groups: string; sets: CountedSet[] } | null = null;

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

  /** Each set once, with those of the groups that it counts for. */
  countingFor(groups: readonly number[]): Iterable<CountedSet> {
    const key = groups.join();
    if (this.#last?.groups === key) return this.#last.sets;
    const found = new Map<LoadedSet, CountedSet>();
    for (const group of groups)
      for (const loaded of this.setsOf(group)) {
        const known = found.get(loaded);
        if (known) known.countsFor.push(group);
        else found.set(loaded, { stretch: loaded.stretch, whole: loaded.whole, countsFor: [group], loaded });
      }
    const sets = [...found.values()];
    this.#last = { groups: key, sets };
    return sets;
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

  /** Each set once, with those of the groups that it counts for. */
  countingFor(groups: readonly number[], tree: GroupsAbove | null): Iterable<CountedSet> {
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
