import { orderStates, paymentStates } from '@gate-roster/core';
import { z } from 'zod';
import { mostOrderedSeats } from './orders.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, numberInAddress } from './shapes.ts';

const money = z.number().int();
const state = z.enum(orderStates);

/** What an order costs or gave back, and how far it is. */
const seatOrder = z.object({
  id,
  licence: named,
  /** For whom. */
  group: named,
  what: z.enum(['seats', 'months']),
  seats: z.number().int(),
  months: z.number().int(),
  /** null: by itself, or somebody whom the reader does not see. */
  orderedBy: z.string().nullable(),
  asking: z.string().nullable(),
  askedAt: moment,
  net: money,
  vat: money,
  total: money,
  currency: z.string(),
  state,
  /** Of the last try at paying; null: none. */
  payment: z.enum(paymentStates).nullable(),
  /** Seats that were given back since. */
  credited: z.number().int(),
  /** Numbers of its invoice and credit notes. */
  papers: z.array(z.number().int()),
  may: z.object({ pay: z.boolean(), decide: z.boolean(), giveUp: z.boolean(), credit: z.boolean() }),
});
export type SeatOrder = z.output<typeof seatOrder>;

export const billing = z.strictObject({
  currency: z.string().regex(/^[A-Z]{3}$/u),
  /** In hundredths of a percent. */
  vatRate: z.number().int().min(0).max(10_000),
  sellerName: z.string().trim().max(200),
  sellerAddress: z.string().trim().max(500),
  vatNumber: z.string().trim().max(60),
  foot: z.string().trim().max(500),
});
export type Billing = z.output<typeof billing>;

const paper = z.enum(['A4', 'Letter']).default('A4');
const orderParams = z.object({ orderId: idInPath });
export const orderLists = ['open', 'all'] as const;

/** What began, moved or ended in the use of licences, newest first. */
const ledgerLine = z.object({
  at: moment,
  licence: named,
  /** null: the licence as a whole, or a group that the reader does not see. */
  group: named.nullable(),
  /** The number that stays of a person whom nobody can name any more. */
  personId: id.nullable(),
  name: z.string().nullable(),
  what: z.enum(['seat began', 'seat ended', 'seat moved', 'seats', 'limit', 'order', 'lent']),
  /** By how much seats in use changed; for `seats` and `limit` the new number (null: no limit), for `order` how many. */
  number: z.number().int().nullable(),
  /** For `order`: what became of it; `not paid`: a payment was refused. */
  state: z.enum([...orderStates, 'not paid']).nullable(),
});
export type LedgerLine = z.output<typeof ledgerLine>;
const ledgerQuery = z.strictObject({
  licence: idInPath.optional(),
  personId: idInPath.optional(),
  firstDay: day.optional(),
  lastDay: day.optional(),
});

export const orderRoutes = defineRoutes({
  orders: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/orders',
    room: 'seats',
    who: 'leader',
    summary: 'Orders of seats for the branch, newest first, and what can be ordered',
    params: groupParams,
    query: z.strictObject({ list: z.enum(orderLists).default('open'), after: idInPath.optional() }),
    response: z.object({ orders: z.array(seatOrder), next: id.nullable(), mayOrder: z.boolean() }),
  },
  ordersFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/orders.csv',
    room: 'seats',
    who: 'leader',
    summary: 'All orders of the branch as a CSV file',
    params: groupParams,
    response: 'csv',
  },
  orderPrice: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/orders/price',
    room: 'seats',
    who: 'leader',
    summary: 'What so many seats of a licence cost now, and how many in line would get one when they are paid',
    params: groupParams,
    query: z.strictObject({ licence: idInPath, seats: numberInAddress(1, mostOrderedSeats) }),
    response: z.object({
      net: money,
      vat: money,
      total: money,
      currency: z.string(),
      vatRate: z.number().int(),
      needsApproval: z.boolean(),
      served: z.number().int(),
    }),
  },
  payOrder: {
    method: 'POST',
    path: '/api/v1/orders/:orderId/payment',
    room: 'seats',
    who: 'leader',
    summary: 'Begin to pay: answers with the page of the payment service',
    params: orderParams,
    body: z.strictObject({ requestId: z.uuid() }),
    response: z.object({ page: z.url() }),
  },
  orderPaper: {
    method: 'GET',
    path: '/api/v1/orders/:orderId/papers/:number',
    room: 'seats',
    who: 'leader',
    summary: 'An invoice or credit note as PDF',
    params: orderParams.extend({ number: idInPath }),
    query: z.strictObject({ paper }),
    response: 'file',
  },
  paymentAnswer: {
    method: 'POST',
    path: '/api/v1/source/payments',
    room: 'seats',
    who: 'source',
    summary: 'What the payment service says about a payment; each answer counts once',
    body: z.strictObject({
      id: z.uuid(),
      payment: z.uuid(),
      outcome: z.enum(['paid', 'refused']),
      amount: money,
      currency: z.string().max(10),
      mandate: z.string().max(500).nullable(),
    }),
    response: 'nothing',
  },
  ledger: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/ledger',
    room: 'seats',
    who: 'leader',
    summary: 'Everything that altered seats in the branch, newest first, and whether it adds up to what is in use',
    params: groupParams,
    query: ledgerQuery.extend({ after: z.string().max(60).optional() }),
    response: z.object({
      lines: z.array(ledgerLine),
      next: z.string().nullable(),
      /** By the ledger, and counted. */
      inUse: z.object({ byLedger: z.number().int(), counted: z.number().int() }),
    }),
  },
  ledgerFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/ledger.csv',
    room: 'seats',
    who: 'leader',
    summary: 'The ledger as a CSV file',
    params: groupParams,
    query: ledgerQuery,
    response: 'csv',
  },
  ledgerJson: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/ledger.json',
    room: 'seats',
    who: 'leader',
    summary: 'The ledger as JSON, all lines',
    params: groupParams,
    query: ledgerQuery,
    response: z.object({ lines: z.array(ledgerLine) }),
  },
  billing: {
    method: 'GET',
    path: '/api/v1/billing',
    room: 'seats',
    who: 'administrator',
    summary: 'How invoices are made',
    response: billing,
  },
  editBilling: {
    method: 'PUT',
    path: '/api/v1/billing',
    room: 'seats',
    who: 'administrator',
    summary: 'Change how invoices are made; orders keep the price and currency they were asked at',
    body: billing,
    response: 'nothing',
  },
});
