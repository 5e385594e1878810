import type { GroupId, Tree } from '../groups/tree.ts';
import type { Licence, LicenceId, SeatLimit, SeatWay } from './licence.ts';

/**
 * How many seats are used, by licence and group, and how many may be. A seat counts at the group of its membership and at
 * every group above it up to the licence's home.
 */
export class SeatRoom {
  readonly #tree: Tree;
  readonly #licences: ReadonlyMap<LicenceId, Licence>;
  readonly #most = new Map<string, number>();
  readonly #used = new Map<string, number>();

  constructor(tree: Tree, licences: Iterable<Licence>, limits: Iterable<SeatLimit>, used: Iterable<SeatWay & { seats: number }>) {
    this.#tree = tree;
    this.#licences = new Map([...licences].map((licence) => [licence.id, licence]));
    for (const { licenceId, groupId, most } of limits) this.#most.set(at(licenceId, groupId), most);
    for (const { seats, ...way } of used) this.#count(way, seats);
  }

  licence(id: LicenceId): Licence | undefined {
    return this.#licences.get(id);
  }

  used(licenceId: LicenceId, groupId: GroupId): number {
    return this.#used.get(at(licenceId, groupId)) ?? 0;
  }

  /** Does the group lie in the licence's branch? */
  reaches(licenceId: LicenceId, groupId: GroupId): boolean {
    const home = this.#licences.get(licenceId)?.homeId;
    return home !== undefined && this.#tree.has(groupId) && this.#tree.path(groupId).includes(home);
  }

  /**
   * The smallest remainder on the way from a group up to the licence's home; below zero where a limit was lowered or a group
   * moved. With `seen`, only of what stands at those groups; null: nothing there says how many.
   */
  free({ licenceId, groupId }: SeatWay, seen?: (groupId: GroupId) => boolean): number | null {
    let least: number | null = null;
    for (const { left } of this.limitsOn({ licenceId, groupId }, seen)) if (least === null || left < least) least = left;
    return least;
  }

  hasRoom(way: SeatWay): boolean {
    const licence = this.#licences.get(way.licenceId);
    return licence !== undefined && (this.free(way) ?? 0) > 0;
  }

  /** The groups of a licence's branch in which somebody could be charged one more seat. */
  groupsWithRoom(licenceId: LicenceId, homeId: GroupId): GroupId[] {
    if (!this.#tree.has(homeId)) return [];
    const found: GroupId[] = [];
    const look = (groupId: GroupId): void => {
      const most = this.#mostAt(licenceId, groupId);
      if (most !== null && most - this.used(licenceId, groupId) <= 0) return;
      found.push(groupId);
      for (const below of this.#tree.children(groupId)) look(below.id);
    };
    look(homeId);
    return found;
  }

  /** The groups with a limit on the way from a group up to the licence's home, and what is left at each. With `seen`, only those groups. */
  limitsOn({ licenceId, groupId }: SeatWay, seen?: (groupId: GroupId) => boolean): { groupId: GroupId; most: number; left: number }[] {
    return this.#steps(licenceId, groupId).flatMap((step) => {
      const most = this.#mostAt(licenceId, step);
      return most === null || (seen && !seen(step)) ? [] : [{ groupId: step, most, left: most - this.used(licenceId, step) }];
    });
  }

  charge(way: SeatWay): void {
    this.#count(way, 1);
  }

  release(way: SeatWay): void {
    this.#count(way, -1);
  }

  #mostAt(licenceId: LicenceId, groupId: GroupId): number | null {
    const licence = this.#licences.get(licenceId);
    const limit = this.#most.get(at(licenceId, groupId)) ?? null;
    if (licence?.homeId !== groupId) return limit;
    return limit === null ? licence.seats : Math.min(limit, licence.seats);
  }

  /** From the home down to the group; a group that is gone, or lies elsewhere by now, counts at the home. */
  #steps(licenceId: LicenceId, groupId: GroupId): readonly GroupId[] {
    const home = this.#licences.get(licenceId)?.homeId;
    if (home === undefined) return [];
    const path = this.#tree.has(groupId) ? this.#tree.path(groupId) : [];
    const from = path.indexOf(home);
    return from < 0 ? [home] : path.slice(from);
  }

  #count({ licenceId, groupId }: SeatWay, seats: number): void {
    for (const step of this.#steps(licenceId, groupId)) this.#used.set(at(licenceId, step), this.used(licenceId, step) + seats);
  }
}

const at = (licenceId: LicenceId, groupId: GroupId): string => `${licenceId}/${groupId}`;
