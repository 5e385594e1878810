import fc from 'fast-check';
import {
  isOrderOver,
  orderEvents,
  orderStates,
  type OrderState,
  priceOfSeats,
  type PaymentState,
  stepOrder,
  stepPayment,
} from './order.ts';

test('An order is asked for, approved, paid; an end is an end', () => {
  const walk = (from: OrderState, ...events: Parameters<typeof stepOrder>[1][]): OrderState | null =>
    events.reduce<OrderState | null>((state, event) => state && stepOrder(state, event), from);
  expect(walk('asked', 'approve', 'pay', 'answer refused', 'pay', 'answer paid')).toBe('paid');
  expect(walk('asked', 'pay')).toBeNull();
  expect(walk('asked', 'decline')).toBe('refused');
  expect(walk('approved', 'pay', 'give up', 'answer paid')).toBeNull();
  expect(orderStates.filter(isOrderOver)).toEqual(['paid', 'refused', 'given up']);
  for (const state of orderStates)
    if (isOrderOver(state)) expect(orderEvents.every((event) => stepOrder(state, event) === null)).toBe(true);
});

/**
 * The same story told slowly: a purse of what came in and what went back. Whatever answers arrive in whatever order to however many
 * tries, seats begin at most once, and the money kept is the price of an order that is paid and nothing else.
 */
test('Whatever arrives how often, seats begin once and money that bought nothing goes back', () => {
  const amount = 4500;
  const step = fc.oneof(
    fc.constant({ does: 'pay' as const }),
    fc.constant({ does: 'give up' as const }),
    fc.record({
      does: fc.constant('answer' as const),
      which: fc.nat(3),
      outcome: fc.constantFrom('paid' as const, 'refused' as const),
      amount: fc.constantFrom(amount, amount, amount, amount - 1),
    }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 20 }), (story) => {
      let order: OrderState = 'approved';
      let begun = 0;
      let wrongBelieved = 0;
      const payments: { state: PaymentState; said: Set<string> }[] = [];
      for (const each of story) {
        if (each.does === 'pay') {
          const next = stepOrder(order, 'pay');
          if (next) payments.push({ state: 'begun', said: new Set() });
          order = next ?? order;
        } else if (each.does === 'give up') order = stepOrder(order, 'give up') ?? order;
        else {
          const payment = payments[each.which];
          if (!payment) continue;
          const does = stepPayment({ amount, currency: 'EUR', state: payment.state }, order, {
            amount: each.amount,
            currency: 'EUR',
            outcome: each.outcome,
          });
          if (each.amount !== amount) wrongBelieved += does === 'wrong' ? 0 : 1;
          else payment.said.add(each.outcome);
          if (does === 'paid') {
            begun++;
            payment.state = 'paid';
            order = 'paid';
          }
          if (does === 'refund') payment.state = 'refunded';
          if (does === 'refuse') {
            payment.state = 'refused';
            if (!payments.some(({ state }) => state === 'begun')) order = stepOrder(order, 'answer refused') ?? order;
          }
        }
      }
      const came = payments.filter(({ said }) => said.has('paid')).length;
      const kept = payments.filter(({ state }) => state === 'paid').length;
      const back = payments.filter(({ state }) => state === 'refunded').length;
      expect(wrongBelieved).toBe(0);
      expect(kept + back).toBe(came);
      expect(kept).toBe(begun);
      expect(begun).toBe(order === 'paid' ? 1 : 0);
    }),
  );
});

test('Tax is rounded once, half a unit up, and no unit is lost', () => {
  expect(priceOfSeats(3, 1250, 2000)).toEqual({ net: 3750, vat: 750, total: 4500 });
  expect(priceOfSeats(1, 250, 190)).toEqual({ net: 250, vat: 5, total: 255 });
  expect(priceOfSeats(0, 1250, 2000)).toEqual({ net: 0, vat: 0, total: 0 });
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 100_000 }),
      fc.integer({ min: 0, max: 1_000_000 }),
      fc.integer({ min: 0, max: 10_000 }),
      (seats, each, rate) => {
        const { net, vat, total } = priceOfSeats(seats, each, rate);
        const exact = BigInt(seats) * BigInt(each) * BigInt(rate);
        expect(BigInt(vat)).toBe((exact + 5000n) / 10_000n);
        expect(total).toBe(net + vat);
      },
    ),
  );
});
