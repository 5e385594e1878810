import { planBringInRoster } from './bring-in-roster.ts';
import { planMakeCode, planEditCode, planDeleteCode } from './change-codes.ts';
import { planTakeBackInvitation, planInvitePeople, planSendInvitationsAgain } from './change-invitations.ts';
import { planDecideRequests } from './decide-requests.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const entryChanges = {
  'bring-in-roster': { power: 'managePeople', plan: planBringInRoster },
  'take-back-invitation': { power: 'managePeople', plan: planTakeBackInvitation },
  'invite-people': { power: 'managePeople', plan: planInvitePeople },
  'send-invitations-again': { power: 'managePeople', plan: planSendInvitationsAgain },
  'make-code': { power: 'managePeople', plan: planMakeCode },
  'edit-code': { power: 'managePeople', plan: planEditCode },
  'delete-code': { power: 'managePeople', plan: planDeleteCode },
  'decide-requests': { power: 'decideEntry', plan: planDecideRequests },
} satisfies Partial<ChangeModules>;
