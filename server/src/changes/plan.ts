import type { Change, ChangeKind } from '@gate-roster/contract';
import type { Day, Effects, GroupId, Power, Tree } from '@gate-roster/core';
import type { EntitlementsAhead } from '../access/entitlements.ts';
import type { ExceptedPair } from '../access/exceptions.ts';
import type { SignedIn } from '../accounts/actor.ts';
import type { Queryable, Transaction } from '../database/connect.ts';
import type { ChangeWriter } from './writer.ts';

/** What a planner may know. Everything is read in the transaction that will write. */
export interface PlanContext {
  db: Queryable;
  actor: SignedIn;
  tree: Tree;
  today: Day;
  /** null: everything may be weighed; else which groups the actor may know of. */
  seen: ((groupId: GroupId) => boolean) | null;
  /** The address people use, for links in letters. */
  publicUrl: string;
  /** The power that a kind of change asks for. */
  powerFor: (kind: string) => Power | undefined;
  /** Works out another change for the same actor, of which this one is made. */
  planOf: (change: Change) => Promise<Plan>;
  /** An automatic rule acts, in the name of the actor. */
  isRule?: boolean;
  /** It is made before the roster lock is held: what follows from it may be worked out with it. */
  isAhead?: boolean;
  /** Hears how far a long one is, from 0 to 1; when it throws, the work stops and nothing is left of it. */
  told?: ((share: number) => Promise<void>) | undefined;
}

/** What the log keeps: ids and numbers, never a personal value. */
export interface Summary {
  groups: GroupId[];
  courses: number[];
  people: number[];
  counts: Record<string, number>;
  fileName?: string | null;
  names?: { before: string; after: string };
  effects?: ('open' | 'block' | 'end')[];
  /** Which values of a group or person were changed, or the state they were put in. */
  fields?: string[];
  /** The kind of the change that was undone. */
  undid?: string;
  /** The kinds of the acts of rules that were undone with it. */
  undidActs?: string[];
}

/** What else has to be brought up to date, and who is told. */
export interface Touched {
  /** People whose groups or state are otherwise. */
  people?: number[];
  /** Courses whose grants on the change's groups are otherwise. */
  courses?: number[];
  /** People of whom other exceptions hold in a course. */
  excepted?: ExceptedPair[];
  /** Courses that say other things of themselves than before, or of which sets do: to everybody. */
  everywhere?: number[];
  /** Courses that are done by other things than before. */
  redefined?: number[];
  /** Groups whose place in the tree is new, or that are gone or back. */
  placed?: GroupId[];
  /** Groups in whose branches other rules hold, or nothing holds, than before. */
  branches?: GroupId[];
  /** Of the groups that are placed only what they inherit is another than before: they moved as they are. */
  isMove?: boolean;
  /** People whose powers or account are otherwise: their sessions are told. */
  sessions?: number[];
  /** People whose work came to something else: their pages, and rules about it, follow. */
  progressed?: number[];
  /** Something was written, or taken back. */
  messages?: boolean;
  /** Automatic rules are otherwise. */
  rules?: boolean;
  /** Splits of the groups are otherwise. */
  splits?: boolean;
  /** Ways in are otherwise: codes, invitations, people asking. */
  entry?: boolean;
  /** There is more or less room for seats, or another order of the line. */
  seats?: boolean;
  /** People about whose seats something was decided. */
  seated?: number[];
  /** Licences that pay otherwise than before, for others or on other days. */
  licences?: number[];
  /** For people whom a file brings, the row that does: that is their order in line. Below zero: chosen to come first. */
  fileRows?: ReadonlyMap<number, number>;
  /** Windows of access that were worked out ahead. */
  entitlements?: EntitlementsAhead | undefined;
  /** What holds others up, done as the last thing before the transaction ends. */
  last?: () => Promise<void>;
  /** Accounts to take off the platform when nothing hangs on them. */
  unused?: number[];
}

/** What several parts of one change touched. */
export const mergeTouched = (parts: readonly Touched[]): Touched =>
  parts.reduce<Touched>((sum, part) => {
    const merged: Record<string, unknown> = { ...sum };
    for (const [key, value] of Object.entries(part)) {
      const before = merged[key];
      merged[key] = Array.isArray(value) && Array.isArray(before) ? [...(before as unknown[]), ...(value as unknown[])] : (value ?? before);
    }
    return merged;
  }, {});

/** A change worked out but not written: the same for the look and for apply. */
export interface Plan {
  effects: Effects;
  groups: GroupId[];
  summary: Summary;
  /** It adds memberships, requests, new accounts or marks, and nothing else: others may change the roster meanwhile. */
  onlyAdds?: boolean;
  /** Of one that is made ahead (`plansAhead`): the branches of whose people it speaks, and of nobody else. */
  within?: readonly GroupId[];
  write: (tx: Transaction, writer: ChangeWriter) => Promise<Touched>;
}

export type Planner<K extends Change['kind']> = (context: PlanContext, change: Extract<Change, { kind: K }>) => Promise<Plan>;

/** What belongs to one kind of change. Each room has its own, and the registry spreads them, as routes are spread. */
export interface ChangeModule<K extends Change['kind']> {
  /** What a leader needs to make it, and so to undo it; null: it is an administrator's. */
  power: Power | null;
  plan: Planner<K>;
  /**
   * It takes long, or does where it names many, and is worked out before the roster lock is asked for; what it writes does not read by
   * the plan's connection.
   */
  plansAhead?: 'always' | 'of many';
}

/** Named one by one in a change: from here on it is large. */
const manyNamed = 200;
export const namesMany = (change: Change): boolean =>
  Object.values(change).some((value) => Array.isArray(value) && value.length >= manyNamed);

/** Every kind; a room has some of them. */
export type ChangeModules = { [K in ChangeKind]: ChangeModule<K> };

/** The groups at the top: what concerns everybody is told there. */
export const rootsOf = (tree: Tree): GroupId[] => [...tree.nodes()].flatMap(({ id, parentId }) => (parentId === null ? [id] : []));

/** A summary of what a change is about, with nothing said that is not given. */
export const summaryOf = (parts: Partial<Summary>): Summary => ({ groups: [], courses: [], people: [], counts: {}, ...parts });
