/** How far an order of seats is. */
export const orderStates = ['asked', 'approved', 'paying', 'paid', 'refused', 'given up'] as const;
export type OrderState = (typeof orderStates)[number];

/** What can happen to an order: somebody decides or pays, or the payment service answers. */
export const orderEvents = ['approve', 'decline', 'pay', 'answer paid', 'answer refused', 'give up'] as const;
export type OrderEvent = (typeof orderEvents)[number];

/** `declined` is an administrator's no; a payment that is refused may be tried again. */
const steps: Record<OrderState, Partial<Record<OrderEvent, OrderState>>> = {
  asked: { approve: 'approved', decline: 'refused', 'give up': 'given up' },
  approved: { pay: 'paying', 'give up': 'given up' },
  paying: { pay: 'paying', 'answer paid': 'paid', 'answer refused': 'approved', 'give up': 'given up' },
  paid: {},
  refused: {},
  'given up': {},
};

/** @returns The state after an event; null: it does not take place in this state. */
export const stepOrder = (state: OrderState, event: OrderEvent): OrderState | null => steps[state][event] ?? null;

/** An order that nothing can happen to any more. */
export const isOrderOver = (state: OrderState): boolean => Object.keys(steps[state]).length === 0;

/** What is asked to be paid. Money is integer minor units of its currency (ISO 4217). */
export interface Payable {
  amount: number;
  currency: string;
}

/** What the payment service says about one payment. */
export interface PaymentAnswer extends Payable {
  outcome: 'paid' | 'refused';
}

/** How far a payment is: one try at paying an order. */
export const paymentStates = ['begun', 'paid', 'refused', 'refunded'] as const;
export type PaymentState = (typeof paymentStates)[number];

/**
 * What an answer to a payment does, whatever came before and however often it comes.
 * - `ignore`: nothing; it says again what is known, or comes after the end.
 * - `wrong`: it speaks of another amount or currency, and nothing is believed of it.
 * - `paid`: the seats begin.
 * - `refuse`: the payment is over, the order can be paid again.
 * - `refund`: the money came after the order was over or paid otherwise, and goes back.
 */
export type AnswerStep = 'ignore' | 'wrong' | 'paid' | 'refuse' | 'refund';

/** @example A second `paid` for the same payment is ignored; `paid` after the order was given up is refunded. */
export function stepPayment(payment: Payable & { state: PaymentState }, order: OrderState, answer: PaymentAnswer): AnswerStep {
  if (answer.amount !== payment.amount || answer.currency !== payment.currency) return 'wrong';
  if (answer.outcome === 'refused') return payment.state === 'begun' ? 'refuse' : 'ignore';
  // A refusal may be followed by a late yes: the money did arrive.
  if (payment.state === 'paid' || payment.state === 'refunded') return 'ignore';
  return order === 'paying' || order === 'approved' ? 'paid' : 'refund';
}

/** What seats cost: without tax, the tax, and both together, in minor units. */
export interface Price {
  net: number;
  vat: number;
  total: number;
}

/**
 * @param vatRate In hundredths of a percent.
 * @example 3 seats at 1,250 with 20 % (2000): 3,750 and 750, together 4,500. Half a unit is rounded up.
 */
export function priceOfSeats(seats: number, perSeat: number, vatRate: number): Price {
  const net = seats * perSeat;
  const vat = Math.floor((net * vatRate + 5000) / 10_000);
  return { net, vat, total: net + vat };
}

/**
 * An amount in minor units as people write it.
 * @example showMoney(125_000, 'EUR') // '€1,250.00'
 */
export function showMoney(amount: number, currency: string): string {
  return new Intl.NumberFormat('en', { style: 'currency', currency }).format(amount / 10 ** minorDigits(currency));
}

/** How many digits of an amount in this currency are its minor unit. */
export const minorDigits = (currency: string): number =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
