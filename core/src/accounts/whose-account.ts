import type { GroupId } from '../groups/tree.ts';
import { type Actor, may } from './may.ts';

/** What decides whose account it is. */
export interface AccountFacts {
  personId: number;
  role: Actor['role'];
  /** Does the person lead anything, anywhere? */
  leads: boolean;
  /** For each standing membership the groups from the root down. */
  paths: readonly (readonly GroupId[])[];
}

/**
 * May the actor act on the account itself: reset, one-time sign-in, change of address, merge, erase, export?
 * Otherwise taking somebody in would be a way to take over their account. An administrator may with everybody;
 * a leader only with people who lie wholly where they manage people, and who have no power of their own.
 */
export function mayActOnAccount(actor: Actor, person: AccountFacts): boolean {
  if (actor.role === 'administrator') return true;
  if (person.role !== 'none' || person.leads || person.paths.length === 0) return false;
  return person.paths.every((path) => may(actor, 'managePeople', { path }));
}
