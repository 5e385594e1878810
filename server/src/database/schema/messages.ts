import { sql } from 'drizzle-orm';
import { bigint, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { citext, history, id, moment, ref, stands } from './columns.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

/** Letters on their way, and those that went. */
export const letter = pgTable(
  'letter',
  {
    id: id(),
    personId: ref(() => person.id),
    invitationId: bigint({ mode: 'number' }),
    /** Which of the application's own letters it is. */
    kind: text().notNull().default('invitation'),
    address: citext().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    madeAt: moment().notNull().defaultNow(),
    sendAt: moment().notNull().defaultNow(),
    state: text({ enum: ['waiting', 'sent', 'bounced'] })
      .notNull()
      .default('waiting'),
    tries: integer().notNull().default(0),
    /** Until then one process has it in hand. */
    leasedUntil: moment(),
    sentAt: moment(),
    /** What the mail server said when it refused. */
    trouble: text(),
  },
  (t) => [
    index('letter_person').on(t.personId),
    index('letter_address').on(t.address, t.madeAt),
    index('letter_invitation').on(t.invitationId),
    index('letter_waiting')
      .on(t.sendAt)
      .where(sql`${t.state} = 'waiting'`),
    check('letter_state', sql`${t.state} in ('waiting', 'sent', 'bounced')`),
  ],
);

/** A branch's own text for a kind of letter; the nearest one up from a group counts. */
export const letterTemplate = pgTable(
  'letter_template',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    kind: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    ...history,
  },
  (t) => [uniqueIndex('letter_template_standing').on(t.groupId, t.kind).where(stands(t))],
);

/** What the simulated mail server received; it belongs to the stand-in, not to the application. */
export const receivedMail = pgTable('received_mail', {
  id: id(),
  recipient: citext().notNull(),
  subject: text().notNull(),
  plain: text().notNull(),
  html: text().notNull(),
  receivedAt: moment().notNull().defaultNow(),
});
