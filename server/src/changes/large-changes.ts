import type { Answer, Change, ChangeKind, Look, Problem, Routes } from '@gate-roster/contract';
import type { SignedIn } from '../accounts/actor.ts';
import { ProblemError } from '../http/problem.ts';
import type { SiteSize } from '../people/site-size.ts';
import type { Thread } from '../threads/thread.ts';
import { type ChangeModule, namesMany } from './plan.ts';
import { changeModules } from './registry.ts';
import { noteWait } from './roster-lock.ts';

/*
 * At a large site, working out a change of thousands of people keeps a processor busy for half a second and more. It is done in a
 * thread of its own (changes-thread.ts), so that requests which have nothing to do with it are answered meanwhile.
 */

export interface ChangeQuestions {
  look: { asked: { actor: SignedIn; change: Change }; answer: Look };
  apply: { asked: { actorId: number; change: Change; digest: string; requestId: string }; answer: Answer<Routes['apply']> };
}
type Name = keyof ChangeQuestions;
export type ChangeQuestion = { [N in Name]: { name: N } & ChangeQuestions[N]['asked'] }[Name];
/** `waited`: milliseconds for the roster lock; null: it was not asked for. */
export type ChangeAnswer<N extends Name = Name> = { waited: number | null } & (
  { answer: ChangeQuestions[N]['answer'] } | { problem: Problem }
);

/** Can a change be about thousands of people? */
export function mayBeLarge(change: Change): boolean {
  if (change.kind === 'undo' || (changeModules[change.kind] as ChangeModule<ChangeKind>).plansAhead === 'always') return true;
  if (change.kind === 'bring-in-roster' && change.fileId !== undefined) return true;
  return namesMany(change);
}

export class LargeChanges {
  readonly #site: Pick<SiteSize, 'isLarge'>;
  readonly #thread: Thread;

  /** @param thread It begins with the server's settings. */
  constructor(site: Pick<SiteSize, 'isLarge'>, thread: Thread) {
    this.#site = site;
    this.#thread = thread;
  }

  /** @returns Null: it is quickly worked out where it is asked. @throws ProblemError The same refusals as without a thread. */
  async ask<N extends Name>(name: N, asked: ChangeQuestions[N]['asked']): Promise<ChangeQuestions[N]['answer'] | null> {
    if (!this.#thread.isThere || !mayBeLarge(asked.change) || !(await this.#site.isLarge())) return null;
    const answered = (await this.#thread.ask({ name, ...asked })) as ChangeAnswer<N>;
    if (answered.waited !== null) noteWait(answered.waited);
    if ('answer' in answered) return answered.answer;
    const { code, where, retryAfter, look, number } = answered.problem;
    throw new ProblemError(code, { where, retryAfter, look, number });
  }

  stop(): Promise<void> {
    return this.#thread.stop();
  }
}
