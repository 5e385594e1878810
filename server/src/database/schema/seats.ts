import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  pgView,
  primaryKey,
  smallint,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { day, daysInOrder, history, id, moment, ref, span, stands } from './columns.ts';
import { changeLog } from './changes.ts';
import { course, courseSet } from './courses.ts';
import { paidEntry } from './entry.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

/** A licence through all its versions. */
export const licence = pgTable('licence', { id: id(), fromAt: moment().notNull().defaultNow() });

const licenceVersionColumns = {
  rowId: id(),
  licenceId: ref(() => licence.id).notNull(),
  /** Its home: only access through groups of this branch may use it. */
  groupId: ref(() => groups.id).notNull(),
  name: text().notNull(),
  seats: integer().notNull(),
  ...span,
  courseId: ref(() => course.id),
  courseSetId: ref(() => courseSet.id),
  onLeaving: text({ enum: ['comes back', 'comes back if not begun', 'stays used'] }).notNull(),
  /** Those entitled wait until a seat is given to them. */
  byHand: boolean().notNull().default(false),
  /** What a seat costs without tax, in minor units of the site's currency; null: none can be ordered. */
  price: integer(),
  /** An administrator decides about an order of a leader's before it is paid. */
  needsApproval: boolean().notNull().default(false),
  /** What a split opens asks for no seat while it runs. */
  duringSplits: boolean().notNull().default(false),
  /** So many months are added when it is renewed; null: it is not. */
  renewMonths: smallint(),
  idNumber: text(),
  /** A seat with which nothing is begun for so many days is taken back by itself; null: none is. */
  idleDays: smallint(),
  ...history,
};

export const licenceVersion = pgTable('licence_version', licenceVersionColumns, (t) => [
  uniqueIndex('licence_version_standing').on(t.licenceId).where(stands(t)),
  check('licence_seats', sql`${t.seats} >= 0`),
  check('licence_price', sql`${t.price} >= 0`),
  check('licence_idle_days', sql`${t.idleDays} between 1 and 3650`),
  check('licence_renew_months', sql`${t.renewMonths} between 1 and 120`),
  check('licence_about_one', sql`num_nonnulls(${t.courseId}, ${t.courseSetId}) = 1`),
  check('licence_on_leaving', sql`${t.onLeaving} in ('comes back', 'comes back if not begun', 'stays used')`),
  daysInOrder('licence_days', t),
]);
export const licenceNow = pgView('licence_now', licenceVersionColumns).existing();

export const seatLimit = pgTable(
  'seat_limit',
  {
    rowId: id(),
    licenceId: ref(() => licence.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    most: integer().notNull(),
    ...history,
  },
  (t) => [uniqueIndex('seat_limit_standing').on(t.licenceId, t.groupId).where(stands(t)), check('seat_limit_most', sql`${t.most} >= 0`)],
);

export const seat = pgTable(
  'seat',
  {
    rowId: id(),
    licenceId: ref(() => licence.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** The group of the membership it is charged to. */
    groupId: ref(() => groups.id).notNull(),
    /** When they got it, however often it was charged elsewhere since. */
    gotAt: moment().notNull(),
    /** The change that brought it; null: the day's turn did. */
    changeId: ref(() => changeLog.id),
    ...history,
  },
  (t) => [
    index('seat_of_person').on(t.personId),
    uniqueIndex('seat_standing').on(t.licenceId, t.personId).where(stands(t)),
    index('seat_group').on(t.groupId).where(stands(t)),
    index('seat_of_change').on(t.changeId),
  ],
);

/** A seat that nobody else gets while somebody pays to come in; charged to a group that they come into. */
export const heldSeat = pgTable(
  'held_seat',
  {
    entryId: uuid()
      .notNull()
      .references(() => paidEntry.id),
    licenceId: ref(() => licence.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.entryId, t.licenceId] })],
);

