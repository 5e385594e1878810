import { letterHtml } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { createTransport, type Transporter } from 'nodemailer';
import type SMTPPool from 'nodemailer/lib/smtp-pool/index.js';
import type { Logger } from 'pino';
import { type Database, ids, rows } from '../database/connect.ts';
import { answerBell } from '../jobs/bell.ts';
import { announce } from '../live/announce.ts';

const atOnce = 20;
const mostTries = 6;
/** Longer than sending so many takes with every time limit used up. */
const leaseSeconds = 120;
const limits = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 20_000, maxConnections: 4 };

/** Takes letters from the outbox to a mail server. Any number of processes may; each letter is in one pair of hands. */
export function startPost(
  db: Database,
  { databaseUrl, smtpUrl, sender, log }: { databaseUrl: string; smtpUrl: string; sender: string; log: Logger },
): () => Promise<void> {
  const mail = createTransport(smtpUrl, { ...limits, pool: true, from: sender } as SMTPPool.Options);
  const stop = answerBell(databaseUrl, log, async () => {
    while ((await postSome(db, mail)) === atOnce);
  });
  return async () => {
    await stop();
    mail.close();
  };
}

interface Waiting {
  id: number;
  address: string;
  subject: string;
  body: string;
  tries: number;
  invitation_id: number | null;
}

/**
 * Takes some letters in hand for a while, sends them with nothing locked, and writes what became of each. When this process dies,
 * another takes them up once the lease is over; a letter may then go out twice, with the same Message-ID.
 */
async function postSome(db: Database, mail: Transporter): Promise<number> {
  const letters = await rows<Waiting>(
    db,
    sql`
    update letter set leased_until = now() + make_interval(secs => ${leaseSeconds}::int) where id in (
      select id from letter where state = 'waiting' and send_at <= now() and coalesce(leased_until < now(), true) order by send_at, id limit ${atOnce} for update skip locked)
    returning id, address, subject, body, tries, invitation_id`,
  );
  if (letters.length === 0) return 0;
  const outcomes = await Promise.all(letters.map(async (letter) => ({ letter, trouble: await post(mail, letter) })));
  await db.transaction(async (tx) => {
    for (const { letter, trouble } of outcomes) {
      if (trouble === null)
        await tx.execute(sql`update letter set state = 'sent', sent_at = now(), trouble = null where id = ${letter.id}`);
      else if (trouble.isFinal || letter.tries + 1 >= mostTries)
        await tx.execute(sql`update letter set state = 'bounced', tries = tries + 1, trouble = ${trouble.said} where id = ${letter.id}`);
      else
        await tx.execute(
          sql`update letter set tries = tries + 1, leased_until = null, trouble = ${trouble.said}, send_at = now() + make_interval(secs => ${10 * 4 ** letter.tries}::int) where id = ${letter.id}`,
        );
    }
    const invited = letters.flatMap(({ invitation_id }) => invitation_id ?? []);
    if (invited.length > 0) {
      const groups = await rows<{ id: number }>(
        tx,
        sql`select distinct group_id as id from invitation where row_id = any(${ids(invited)})`,
      );
      await announce(tx, { topics: ['entry'], groups: groups.map(({ id }) => id) });
    }
  });
  return letters.length;
}

/** @returns Null when the server took the letter. A 5xx answer is final; all else may pass. */
async function post(mail: Transporter, { id, address, subject, body }: Waiting): Promise<{ said: string; isFinal: boolean } | null> {
  try {
    await mail.sendMail({ messageId: `<letter-${id}@gate-roster>`, to: address, subject, text: body, html: letterHtml({ subject, body }) });
    return null;
  } catch (error) {
    const { responseCode = 0, response = '' } = error as { responseCode?: number; response?: string };
    return { said: (response || String(error)).slice(0, 300), isFinal: responseCode >= 500 };
  }
}
