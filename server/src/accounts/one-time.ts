import { randomUUID } from 'node:crypto';
import { dayOfMoment, nameKey, type Power, tidyName } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { recordChange } from '../changes/apply.ts';
import { oneAfterTheOther } from '../changes/one-after-the-other.ts';
import { summaryOf } from '../changes/plan.ts';
import { type Database, ids, maybeRow, oneRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';
import { makePeople } from '../people/make-people.ts';
import { hashOf } from './tokens.ts';

export interface TokenOwner {
  id: number;
  name: string;
  organisation: string;
  kind: 'link' | 'card' | 'lasting';
}

/** Whose one-time sign-in a token is; it stays as it is. @throws ProblemError `link-over`. */
export async function personOfToken(db: Queryable, token: string): Promise<TokenOwner> {
  const found = await maybeRow<TokenOwner>(
    db,
    sql`
    select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, o.name as organisation, l.kind from one_time_link l join personal_now n on n.person_id = l.person_id cross join organisation o
    where l.hash = ${hashOf(token)} and l.used_at is null and l.ends_at > now()`,
  );
  if (!found) throw new ProblemError('link-over');
  return found;
}

/**
 * Uses the token up, but for a lasting card's; of two at once, one gets in.
 * @returns Whose it was; for a lasting card with the group whose courses it opens.
 */
export async function usePersonToken(
  db: Database,
  token: string,
  passwordHash: string | null,
): Promise<{ personId: number; cardGroup: number | null }> {
  return db.transaction(async (tx) => {
    const used = await maybeRow<{ person_id: number; by_letter: boolean; group_id: number | null }>(
      tx,
      sql`
      update one_time_link set used_at = case when kind = 'lasting' then null else now() end
      where hash = ${hashOf(token)} and used_at is null and ends_at > now() returning person_id, by_letter, group_id`,
    );
    if (!used) throw new ProblemError('link-over');
    // A lasting card opens one group's courses; it is no way to a password.
    if (passwordHash !== null && used.group_id === null) await setPassword(tx, used.person_id, passwordHash);
    if (used.by_letter) await confirmAddress(tx, used.person_id);
    await tx.execute(sql`update person set signed_in_at = now(), active_at = now() where id = ${used.person_id}`);
    return { personId: used.person_id, cardGroup: used.group_id };
  });
}

/** Whoever followed a letter has shown its address to be their own. */
export async function confirmAddress(db: Queryable, personId: number): Promise<void> {
  await db.execute(sql`update personal set confirmed_email = email where person_id = ${personId} and until_at is null`);
}

export async function setPassword(tx: Transaction, personId: number, passwordHash: string): Promise<void> {
  await tx.execute(
    sql`insert into credential (person_id, password_hash) values (${personId}, ${passwordHash}) on conflict (person_id) do update set password_hash = excluded.password_hash, changed_at = now()`,
  );
  // Whoever knew the old password is out.
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
      (select person_id from personal_now where email = i.email or sign_in_name = i.email limit 1) as known
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
  db: Database,
  now: Date,
  invitationIn: (tx: Transaction) => Promise<Invitation>,
  given: { givenName: string; familyName: string; passwordHash: string | null },
): Promise<number | null> {
  return oneAfterTheOther(db, async (tx) => {
    const invitation = await invitationIn(tx);
    if (invitation.known === null && given.passwordHash === null)
      throw new ProblemError('bad-request', { where: [{ place: 'body.password', what: 'A new account needs a password' }] });
    const path = await oneRow<{ root: number }>(
      tx,
      sql`select ancestor_id as root from group_branch where group_id = ${invitation.group_id} order by depth desc limit 1`,
    );
    let personId = invitation.known ?? 0;
    const today = dayOfMoment(now, invitation.time_zone);
    const about = {
      requestId: randomUUID(),
      kind: 'accept-invitation',
      undoOf: null,
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
          await setPassword(tx, personId, given.passwordHash ?? '');
          await tx.execute(sql`update person set signed_in_at = now() where id = ${personId}`);
          await confirmAddress(tx, personId);
        }
        await writer.end('invitation', [invitation.row_id]);
        await tx.execute(sql`update invitation set accepted_at = now() where row_id = ${invitation.row_id}`);
        const span = { firstDay: invitation.first_day, lastDay: invitation.last_day };
        if (invitation.powers === null) {
          const groups = await rows<{ id: number }>(
            tx,
            sql`select id from group_now where id = any(${ids([invitation.group_id, ...invitation.also_groups])})`,
          );
          await writer.beginMemberships(
            groups.map(({ id }) => ({ personId, groupId: id, ...span })),
            'invitation',
          );
        } else await lead(tx, writer, personId, invitation);
        return { people: [personId], sessions: [personId], entry: true };
      },
    );
    return invitation.known === null ? personId : null;
  });
}

async function lead(
  tx: Transaction,
  writer: Parameters<Parameters<typeof recordChange>[3]>[1],
  personId: number,
  invitation: Invitation,
): Promise<void> {
  const held = await maybeRow<{ row_id: number; powers: Power[] }>(
    tx,
    sql`select row_id, powers from leadership where person_id = ${personId} and group_id = ${invitation.group_id} and until_at is null`,
  );
  const powers = [...new Set([...(held?.powers ?? []), ...(invitation.powers ?? [])])];
  if (held) await writer.replace('leadership', [{ rowId: held.row_id, values: { powers } }]);
  else
    await writer.begin('leadership', [
      { person_id: personId, group_id: invitation.group_id, powers, first_day: invitation.first_day, last_day: invitation.last_day },
    ]);
}
