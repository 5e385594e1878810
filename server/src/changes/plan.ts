import type { Change, Day, Effects, GroupId, Tree } from '@gate-roster/core';
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
  /** The kind of the change that was undone. */
  undid?: string;
}

/** What else has to be brought up to date, and who is told. */
export interface Touched {
  people: number[];
  courses: number[];
  tree: boolean;
  /** Accounts to take off the platform when nothing hangs on them. */
  unused?: number[];
}

/** A change worked out but not written: the same for the look and for apply. */
export interface Plan {
  effects: Effects;
  groups: GroupId[];
  summary: Summary;
  write: (tx: Transaction, writer: ChangeWriter) => Promise<Touched>;
}

export type Planner<K extends Change['kind']> = (context: PlanContext, change: Extract<Change, { kind: K }>) => Promise<Plan>;
