import { planSendMessage, planWithdrawMessage } from './send-message.ts';
import { planSetReminder } from './set-reminder.ts';
import { planShowMembers } from './show-members.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const messagesChanges = {
  'send-message': { power: 'writeMessages', plan: planSendMessage },
  'set-reminder': { power: 'writeMessages', plan: planSetReminder },
  'show-members': { power: 'writeMessages', plan: planShowMembers },
  'withdraw-message': { power: 'writeMessages', plan: planWithdrawMessage },
} satisfies Partial<ChangeModules>;