/** What was decided about one person’s seat of a licence by hand. */
export const seatWord = pgTable(
  'seat_word',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    licenceId: ref(() => licence.id).notNull(),
    word: text({ enum: ['given', 'taken back', 'gave up'] }).notNull(),
    /** null: the licence itself, of a seat that lay idle. */
    madeBy: ref(() => person.id),
    ...history,
  },
  (t) => [
    uniqueIndex('seat_word_standing').on(t.personId, t.licenceId).where(stands(t)),
    index('seat_word_person').on(t.personId),
    index('seat_word_licence').on(t.licenceId),
    index('seat_word_made_by').on(t.madeBy),
    check('seat_word_word', sql`${t.word} in ('given', 'taken back', 'gave up')`),
    check('seat_word_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

export const seatLine = pgTable(
  'seat_line',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    since: moment().notNull(),
    fileRow: integer(),
    /** Served in this order; a leader can let others of their branch go first. */
    place: bigint({ mode: 'number' }).notNull(),
    /** One of the next to be served; they are told once. */
    isNear: boolean().notNull().default(false),
    ...history,
  },
  (t) => [
    index('seat_line_of_person').on(t.personId),
    uniqueIndex('seat_line_standing').on(t.personId, t.courseId).where(stands(t)),
    uniqueIndex('seat_line_place').on(t.courseId, t.place).where(stands(t)),
  ],
);

/** What people are still to be told of their seats by letter. */
export const seatNews = pgTable(
  'seat_news',
  {
    id: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    what: text({ enum: ['got', 'lost', 'near'] }).notNull(),
    at: moment().notNull().defaultNow(),
  },
  (t) => [index('seat_news_of').on(t.personId), check('seat_news_what', sql`${t.what} in ('got', 'lost', 'near')`)],
);

/** That a licence ends was acted on: it was renewed, or those who may order were told. */
export const licenceTold = pgTable(
  'licence_told',
  { licenceId: ref(() => licence.id).notNull(), lastDay: day().notNull(), toldAt: moment().notNull().defaultNow() },
  (t) => [primaryKey({ columns: [t.licenceId, t.lastDay] })],
);

/** How invoices are made: in whose name, in which currency (ISO 4217), with which tax (in hundredths of a percent). */
export const billing = pgTable(
  'billing',
  {
    onlyOne: boolean().primaryKey().default(true),
    currency: text().notNull(),
    vatRate: integer().notNull(),
    sellerName: text().notNull(),
    sellerAddress: text().notNull(),
    vatNumber: text().notNull(),
    foot: text().notNull(),
  },
  (t) => [check('billing_only_one', sql`${t.onlyOne}`), check('billing_vat', sql`${t.vatRate} between 0 and 10000`)],
);

/** An order of more seats, or of more months, at the price as it then was. Its state is that of its last step. */
export const seatOrder = pgTable(
  'seat_order',
  {
    id: id(),
    licenceId: ref(() => licence.id).notNull(),
    /** For whom: limits on the way down to it rise with what is bought. */
    groupId: ref(() => groups.id).notNull(),
    what: text({ enum: ['seats', 'months'] }).notNull(),
    seats: integer().notNull(),
    months: smallint().notNull(),
    /** null: it orders itself, as a licence that renews does. */
    orderedBy: ref(() => person.id),
    asking: text(),
    price: integer().notNull(),
    vatRate: integer().notNull(),
    currency: text().notNull(),
    net: bigint({ mode: 'number' }).notNull(),
    vat: bigint({ mode: 'number' }).notNull(),
    state: text({ enum: ['asked', 'approved', 'paying', 'paid', 'refused', 'given up'] }).notNull(),
    askedAt: moment().notNull(),
  },
  (t) => [
    index('seat_order_licence').on(t.licenceId),
    index('seat_order_group').on(t.groupId, t.id),
    index('seat_order_ordered_by').on(t.orderedBy),
    check('seat_order_what', sql`${t.what} in ('seats', 'months')`),
    check('seat_order_state', sql`${t.state} in ('asked', 'approved', 'paying', 'paid', 'refused', 'given up')`),
    check('seat_order_amounts', sql`${t.seats} > 0 and ${t.months} >= 0 and ${t.net} >= 0 and ${t.vat} >= 0`),
  ],
);

/** What became of an order, and when. */
export const orderStep = pgTable(
  'order_step',
  {
    id: id(),
    orderId: ref(() => seatOrder.id).notNull(),
    state: text({ enum: ['asked', 'approved', 'paying', 'paid', 'refused', 'given up'] }).notNull(),
    at: moment().notNull(),
    /** null: the payment service, or by itself. */
    byId: ref(() => person.id),
    word: text(),
  },
  (t) => [index('order_step_of').on(t.orderId), index('order_step_by').on(t.byId)],
);

/** One try at paying an order of seats, or a way in. The service knows it by this number. */
export const payment = pgTable(
  'payment',
  {
    id: uuid().primaryKey(),
    orderId: ref(() => seatOrder.id),
    entryId: uuid().references(() => paidEntry.id),
    amount: bigint({ mode: 'number' }).notNull(),
    currency: text().notNull(),
    state: text({ enum: ['begun', 'paid', 'refused', 'refunded'] }).notNull(),
    /** The service's page for it. */
    page: text(),
    /** By which the service lets the same payer be asked again; it holds nothing of a card. */
    mandate: text(),
    begunAt: moment().notNull(),
  },
  (t) => [
    index('payment_of_order').on(t.orderId),
    index('payment_of_entry').on(t.entryId),
    check('payment_of_one', sql`num_nonnulls(${t.orderId}, ${t.entryId}) = 1`),
  ],
);

/** Everything the service said, by its own number, and what that did. */
export const paymentAnswer = pgTable(
  'payment_answer',
  {
    id: uuid().primaryKey(),
    paymentId: uuid()
      .notNull()
      .references(() => payment.id),
    outcome: text().notNull(),
    amount: bigint({ mode: 'number' }).notNull(),
    currency: text().notNull(),
    receivedAt: moment().notNull(),
    did: text({ enum: ['ignore', 'wrong', 'paid', 'refuse', 'refund'] }).notNull(),
  },
  (t) => [index('payment_answer_of').on(t.paymentId)],
);

/** Money that goes back; sent to the service until it has taken it. */
export const refund = pgTable(
  'refund',
  {
    id: uuid().primaryKey(),
    paymentId: uuid()
      .notNull()
      .references(() => payment.id),
    amount: bigint({ mode: 'number' }).notNull(),
    madeAt: moment().notNull(),
    takenAt: moment(),
  },
  (t) => [
    index('refund_of').on(t.paymentId),
    index('refund_waiting')
      .on(t.madeAt)
      .where(sql`${t.takenAt} is null`),
  ],
);

/** Invoices and credit notes, numbered in one row without gaps. */
export const invoice = pgTable(
  'invoice',
  {
    number: integer().primaryKey(),
    orderId: ref(() => seatOrder.id),
    entryId: uuid().references(() => paidEntry.id),
    /** A credit note takes back some of what an invoice names. */
    credits: integer(),
    madeAt: moment().notNull(),
    seats: integer().notNull(),
    net: bigint({ mode: 'number' }).notNull(),
    vat: bigint({ mode: 'number' }).notNull(),
    /** The seller as it then was. */
    seller: jsonb().notNull(),
    word: text(),
  },
  (t) => [
    index('invoice_of_order').on(t.orderId),
    index('invoice_of_entry').on(t.entryId),
    check('invoice_of_one', sql`num_nonnulls(${t.orderId}, ${t.entryId}) = 1`),
  ],
);
