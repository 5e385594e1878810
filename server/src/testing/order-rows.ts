import { randomUUID } from 'node:crypto';
import { type Expected, type Ids, inBranch, is } from './looks-of-everybody.ts';
import { gullhaven } from './outside-changes.ts';

const inScope = () => ({ params: { groupId: gullhaven } });
/** Seats are ordered and handed out by who holds the powers: the head, not the helper or the auditor. */
const byOrderers = { ...inBranch, helper: 404, auditor: 404 };
const byAdministrators = (done: number) => is(done, 404, 404, 404, 404, 401);
const ofOrder = (orderId: number | undefined) => ({ params: { orderId } });
const answer = { id: randomUUID(), payment: randomUUID(), outcome: 'paid', amount: 1, currency: 'EUR', mandate: null };

/** Routes of orders, payments and the ledger as everybody. `order`: one of Partner crews. */
export const orderRows = {
  seatStory: [{ given: () => ({ params: { groupId: 38, licenceId: 1 } }), expected: byAdministrators(200) }],
  orders: [{ given: inScope, expected: byOrderers }],
  ordersFile: [{ given: inScope, expected: byOrderers }],
  orderPrice: [{ given: () => ({ params: { groupId: 38 }, query: { licence: 1, seats: 2 } }), expected: byAdministrators(200) }],
  payOrder: [
    {
      given: ({ order }) => ({ ...ofOrder(order), body: { requestId: randomUUID() } }),
      expected: byAdministrators(409),
    },
  ],
  orderPaper: [{ given: ({ order }) => ({ params: { orderId: order, number: 1 } }), expected: byAdministrators(200) }],
  paymentAnswer: [{ given: () => ({ body: answer }), expected: is(401, 401, 401, 401, 401, 401) }],
  ledger: [{ given: inScope, expected: byOrderers }],
  ledgerFile: [{ given: inScope, expected: byOrderers }],
  ledgerJson: [{ given: inScope, expected: byOrderers }],
  // Nobody of the demo world is about to pay in this browser.
  payingEntry: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  payEntry: [{ given: () => ({ body: { requestId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 404) }],
  giveUpEntry: [{ given: () => ({}), expected: is(404, 404, 404, 404, 404, 404) }],
  receipt: [{ given: () => ({ params: { number: 1 } }), expected: is(404, 404, 404, 404, 404, 401) }],
  billing: [{ given: () => ({}), expected: byAdministrators(200) }],
  editBilling: [
    {
      given: () => ({ body: { currency: 'EUR', vatRate: 2000, sellerName: 'Mine', sellerAddress: '', vatNumber: '', foot: '' } }),
      expected: byAdministrators(204),
    },
  ],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
