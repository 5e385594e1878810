import {
  fillLetter,
  firstTexts,
  type LetterKind,
  type LetterText,
  type LetterValues,
  mayBeStopped,
  toUnconfirmed,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { makeToken } from '../accounts/tokens.ts';
import { ids, isAmong, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { ringForWork } from '../jobs/bell.ts';
import { looksFor } from './letter-look.ts';

export interface LetterTo {
  /** Whose letter it is; null when the address may have no account. */
  personId: number | null;
  address: string;
  /** The branch whose text counts; null: the platform's. */
  groupId: number | null;
  invitationId?: number;
  /** Goes also to those who want no letters that can wait. */
  isUrgent?: boolean;
  /** When it leaves; now when not said. */
  sendAt?: string | null;
  values: LetterValues;
}
/** @property stopUrl Where a mail program stops letters of this kind in one click. */
type Outgoing = LetterTo & { stopUrl?: string };

/**
 * Fills in the texts and puts letters into the outbox, from which they leave when the transaction has committed.
 *
 * To a young learner nobody writes from here: the letter goes to the guardian's address, or nowhere. To an address that its
 * account has not confirmed goes only the letter that asks for that. Of letters that can wait, none goes to those who want none.
 * @param publicUrl The address people use, for links.
 * @returns How many were written.
 */
export async function writeLetters(db: Queryable, publicUrl: string, kind: LetterKind, list: readonly LetterTo[]): Promise<number> {
  const wanted = mayBeStopped.includes(kind) ? await withoutStopped(db, publicUrl, list) : list;
  const unconfirmed = toUnconfirmed.includes(kind) ? new Set<number>() : await unconfirmedOf(db, wanted);
  const isAsked = ({ personId }: LetterTo): boolean => personId !== null && unconfirmed.has(personId);
  const asked = await writeConfirming(
    db,
    publicUrl,
    kind === 'welcome' || kind === 'sign in' || kind === 'reset' ? 'confirm address' : 'waiting',
    wanted.filter(isAsked),
  );
  return (
    asked +
    (await putInOutbox(
      db,
      kind,
      wanted.filter((to) => !isAsked(to)),
    ))
  );
}

/** Those who want these letters, with the addresses that stop them. */
async function withoutStopped(db: Queryable, publicUrl: string, list: readonly LetterTo[]): Promise<Outgoing[]> {
  const found = await db
    .select({ id: tables.person.id, letters: tables.person.letters, stop_key: tables.person.stopKey })
    .from(tables.person)
    .where(isAmong(tables.person.id, new Set(list.flatMap(({ personId }) => personId ?? []))));
  const people = new Map(found.map((person) => [person.id, person]));
  return list.flatMap((to) => {
    const person = people.get(to.personId ?? 0);
    if (!person) return [to];
    if (person.letters === 'never' && to.isUrgent !== true) return [];
    const stop = `${publicUrl}/stop-letters#${person.stop_key}`;
    return [{ ...to, stopUrl: `${publicUrl}/api/v1/letters/stop/${person.stop_key}`, values: { ...to.values, stop } }];
  });
}

const confirmDays = 7;
const mostToAddressInDay = 3;
const mostWaitingToPerson = 3;

/**
 * Asks whether an account is theirs, or (`waiting`) says in one line that something waits for it: once a week and three times in
 * all for an account, and three times a day to one address from all senders.
 */
export async function writeConfirming(
  db: Queryable,
  publicUrl: string,
  kind: 'confirm address' | 'waiting',
  list: readonly LetterTo[],
): Promise<number> {
  if (list.length === 0) return 0;
  const allowed = new Set(
    (
      await rows<{ nth: number }>(
        db,
        sql`
        with asked as (
          select nth, address, person_id, row_number() over (partition by address order by nth) as before from jsonb_to_recordset(${JSON.stringify(
            list.map(({ personId, address }, nth) => ({ nth, address, person_id: personId })),
          )}::jsonb) as r(nth int, address citext, person_id bigint)
        )
        select a.nth from asked a
        where a.before + (select count(*) from letter l where l.address = a.address and l.kind in ('confirm address', 'waiting') and l.made_at > now() - interval '1 day') <= ${mostToAddressInDay}
          and (${kind === 'confirm address'} or not exists (select 1 from letter l where l.person_id = a.person_id and l.kind = 'waiting' having count(*) >= ${mostWaitingToPerson} or max(l.made_at) > now() - interval '7 days'))`,
      )
    ).map(({ nth }) => nth),
  );
  const { time_zone } = await onlyOne(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  const endsAt = new Date(Date.now() + confirmDays * 86_400_000);
  const letters = list.filter((_, nth) => allowed.has(nth)).map((to) => ({ to, ...makeToken() }));
  await db.execute(sql`
    insert into address_link (hash, person_id, address, ends_at) select hash, person_id, address, ${endsAt.toISOString()}
    from jsonb_to_recordset(${JSON.stringify(letters.map(({ to, hash }) => ({ hash, person_id: to.personId, address: to.address })))}::jsonb) as r(hash text, person_id bigint, address citext)`);
  return putInOutbox(
    db,
    kind,
    letters.map(({ to, token }) => ({
      ...to,
      values: { name: to.values.name ?? '', until: dayInWords(endsAt, time_zone), link: `${publicUrl}/address#${token}` },
    })),
  );
}

/** Of those written to, the people whose address is not confirmed. */
async function unconfirmedOf(db: Queryable, list: readonly LetterTo[]): Promise<Set<number>> {
  const found = await rows<{ id: number }>(
    db,
    sql`
    select n.person_id as id from personal_now n where n.confirmed_email is null and not ${isYoung(sql`n.person_id`)}
      and n.person_id = any(${ids(new Set(list.flatMap(({ personId }) => personId ?? [])))})`,
  );
  return new Set(found.map(({ id }) => id));
}

async function putInOutbox(db: Queryable, kind: LetterKind, list: readonly Outgoing[]): Promise<number> {
  if (list.length === 0) return 0;
  const { name: organisation } = await onlyOne(db.select({ name: tables.organisation.name }).from(tables.organisation));
  const groups = [...new Set(list.flatMap(({ groupId }) => groupId ?? []))];
  const branchTexts = await textsFor(db, groups, kind);
  const facts = await factsOf(db, groups);
  const looks = await looksFor(db, groups);
  const guardians = await guardiansOf(db, list);
  const letters = list.flatMap((to) => {
    const guardian = to.personId === null ? undefined : guardians.get(to.personId);
    const address = guardian === undefined ? to.address : guardian;
    if (address === null) return [];
    const group = to.groupId === null ? undefined : facts.get(to.groupId);
    const text = (to.groupId === null ? undefined : branchTexts.get(to.groupId)) ?? firstTexts[kind];
    const filled = fillLetter(text, { organisation, group: group?.name ?? '', leader: group?.leaders ?? '', ...to.values });
    return [
      {
        kind,
        person_id: to.personId,
        invitation_id: to.invitationId ?? null,
        address,
        send_at: to.sendAt ?? null,
        stop_url: to.stopUrl ?? null,
        sender_name: looks.get(to.groupId ?? 0)?.senderName ?? null,
        logo_id: looks.get(to.groupId ?? 0)?.logoId ?? null,
        ...filled,
      },
    ];
  });
  await db.execute(sql`
    insert into letter (kind, person_id, invitation_id, address, subject, body, send_at, stop_url, sender_name, logo_id)
    select kind, person_id, invitation_id, address, subject, body, coalesce(send_at, now()), stop_url, sender_name, logo_id
    from jsonb_to_recordset(${JSON.stringify(letters)}::jsonb) as r(kind text, person_id bigint, invitation_id bigint, address citext, subject text, body text, send_at timestamptz, stop_url text, sender_name text, logo_id bigint)`);
  await ringForWork(db);
  return letters.length;
}

/** The text that counts for each group: of the nearest group, from itself up, that has its own. */
export async function textsFor(
  db: Queryable,
  groupIds: readonly number[],
  kind: LetterKind,
): Promise<Map<number, LetterText & { fromId: number }>> {
  const found = await rows<{ group_id: number; subject: string; body: string; from_id: number }>(
    db,
    sql`
    select distinct on (b.group_id) b.group_id, t.subject, t.body, t.group_id as from_id from group_branch b join letter_template t on t.group_id = b.ancestor_id
    where t.until_at is null and t.kind = ${kind} and b.group_id = any(${ids(groupIds)}) order by b.group_id, b.depth`,
  );
  return new Map(found.map(({ group_id, subject, body, from_id }) => [group_id, { subject, body, fromId: from_id }]));
}

async function factsOf(db: Queryable, groupIds: readonly number[]): Promise<Map<number, { name: string; leaders: string }>> {
  const found = await rows<{ id: number; name: string; leaders: string | null }>(
    db,
    sql`
    select g.id, g.name, (select string_agg(n.given_name || ' ' || n.family_name, ', ' order by n.family_name collate people_order) from leadership l join personal_now n on n.person_id = l.person_id
      where l.until_at is null and l.group_id = (select b.ancestor_id from group_branch b join leadership x on x.group_id = b.ancestor_id and x.until_at is null where b.group_id = g.id order by b.depth limit 1)) as leaders
    from group_now g where g.id = any(${ids(groupIds)})`,
  );
  return new Map(found.map(({ id, name, leaders }) => [id, { name, leaders: leaders ?? '' }]));
}

/** Of those written to, the young learners, with the address to write to instead. */
async function guardiansOf(db: Queryable, list: readonly LetterTo[]): Promise<Map<number, string | null>> {
  const found = await rows<{ id: number; guardian_email: string | null }>(
    db,
    sql`
    select n.person_id as id, n.guardian_email from personal_now n where n.person_id = any(${ids(new Set(list.flatMap(({ personId }) => personId ?? [])))}) and ${isYoung(sql`n.person_id`)}`,
  );
  return new Map(found.map(({ id, guardian_email }) => [id, guardian_email]));
}

/** Is somebody in a group that is marked young learners, itself or by a group above it? */
export const isYoung = (person: ReturnType<typeof sql>): ReturnType<typeof sql> => sql`exists (
  select 1 from membership m join group_branch b on b.group_id = m.group_id join group_now y on y.id = b.ancestor_id
  where m.person_id = ${person} and m.until_at is null and y.young_learners)`;

/** A day as letters say it. @example dayInWords(new Date('2026-11-03T12:00:00Z'), 'UTC') // '3 November 2026' */
export const dayInWords = (moment: Date, timeZone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone, day: 'numeric', month: 'long', year: 'numeric' }).format(moment);

/** @example momentInWords(new Date('2026-11-03T12:00:00Z'), 'UTC') // '3 November 2026 at 12:00' */
export const momentInWords = (moment: Date, timeZone: string): string =>
  `${dayInWords(moment, timeZone)} at ${new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', minute: '2-digit' }).format(moment)}`;
