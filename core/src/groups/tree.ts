import { addTo } from '../lists/add-to.ts';
import { contains, type Day, type Span } from '../time/day.ts';

export type GroupId = number;

export interface GroupNode extends Span {
  id: GroupId;
  parentId: GroupId | null;
  name: string;
  state: 'active' | 'archived';
}

/** The groups of the platform, or of one branch, with the questions the rules ask of them. */
export class Tree {
  readonly #nodes = new Map<GroupId, GroupNode>();
  readonly #children = new Map<GroupId | null, GroupNode[]>();
  readonly #paths = new Map<GroupId, readonly GroupId[]>();

  constructor(nodes: Iterable<GroupNode>) {
    for (const node of nodes) this.#nodes.set(node.id, node);
    for (const node of this.#nodes.values()) {
      // In a leader's cut of the tree the branch's top has a parent that is not there.
      const parent = node.parentId !== null && this.#nodes.has(node.parentId) ? node.parentId : null;
      addTo(this.#children, parent, node);
    }
  }

  get size(): number {
    return this.#nodes.size;
  }

  nodes(): IterableIterator<GroupNode> {
    return this.#nodes.values();
  }

  has(id: GroupId): boolean {
    return this.#nodes.has(id);
  }

  /** @throws RangeError when the group is not in the tree. */
  node(id: GroupId): GroupNode {
    const node = this.#nodes.get(id);
    if (!node) throw new RangeError(`group ${id} is not in the tree`);
    return node;
  }

  children(id: GroupId | null): readonly GroupNode[] {
    return this.#children.get(id) ?? [];
  }

  /**
   * From the root down to the group itself.
   * @throws RangeError when the group is unknown or its parents run in a circle.
   */
  path(id: GroupId): readonly GroupId[] {
    const known = this.#paths.get(id);
    if (known) return known;
    const upwards: GroupId[] = [];
    const seen = new Set<GroupId>();
    for (let at: GroupId | null = id; at !== null && this.#nodes.has(at); at = this.node(at).parentId) {
      if (seen.has(at)) throw new RangeError(`group ${at} is its own ancestor`);
      seen.add(at);
      upwards.push(at);
    }
    if (upwards.length === 0) this.node(id);
    const path = upwards.reverse();
    this.#paths.set(id, path);
    return path;
  }

  isInBranch(id: GroupId, top: GroupId): boolean {
    return this.path(id).includes(top);
  }

  /** The group and all below it, parents before children, siblings in the order in which they were given. */
  branch(top: GroupId): GroupId[] {
    const found: GroupId[] = [];
    const open = [top];
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      found.push(at);
      for (const child of this.children(at).toReversed()) open.push(child.id);
    }
    return found;
  }

  /** Names from below the root (or the branch's top) down, as they are written in a file. */
  pathNames(id: GroupId): string[] {
    return this.path(id).map((step) => this.node(step).name);
  }

  /** A group gives something on a day only when it and all above it are active and between their days. */
  isInForce(id: GroupId, day: Day): boolean {
    return this.path(id).every((step) => {
      const node = this.node(step);
      return node.state === 'active' && contains(node, day);
    });
  }

  /** The same tree with some groups otherwise, new or (null) gone. */
  with(changes: ReadonlyMap<GroupId, GroupNode | null>): Tree {
    const nodes = new Map(this.#nodes);
    for (const [id, node] of changes) {
      if (node) nodes.set(id, node);
      else nodes.delete(id);
    }
    return new Tree(nodes.values());
  }

  /** Does the group hang on the tree's top, without going in a circle? */
  isRooted(id: GroupId): boolean {
    const seen = new Set<GroupId>();
    for (let at: GroupId | null = id; at !== null; at = this.#nodes.get(at)?.parentId ?? null) {
      if (seen.has(at) || !this.#nodes.has(at)) return false;
      seen.add(at);
    }
    return true;
  }
}
