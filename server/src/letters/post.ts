import { letterHtml, messageLetterHtml } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { createTransport, type Transporter } from 'nodemailer';
import type SMTPPool from 'nodemailer/lib/smtp-pool/index.js';
import type { Logger } from 'pino';
import { type Database, isAmong, oneRow, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { answerBell } from '../jobs/bell.ts';
import { announce } from '../live/announce.ts';
import { writeLetters } from './write-letters.ts';

const atOnce = 20;
const mostTries = 6;
/** Longer than sending so many takes with every time limit used up. */
const leaseSeconds = 120;
const limits = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 20_000, maxConnections: 4 };

/** Takes letters from the outbox to a mail server. Any number of processes may; each letter is in one pair of hands. */
export function startPost(
  db: Database,
  {
    databaseUrl,
    smtpUrl,
    sender,
    publicUrl,
    log,
  }: { databaseUrl: string; smtpUrl: string; sender: string; publicUrl: string; log: Logger },
): () => Promise<void> {
  const mail = createTransport(smtpUrl, { ...limits, pool: true, from: sender } as SMTPPool.Options);
  const stop = answerBell(databaseUrl, log, async () => {
    while ((await postSome(db, mail, { publicUrl, sender })) === atOnce);
  });
  return async () => {
    await stop();
    mail.close();
  };
}

interface Office {
  publicUrl: string;
  /** Who letters come from, where a branch has no name of its own for it. */
  sender: string;
}

interface Waiting {
  id: number;
  kind: string;
  person_id: number | null;
  address: string;
  subject: string;
  body: string;
  tries: number;
  invitation_id: number | null;
  stop_url: string | null;
  sender_name: string | null;
  logo_id: number | null;
}

/**
 * Takes some letters in hand for a while, sends them with nothing locked, and writes what became of each. When this process dies,
 * another takes them up once the lease is over; a letter may then go out twice, with the same Message-ID.
 */
async function postSome(db: Database, mail: Transporter, { publicUrl, sender }: Office): Promise<number> {
  const letters = await rows<Waiting>(
    db,
    sql`
    update letter set leased_until = now() + make_interval(secs => ${leaseSeconds}::int) where id in (
      select id from letter where state = 'waiting' and send_at <= now() and coalesce(leased_until < now(), true) order by send_at, id limit ${atOnce} for update skip locked)
    returning id, kind, person_id, address, subject, body, tries, invitation_id, stop_url, sender_name, logo_id`,
  );
  if (letters.length === 0) return 0;
  const logos = await picturesOf(db, letters);
  const outcomes = await Promise.all(
    letters.map(async (letter) => ({ letter, trouble: await post(mail, sender, letter, logos.get(letter.logo_id ?? 0) ?? null) })),
  );
  await db.transaction(async (tx) => {
    for (const { letter, trouble } of outcomes) {
      if (trouble === null)
        await tx
          .update(tables.letter)
          .set({ state: 'sent', sentAt: sql`now()`, trouble: null })
          .where(eq(tables.letter.id, letter.id));
      else if (trouble.isFinal || letter.tries + 1 >= mostTries) {
        await tx.execute(sql`update letter set state = 'bounced', tries = tries + 1, trouble = ${trouble.said} where id = ${letter.id}`);
        await countBounce(tx, letter, publicUrl);
      } else
        await tx.execute(
          sql`update letter set tries = tries + 1, leased_until = null, trouble = ${trouble.said}, send_at = now() + make_interval(secs => ${10 * 4 ** letter.tries}::int) where id = ${letter.id}`,
        );
    }
    const arrived = outcomes.flatMap(({ letter, trouble }) => (trouble === null ? [letter.address] : []));
    await tx.execute(
      sql`delete from address_bounce where address in (select value::citext from jsonb_array_elements_text(${JSON.stringify(arrived)}::jsonb))`,
    );
    const invited = letters.flatMap(({ invitation_id }) => invitation_id ?? []);
    if (invited.length > 0) {
      const groups = await tx
        .selectDistinct({ id: tables.invitation.groupId })
        .from(tables.invitation)
        .where(isAmong(tables.invitation.rowId, invited));
      await announce(tx, { topics: ['entry'], groups: groups.map(({ id }) => id) });
    }
  });
  return letters.length;
}

