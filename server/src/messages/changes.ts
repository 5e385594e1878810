import { planSendMessage, planWithdrawMessage } from './send-message.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const messagesChanges = {
  'send-message': { power: 'writeMessages', plan: planSendMessage },
  'withdraw-message': { power: 'writeMessages', plan: planWithdrawMessage },
} satisfies Partial<ChangeModules>;
