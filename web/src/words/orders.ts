import type { Billing, LedgerLine, SeatOrder } from '@gate-roster/contract';
import { showMoney } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

const states: Record<SeatOrder['state'], string> = {
  asked: 'Waits for a decision',
  approved: 'To be paid',
  paying: 'Waits for the payment',
  paid: 'Paid',
  refused: 'Refused',
  'given up': 'Given up',
};

export const orders = {
  views: { licences: 'Licences', orders: 'Orders', ledger: 'Ledger' },
  viewsLabel: 'Views of seats',
  title: 'Orders',
  what: ({ what, seats, months }: Pick<SeatOrder, 'what' | 'seats' | 'months'>) =>
    what === 'seats' ? some(seats, 'seat', 'seats') : `${some(seats, 'seat', 'seats')} for ${months} more months`,
  order: 'Order seats',
  renew: 'Renew',
  orderTitle: (licence: string) => `Order seats: ${licence}`,
  renewTitle: (licence: string) => `Renew: ${licence}`,
  renewWhat: (seats: number, months: number, until: string) =>
    `${some(seats, 'seat', 'seats')} for ${months} more months from ${showDay(until)} on.`,
  howMany: 'How many more',
  word: 'Note',
  wordHint: 'Read by who decides, and printed nowhere.',
  forGroup: (group: string) => `For ${group}. Limits on the way down to it rise by as many.`,
  price: (net: string, vat: string, total: string) => `${net} and ${vat} VAT: ${total}.`,
  served: (count: number) =>
    count === 0 ? '' : `${some(count, 'person in line gets a seat', 'people in line get a seat')} when it is paid.`,
  decidedFirst: 'An administrator decides before it is paid.',
  ordered: 'Ordered. Pay it under Orders.',
  asked: 'Asked for. An administrator decides.',
  lists: { open: 'Open', all: 'All' },
  none: { open: 'No order waits for anything.', all: 'No seats were ordered here.' },
  head: { what: 'Order', licence: 'Licence', group: 'For', by: 'Asked', total: 'Total', state: 'State' },
  state: ({ state, payment }: Pick<SeatOrder, 'state' | 'payment'>) =>
    state === 'approved' && payment === 'refused'
      ? 'The payment was refused'
      : state === 'given up' && payment === 'refunded'
        ? 'Given up, money sent back'
        : states[state],
  by: (name: string | null, day: string) => (name === null ? showDay(day) : `${showDay(day)}, ${name}`),
  credited: (count: number) => `${some(count, 'seat', 'seats')} credited`,
  pay: 'Pay',
  payAgain: 'Pay again',
  approve: 'Approve',
  refuse: 'Refuse',
  giveUp: 'Give up',
  credit: 'Credit…',
  creditTitle: (id: number) => `Credit seats of order ${id}`,
  creditHint: 'Only seats that nobody uses. The money goes back, and there is a credit note.',
  creditSeats: 'Seats to take back',
  approveTitle: (id: number) => `Approve order ${id}`,
  refuseTitle: (id: number) => `Refuse order ${id}`,
  giveUpTitle: (id: number) => `Give up order ${id}`,
  giveUpHint: 'If the money still arrives, it goes back by itself.',
  done: { approve: 'Approved.', refuse: 'Refused.', 'give up': 'Given up.', credit: 'Credited.' },
  paper: (number: number, isFirst: boolean) => (isFirst ? `Invoice ${number}` : `Credit note ${number}`),
  takeAway: 'Take away',
  asCsv: 'As CSV',
  asJson: 'As JSON',
  priceOf: (price: number | null, currency: string) => (price === null ? '' : `${showMoney(price, currency)} a seat.`),
};

const became: Record<NonNullable<LedgerLine['state']>, string> = {
  'not paid': 'payment refused',
  asked: 'asked for',
  approved: 'approved',
  paying: 'payment begun',
  paid: 'paid',
  refused: 'refused',
  'given up': 'given up',
};

export const ledger = {
  title: 'Ledger',
  what: 'Everything that altered seats here, newest first. Lines are added and never changed.',
  addsUp: (count: number) => `Adds up: ${some(count, 'seat', 'seats')} in use.`,
  doesNot: (byLedger: number, counted: number) =>
    `Does not add up: ${showNumber(byLedger)} by the ledger, ${showNumber(counted)} counted. Tell an administrator.`,
  head: { at: 'When', what: 'What', by: 'Change', group: 'Group', licence: 'Licence' },
  licence: 'Licence',
  allLicences: 'All licences',
  from: 'From',
  until: 'Until',
  none: 'Nothing altered seats in these days.',
  line: ({ what, number, name, personId, state }: LedgerLine): string => {
    const who = name ?? (personId === null ? '' : `person ${personId}`);
    switch (what) {
      case 'seat began':
        return `${who} got a seat`;
      case 'seat ended':
        return `${who} gave a seat back`;
      case 'seat moved':
        return number === 1 ? `${who}’s seat came here` : `${who}’s seat went to another group`;
      case 'seats':
        return `The licence has ${some(number ?? 0, 'seat', 'seats')}`;
      case 'limit':
        return number === null ? 'The limit was taken away' : `Limited to ${some(number, 'seat', 'seats')}`;
      case 'lent':
        return `${who} used it without a seat, during a split`;
      case 'order':
        return `Order of ${some(number ?? 0, 'seat', 'seats')}: ${state === null ? '' : became[state]}`;
    }
  },
  by: ({ what, number }: LedgerLine): string => (what.startsWith('seat ') ? (number === 1 ? '+1' : '−1') : ''),
};

export const billing = {
  title: 'Invoices',
  currency: 'Currency',
  currencyHint: 'Three letters, as EUR. Orders keep the currency they were asked in.',
  vat: 'VAT in percent',
  sellerName: 'Name on invoices',
  sellerAddress: 'Address on invoices',
  vatNumber: 'VAT number',
  foot: 'Words at the foot',
  save: 'Save how invoices are made',
  saved: 'Saved.',
  wrong: 'The currency needs three capital letters, and VAT lies between 0 and 100 percent.',
  percent: ({ vatRate }: Billing) => vatRate / 100,
};

interface Told {
  fields: readonly string[];
  names: { before: string; after: string } | null;
}

/** What the log says of an order. */
export function orderSentence(kind: string, entry: Told, { where, count }: { where: string; count: (name: string) => number }): string {
  const seats = some(count('seats'), 'seat', 'seats');
  const of = `of ${entry.names?.after ?? ''} for ${where}`;
  switch (kind) {
    case 'order-seats':
      return `Ordered ${seats} ${of}.`;
    case 'order-renewal':
      return `Ordered the renewal ${of}: ${seats}.`;
    case 'decide-order':
      return `${entry.fields[0] === 'approved' ? 'Approved' : 'Refused'} an order of ${seats} ${of}.`;
    case 'give-up-order':
      return `Gave up an order of ${seats} ${of}.`;
    case 'credit-order':
      return `Credited ${seats} ${of}.`;
    default:
      return count('months') > 0 ? `Renewed ${seats} ${of} by ${count('months')} months, paid.` : `${seats} ${of} paid.`;
  }
}