/** After so many letters in a row that came back, no more about messages go to an address; those who lead the person are told. */
export const mostBounces = 3;

async function countBounce(tx: Transaction, { person_id, address }: Waiting, publicUrl: string): Promise<void> {
  const { times } = await oneRow<{ times: number }>(
    tx,
    sql`
    insert into address_bounce (address, in_a_row) values (${address}, 1)
    on conflict (address) do update set in_a_row = least(address_bounce.in_a_row + 1, 1000), last_at = now() returning in_a_row as times`,
  );
  if (times !== mostBounces || person_id === null) return;
  const leaders = await rows<{ id: number; given_name: string; email: string; group_id: number; who: string }>(
    tx,
    sql`
    select distinct on (l.person_id) l.person_id as id, n.given_name, n.confirmed_email as email, m.group_id, trim(w.given_name || ' ' || w.family_name) as who
    from membership m join group_branch b on b.group_id = m.group_id join leadership l on l.group_id = b.ancestor_id and l.until_at is null
    join personal_now n on n.person_id = l.person_id and n.confirmed_email is not null join personal_now w on w.person_id = m.person_id
    where m.person_id = ${person_id} and m.until_at is null and l.person_id <> m.person_id
      and b.depth = (select min(c.depth) from group_branch c join leadership k on k.group_id = c.ancestor_id and k.until_at is null where c.group_id = m.group_id) order by l.person_id, m.group_id`,
  );
  await writeLetters(
    tx,
    publicUrl,
    'address fails',
    leaders.map(({ id, given_name, email, group_id, who }) => ({
      personId: id,
      address: email,
      groupId: group_id,
      values: { name: given_name, title: who, link: `${publicUrl}/groups/${group_id}?person=${person_id}` },
    })),
  );
}

const logoCid = 'logo@gate-roster';
/** @example addressIn('Gate Roster <roster@gate-roster.example>') // 'roster@gate-roster.example' */
export const addressIn = (sender: string): string => (/<([^>]+)>/u.exec(sender)?.[1] ?? sender).trim();

interface Picture {
  type: string;
  content: Buffer;
}

async function picturesOf(db: Database, letters: readonly Waiting[]): Promise<Map<number, Picture>> {
  const wanted = new Set(letters.flatMap(({ logo_id }) => logo_id ?? []));
  if (wanted.size === 0) return new Map();
  const found = await db
    .select({ id: tables.upload.id, type: tables.upload.mimeType, content: tables.upload.content })
    .from(tables.upload)
    .where(isAmong(tables.upload.id, wanted));
  return new Map(found.map(({ id, ...picture }) => [id, picture]));
}

/** @returns Null when the server took the letter. A 5xx answer is final; all else may pass. */
async function post(
  mail: Transporter,
  sender: string,
  { id, kind, address, subject, body, stop_url, sender_name }: Waiting,
  picture: Picture | null,
): Promise<{ said: string; isFinal: boolean } | null> {
  try {
    await mail.sendMail({
      messageId: `<letter-${id}@gate-roster>`,
      // The branch's name, and the one address from which letters leave.
      ...(sender_name === null ? {} : { from: { name: sender_name, address: addressIn(sender) } }),
      to: address,
      subject,
      text: body,
      html: (kind === 'messages' ? messageLetterHtml : letterHtml)({ subject, body }, picture && { cid: logoCid, alt: sender_name ?? '' }),
      ...(picture
        ? { attachments: [{ cid: logoCid, content: picture.content, contentType: picture.type, contentDisposition: 'inline' as const }] }
        : {}),
      // RFC 2369 and RFC 8058: a mail program offers to stop them, in one click.
      ...(stop_url === null
        ? {}
        : { headers: { 'List-Unsubscribe': `<${stop_url}>`, 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' } }),
    });
    return null;
  } catch (error) {
    const { responseCode = 0, response = '' } = error as { responseCode?: number; response?: string };
    return { said: (response || String(error)).slice(0, 300), isFinal: responseCode >= 500 };
  }
}
