import { type AccountFacts, may, type Power } from '@gate-roster/core';
import type { SignedIn } from './actor.ts';

/** May the actor have a letter sent to somebody? */
export function mayHelp(actor: SignedIn, account: AccountFacts): boolean {
  const holds = (power: Power): boolean => account.paths.some((path) => may(actor, power, { path }));
  return actor.role === 'administrator' || holds('helpSignIn');
}
