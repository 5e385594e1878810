import { planCreditOrder, planDecideOrder, planGiveUpOrder, planOrderRenewal, planOrderSeats } from './change-orders.ts';
import { planArrangeLine } from './arrange-line.ts';
import { planGiveSeats, planGiveUpPlaces, planTakeBackSeats } from './hand-out-seats.ts';
import { planMoveSeats } from './move-seats.ts';
import { planMakeLicence, planEditLicence, planLimitSeats } from './change-licences.ts';
import type { ChangeModules } from '../changes/plan.ts';

/** Kinds of change of this room. */
export const seatsChanges = {
  'make-licence': { power: null, plan: planMakeLicence },
  'edit-licence': { power: null, plan: planEditLicence },
  'limit-seats': { power: 'handOutSeats', plan: planLimitSeats },
  'take-back-seats': { power: 'handOutSeats', plan: planTakeBackSeats },
  'order-seats': { power: 'orderSeats', plan: planOrderSeats },
  'order-renewal': { power: 'orderSeats', plan: planOrderRenewal },
  'decide-order': { power: null, plan: planDecideOrder },
  'give-up-order': { power: 'orderSeats', plan: planGiveUpOrder },
  'credit-order': { power: null, plan: planCreditOrder },
  'arrange-line': { power: 'handOutSeats', plan: planArrangeLine },
  'give-up-places': { power: 'handOutSeats', plan: planGiveUpPlaces },
  'move-seats': { power: 'handOutSeats', plan: planMoveSeats },
  'give-seats': { power: 'handOutSeats', plan: planGiveSeats },
} satisfies Partial<ChangeModules>;
