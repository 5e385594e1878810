import { dayOfMoment, mayActOnAccount, nameKey, type Power, tidyName } from '@gate-roster/core';
import { and, desc, eq, isNull, sql, type SQL } from 'drizzle-orm';
import { recordChange } from '../changes/record.ts';
import { onceOutside, type OutsideRequest } from '../changes/outside-request.ts';
import { type LockMode, withRosterLock } from '../changes/roster-lock.ts';
import { summaryOf } from '../changes/plan.ts';
import { type Database, firstOf, isAmong, maybeRow, oneRow, onlyOne, type Queryable, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { wholeTree } from '../groups/queries.ts';
import { maybeAccount } from '../people/account.ts';
import { makePeople } from '../people/make-people.ts';
import { isInvited } from '../entry/invite.ts';
import { maybeActor } from './actor.ts';
import { dropSignIns } from './sign-ins.ts';
import { hashOf, wordHash } from './tokens.ts';

export interface TokenOwner {
  id: number;
  name: string;
  organisation: string;
  kind: 'link' | 'card' | 'lasting';
}

interface OneTimeLink {
  hash: string;
  person_id: number;
  kind: TokenOwner['kind'];
  group_id: number | null;
  made_by: number | null;
  address: string | null;
  email: string | null;
}

/**
 * A link, card or word that still signs in. It is asked again at its use whether it may: whoever made it must still be allowed to
 * act on the account, and a letter must have gone to the address that the account has now.
 */
async function linkThatWorks(db: Queryable, now: Date, which: SQL): Promise<OneTimeLink> {
  const link = await maybeRow<OneTimeLink>(
    db,
    sql`
    select l.hash, l.person_id, l.kind, l.group_id, l.made_by, l.address, n.email from one_time_link l join personal_now n on n.person_id = l.person_id
    where ${which} and l.used_at is null and l.ends_at > now()`,
  );
  if (!link) throw new ProblemError('link-over');
  if (link.address !== null && link.address.toLowerCase() !== link.email?.toLowerCase()) throw new ProblemError('link-over');
  if (link.made_by !== null) {
    const maker = await maybeActor(db, link.made_by, now);
    const account = maker && (await maybeAccount(db, await wholeTree(db), link.person_id));
    if (!maker || !account || !mayActOnAccount(maker, account)) throw new ProblemError('link-over');
  }
  return link;
}

const byToken = (token: string): SQL => sql`l.hash = ${hashOf(token)}`;
const byWord = ({ signInName, word }: { signInName: string; word: string }): SQL =>
  sql`l.word_hash = ${wordHash(word)} and n.sign_in_name = ${signInName.trim()}`;

/** What somebody holds to sign in once: a token, or a word with the sign-in name. */
export type OneTimeKey = { token: string } | { signInName: string; word: string };
const whichLink = (key: OneTimeKey): SQL => ('token' in key ? byToken(key.token) : byWord(key));

/** Whose one-time sign-in a key is; it stays as it is. @throws ProblemError `link-over`. */
export async function ownerOfKey(db: Queryable, now: Date, key: OneTimeKey): Promise<TokenOwner> {
  const link = await linkThatWorks(db, now, whichLink(key));
  return oneRow<TokenOwner>(
    db,
    sql`
    select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, o.name as organisation, ${link.kind} as kind
    from personal_now n cross join organisation o where n.person_id = ${link.person_id}`,
  );
}

/**
 * Uses the key up, but for a lasting card's; of two at once, one gets in.
 * @returns Whose it was; for a lasting card with the group whose courses it opens.
 */
export async function useKey(
  db: Database,
  now: Date,
  key: OneTimeKey,
  passwordHash: string | null,
): Promise<{ personId: number; cardGroup: number | null }> {
  return db.transaction(async (tx) => {
    const { hash } = await linkThatWorks(tx, now, whichLink(key));
    const used = await maybeRow<{ person_id: number; group_id: number | null }>(
      tx,
      sql`
      update one_time_link set used_at = case when kind = 'lasting' then null else now() end
      where hash = ${hash} and used_at is null and ends_at > now() returning person_id, group_id`,
    );
    if (!used) throw new ProblemError('link-over');
    // A lasting card opens one group's courses; it is no way to a password.
    if (passwordHash !== null && used.group_id === null) await setPassword(tx, used.person_id, passwordHash);
    await tx
      .update(tables.person)
      .set({ signedInAt: sql`now()`, activeAt: sql`now()` })
      .where(eq(tables.person.id, used.person_id));
    return { personId: used.person_id, cardGroup: used.group_id };
  });
}

/** Whoever followed a letter to it has shown the address to be their own. @throws ProblemError `address-taken` when another account has. */
export async function confirmAddress(db: Queryable, personId: number): Promise<void> {
  const other = await maybeRow(
    db,
    sql`select 1 from personal_now n join personal_now m on m.confirmed_email = n.email and m.person_id <> n.person_id where n.person_id = ${personId}`,
  );
  if (other) throw new ProblemError('address-taken');
  await db.execute(
    sql`update personal set confirmed_email = email, address_failed = false where person_id = ${personId} and until_at is null`,
  );
}

/** Another address: what went to the earlier one leads nowhere. */
export async function dropAddress(db: Queryable, people: readonly number[]): Promise<void> {
  await dropSignIns(db, people);
  await db.delete(tables.addressLink).where(and(isAmong(tables.addressLink.personId, people), isNull(tables.addressLink.usedAt)));
}

/** A new password signs out everyone who knew the old one, or held a card or link; an account that is new has none. */
export async function setPassword(
  tx: Queryable,
  personId: number,
  passwordHash: string,
  { isNew = false }: { isNew?: boolean } = {},
): Promise<void> {
  await tx
    .insert(tables.credential)
    .values({ personId, passwordHash })
    .onConflictDoUpdate({ target: tables.credential.personId, set: { passwordHash, changedAt: sql`now()` } });
  if (isNew) return;
  await dropSignIns(tx, [personId]);
  await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(personId)}`);
}

interface Invitation {
  row_id: number;
  group_id: number;
  group: string;
  organisation: string;
  time_zone: string;
  email: string;
  given_name: string;
  family_name: string;
  powers: Power[] | null;
  first_day: string | null;
  last_day: string | null;
  also_groups: number[];
  known: number | null;
}

/** What an invitation asks one into. @throws ProblemError `link-over` when it was followed, taken back or is too old. */
export async function invitationOfToken(db: Queryable, token: string): Promise<Invitation> {
  return standingInvitation(db, sql`i.hash = ${hashOf(token)}`);
}

/** @throws ProblemError `link-over` unless it asks this very person. */
export async function invitationOfPerson(db: Queryable, invitationId: number, personId: number): Promise<Invitation> {
  const invitation = await standingInvitation(db, sql`i.row_id = ${invitationId}`);
  if (invitation.known !== personId) throw new ProblemError('link-over');
  return invitation;
}

async function standingInvitation(db: Queryable, which: SQL): Promise<Invitation> {
  const found = await maybeRow<Invitation>(
    db,
    sql`
    select i.row_id, i.group_id, g.name as "group", o.name as organisation, o.time_zone, i.email, i.given_name, i.family_name, i.powers, i.first_day, i.last_day, to_jsonb(i.also_groups) as also_groups,
      (select person_id from personal_now where ${isInvited(sql`i.email`)} limit 1) as known
    from invitation i join group_now g on g.id = i.group_id cross join organisation o
    where ${which} and i.until_at is null and i.ends_at > now()`,
  );
  if (!found) throw new ProblemError('link-over');
  return found;
}

/**
 * Whoever reads the letter, or is signed in as the one who is asked, says yes: the account of the address comes into the group, or a new one is made with a password.
 * The link shows that the mail is theirs, which lets them in; it does not sign a known account in.
 * @returns The new account to sign in; null when the address had one.
 */
export async function acceptInvitation(
  { db, now }: Pick<Deps, 'db' | 'now'>,
  invitationIn: (db: Queryable) => Promise<Invitation>,
  given: { givenName: string; familyName: string; passwordHash: string | null },
  request: OutsideRequest,
): Promise<{ outcome: { newPersonId: number | null }; isReplay: boolean }> {
  // Giving powers needs the lock alone; joining shares it.
  const asked = await invitationIn(db).catch(() => null);
  const mode = asked?.powers === null ? 'shared' : 'alone';
  return withRosterLock(db, mode, (tx) =>
    onceOutside(tx, request, async () => {
      const invitation = await invitationIn(tx);
      if (mode === 'shared' && invitation.powers !== null) throw new ProblemError('link-over');
      return { newPersonId: await accept(tx, now(), invitation, given, { requestId: request.requestId, mode }) };
    }),
  );
}

async function accept(
  tx: Transaction,
  now: Date,
  invitation: Invitation,
  given: { givenName: string; familyName: string; passwordHash: string | null },
  by: { requestId: string; mode: LockMode },
): Promise<number | null> {
  if (invitation.known === null && given.passwordHash === null)
    throw new ProblemError('bad-request', { where: [{ place: 'body.password', what: 'A new account needs a password' }] });
  const path = await onlyOne(
    tx
      .select({ root: tables.groupBranch.ancestorId })
      .from(tables.groupBranch)
      .where(eq(tables.groupBranch.groupId, invitation.group_id))
      .orderBy(desc(tables.groupBranch.depth))
      .limit(1),
  );
  let personId = invitation.known ?? 0;
  const today = dayOfMoment(now, invitation.time_zone);
  const about = {
    ...by,
    kind: 'accept-invitation',
    undoOf: [],
    groups: [invitation.group_id, ...invitation.also_groups],
  };
  const counts = { people: 1, leads: invitation.powers ? 1 : 0 };
  await recordChange(
    tx,
    { personId: null, today },
    { ...about, summary: summaryOf({ groups: [invitation.group_id], counts }) },
    async (_tx, writer) => {
      if (invitation.known === null) {
        const name = {
          givenName: tidyName(given.givenName) || invitation.given_name,
          familyName: tidyName(given.familyName) || invitation.family_name || nameKey(invitation.email.split('@')[0] ?? ''),
        };
        const [made] = await makePeople(
          tx,
          writer,
          [{ ...name, email: invitation.email, idNumber: null, groupId: invitation.powers === null ? invitation.group_id : null }],
          { issuer: path.root, byLeader: true },
        );
        personId = made?.id ?? 0;
        await setPassword(tx, personId, given.passwordHash ?? '', { isNew: true });
        await tx
          .update(tables.person)
          .set({ signedInAt: sql`now()` })
          .where(eq(tables.person.id, personId));
        await confirmAddress(tx, personId);
      }
      await writer.end('invitation', [invitation.row_id]);
      await tx
        .update(tables.invitation)
        .set({ acceptedAt: sql`now()` })
        .where(eq(tables.invitation.rowId, invitation.row_id));
      const span = { firstDay: invitation.first_day, lastDay: invitation.last_day };
      if (invitation.powers === null) {
        const groups = await tx
          .select({ id: tables.groupNow.id })
          .from(tables.groupNow)
          .where(isAmong(tables.groupNow.id, [invitation.group_id, ...invitation.also_groups]));
        await writer.beginMemberships(
          groups.map(({ id }) => ({ personId, groupId: id, ...span })),
          'invitation',
        );
      } else await lead(tx, writer, personId, invitation);
      return { people: [personId], sessions: [personId], entry: true };
    },
  );
  return invitation.known === null ? personId : null;
}

async function lead(
  tx: Transaction,
  writer: Parameters<Parameters<typeof recordChange>[3]>[1],
  personId: number,
  invitation: Invitation,
): Promise<void> {
  const held = await firstOf(
    tx
      .select({ row_id: tables.leadership.rowId, powers: tables.leadership.powers })
      .from(tables.leadership)
      .where(
        and(
          eq(tables.leadership.personId, personId),
          eq(tables.leadership.groupId, invitation.group_id),
          isNull(tables.leadership.untilAt),
        ),
      ),
  );
  const powers = [...new Set([...(held?.powers ?? []), ...(invitation.powers ?? [])])];
  if (held) await writer.replace('leadership', [{ rowId: held.row_id, values: { powers } }]);
  else
    await writer.begin('leadership', [
      { person_id: personId, group_id: invitation.group_id, powers, first_day: invitation.first_day, last_day: invitation.last_day },
    ]);
}
