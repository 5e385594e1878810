import { type GroupId, type Power, tidyName } from '@gate-roster/core';
import { and, isNull, sql, type SQL } from 'drizzle-orm';
import { makeToken } from '../accounts/tokens.ts';
import type { PlanContext } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { isAmong, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { dayInWords, type LetterTo, writeLetters } from '../letters/write-letters.ts';

/** An invitation means the account (`personal_now`) that has confirmed its address; one by sign-in name, the account of that name. */
export const isInvited = (asked: SQL): SQL => sql`(confirmed_email = ${asked} or (${asked} not like '%@%' and sign_in_name = ${asked}))`;

export const invitationDays = 30;

export interface Invitee {
  groupId: GroupId;
  alsoGroups?: readonly GroupId[];
  givenName: string;
  familyName: string;
  /** An address; where a leader asks somebody from outside it may be an exact sign-in name. */
  email: string;
  powers: readonly Power[] | null;
  firstDay: string | null;
  lastDay: string | null;
  words?: string | null;
}

/**
 * Asks addresses into groups, each with a link of its own; a later invitation into the same group takes the place of the
 * earlier. The letter goes the same way whether or not the address has an account.
 */
export async function invite(tx: Transaction, writer: ChangeWriter, context: PlanContext, list: readonly Invitee[]): Promise<void> {
  const fresh = list.map((to) => ({ to, key: `${to.groupId}/${to.email.trim().toLowerCase()}`, ...makeToken() }));
  const standing = await rows<{ row_id: number; key: string }>(
    tx,
    sql`select row_id, group_id || '/' || lower(email::text) as key from invitation where until_at is null and group_id || '/' || lower(email::text) = any(${texts(fresh.map(({ key }) => key))})`,
  );
  const rowOf = new Map(standing.map(({ row_id, key }) => [key, row_id]));
  const endsAt = new Date(Date.now() + invitationDays * 86_400_000);
  const values = (each: (typeof fresh)[number]): Record<string, unknown> => ({
    group_id: each.to.groupId,
    also_groups: each.to.alsoGroups ?? [],
    email: each.to.email.trim(),
    given_name: tidyName(each.to.givenName),
    family_name: tidyName(each.to.familyName),
    powers: each.to.powers,
    first_day: each.to.firstDay,
    last_day: each.to.lastDay,
    words: each.to.words?.trim() || null,
    hash: each.hash,
    ends_at: endsAt.toISOString(),
    opened_at: null,
  });
  await writer.replace(
    'invitation',
    fresh.flatMap((each) => (rowOf.has(each.key) ? [{ rowId: rowOf.get(each.key) ?? 0, values: values(each) }] : [])),
  );
  await writer.begin('invitation', fresh.filter(({ key }) => !rowOf.has(key)).map(values));
  await writeInvitations(
    tx,
    context,
    fresh.map(({ hash, token }) => ({ hash, token })),
  );
}

/** Writes the letters of invitations that stand, with their links. */
export async function writeInvitations(
  tx: Transaction,
  { publicUrl, actor }: PlanContext,
  links: readonly { hash: string; token: string }[],
): Promise<void> {
  const tokens = new Map(links.map(({ hash, token }) => [hash, token]));
  const standing = await rows<{
    row_id: number;
    group_id: number;
    groups: string;
    hash: string;
    email: string;
    given_name: string;
    words: string | null;
    ends_at: string;
    known_id: number | null;
    known_email: string | null;
  }>(
    tx,
    // Whoever is asked by sign-in name gets the letter at the address on file, when there is one; the leader learns nothing of it.
    sql`
    select i.row_id, i.group_id, i.hash, i.email, i.given_name, i.words, i.ends_at, known.person_id as known_id, known.email as known_email,
      (select string_agg(g.name, ', ' order by o.place) from unnest(array_prepend(i.group_id, i.also_groups)) with ordinality as o(id, place) join group_now g on g.id = o.id) as groups
    from invitation i left join lateral (
      select person_id, confirmed_email as email from personal_now where ${isInvited(sql`i.email`)} limit 1) known on true
    where i.until_at is null and i.hash = any(${texts(tokens.keys())}) order by i.row_id`,
  );
  const letters = standing.flatMap((each): LetterTo[] => {
    const address = each.email.includes('@') ? each.email : each.known_email;
    if (!address) return [];
    return [
      {
        personId: each.known_id,
        address,
        groupId: each.group_id,
        invitationId: each.row_id,
        values: {
          name: each.given_name,
          group: each.groups,
          words: each.words ?? '',
          until: dayInWords(new Date(each.ends_at), actor.timeZone),
          link: `${publicUrl}/invited#${tokens.get(each.hash) ?? ''}`,
        },
      },
    ];
  });
  await writeLetters(tx, publicUrl, 'invitation', letters);
}

/** Invitations by number that still stand. */
export const standingInvitations = async (
  tx: PlanContext['db'],
  invitationIds: readonly number[],
): Promise<{ row_id: number; group_id: number; powers: Power[] | null; email: string }[]> =>
  tx
    .select({
      row_id: tables.invitation.rowId,
      group_id: tables.invitation.groupId,
      powers: tables.invitation.powers,
      email: tables.invitation.email,
    })
    .from(tables.invitation)
    .where(and(isAmong(tables.invitation.rowId, invitationIds), isNull(tables.invitation.untilAt)))
    .orderBy(tables.invitation.rowId);
