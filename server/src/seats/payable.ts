import type { OrderState } from '@gate-roster/core';

/** What a payment pays for, as far as an answer of the service is concerned. The caller holds the roster lock alone, and its row. */
export interface Payable {
  state: OrderState;
  /** Is what was bought still there to be had? */
  canTakeEffect: () => Promise<boolean>;
  paid: () => Promise<void>;
  refused: () => Promise<void>;
  /** The money goes back. */
  refunded: () => Promise<void>;
}
