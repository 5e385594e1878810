import type { GroupId } from '../groups/tree.ts';
import type { Power } from './powers.ts';

/** Who acts: what they hold on the platform and in which branches. */
export interface Actor {
  personId: number;
  role: 'administrator' | 'none';
  leaderships: readonly { groupId: GroupId; powers: readonly Power[] }[];
}

/** What is acted on: the groups from the root down to the one concerned. */
export type Target = { path: readonly GroupId[] };

/**
 * The one decision about authority. An administrator may do everything everywhere;
 * a leader what their powers say, in the branches they lead; everybody else nothing of it.
 */
export function may(actor: Actor, act: Power | 'see' | 'administer', target: Target): boolean {
  if (actor.role === 'administrator') return true;
  if (act === 'administer') return false;
  return actor.leaderships.some((held) => target.path.includes(held.groupId) && (act === 'see' || held.powers.includes(act)));
}

/** The tops of the branches in which the actor holds a power; null means everywhere. */
export function branchesWith(actor: Actor, act: Power | 'see'): GroupId[] | null {
  if (actor.role === 'administrator') return null;
  return actor.leaderships.filter((held) => act === 'see' || held.powers.includes(act)).map((held) => held.groupId);
}

/** The branch in whose name a leader speaks about a group: the nearest one that gives the power. */
export function speakingBranch(actor: Actor, act: Power, target: Target): GroupId | null {
  if (actor.role === 'administrator') return null;
  const branches = branchesWith(actor, act) ?? [];
  return target.path.findLast((step) => branches.includes(step)) ?? null;
}
