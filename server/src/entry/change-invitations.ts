import { type Conflict, emailKey, emailProblem, may, noEffects, type Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { makeToken } from '../accounts/tokens.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { ids, rows, texts } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { invitationDays, invite, standingInvitations, writeInvitations } from './invite.ts';

/** Asks addresses into one or more groups; each gets a link of its own. */
export const planInvitePeople: Planner<'invite-people'> = async (context, change) => {
  const { db, actor, tree } = context;
  const groupIds = [...new Set(change.groupIds)];
  if (!groupIds.every((id) => tree.has(id) && may(actor, 'managePeople', { path: tree.path(id) }))) throw notFound();
  const effects = noEffects();
  const wrong = change.people.filter(({ email }) => emailProblem(email.trim()) !== null).length;
  if (wrong > 0) effects.conflicts.push({ code: 'needs an address', blocks: true, count: wrong });
  const byKey = new Map(change.people.map((person) => [emailKey(person.email), person]));
  const isIn = await inAllOf(context, groupIds, [...byKey.keys()]);
  const asked = [...byKey].flatMap(([key, person]) => (isIn.has(key) ? [] : [person]));
  if (isIn.size > 0) effects.conflicts.push({ code: 'already in', blocks: asked.length === 0, count: isIn.size });
  const again = await rows<{ email: string }>(
    db,
    sql`select email from invitation where group_id = ${groupIds[0] ?? 0} and until_at is null and ends_at > now() and email = any(${texts(asked.map(({ email }) => email.trim()))}::citext[])`,
  );
  if (again.length > 0) effects.conflicts.push({ code: 'already asked', blocks: false, count: again.length });
  const young = await rows(
    db,
    sql`select 1 from group_branch b join group_now g on g.id = b.ancestor_id where b.group_id = any(${ids(groupIds)}) and g.young_learners`,
  );
  if (young.length > 0) effects.conflicts.push({ code: 'young learners', blocks: true, count: 1 });
  effects.letters = asked.length;
  return {
    effects,
    groups: groupIds,
    summary: summaryOf({ groups: groupIds.slice(0, 3), counts: { invited: asked.length } }),
    async write(tx, writer) {
      const [groupId = 0, ...alsoGroups] = groupIds;
      await invite(
        tx,
        writer,
        context,
        asked.map((person) => ({ ...person, groupId, alsoGroups, powers: null, firstDay: null, lastDay: null, words: change.words })),
      );
      return { entry: true };
    },
  };
};

/** Addresses, known where the actor may see, of people who are in every one of these groups. */
async function inAllOf({ db }: PlanContext, groupIds: readonly number[], emails: readonly string[]): Promise<Set<string>> {
  const found = await rows<{ key: string }>(
    db,
    sql`
    select lower(n.email::text) as key from personal_now n join membership m on m.person_id = n.person_id and m.until_at is null and m.group_id = any(${ids(groupIds)})
    where n.email = any(${texts(emails)}::citext[]) group by 1 having count(distinct m.group_id) = ${groupIds.length}`,
  );
  return new Set(found.map(({ key }) => key));
}

/** The letters once more, with fresh links: those of the earlier letters stop working. */
export const planSendInvitationsAgain: Planner<'send-invitations-again'> = async (context, { invitationIds }) => {
  const standing = await actable(context, invitationIds);
  const effects = { ...noEffects(), letters: standing.length, conflicts: goneOf(invitationIds, standing.length) };
  const groups = [...new Set(standing.map(({ group_id }) => group_id))];
  return {
    effects,
    groups,
    summary: summaryOf({ groups: groups.slice(0, 3), counts: { invited: standing.length } }),
    async write(tx, writer) {
      const fresh = standing.map(({ row_id }) => ({ row_id, ...makeToken() }));
      const endsAt = new Date(Date.now() + invitationDays * 86_400_000).toISOString();
      await writer.replace(
        'invitation',
        fresh.map(({ row_id, hash }) => ({ rowId: row_id, values: { hash, ends_at: endsAt, opened_at: null } })),
      );
      await writeInvitations(tx, context, fresh);
      return { entry: true };
    },
  };
};

/** An invitation that nobody has followed yet is worth nothing afterwards. */
export const planTakeBackInvitation: Planner<'take-back-invitation'> = async (context, { invitationId }) => {
  const [invitation] = await actable(context, [invitationId]);
  if (!invitation) throw notFound();
  return {
    effects: noEffects(),
    groups: [invitation.group_id],
    summary: summaryOf({ groups: [invitation.group_id] }),
    async write(_tx, writer) {
      await writer.end('invitation', [invitationId]);
      return { entry: true };
    },
  };
};

const goneOf = (asked: readonly number[], left: number): Conflict[] =>
  left < asked.length ? [{ code: 'gone since', blocks: left === 0, count: asked.length - left }] : [];

/** @throws ProblemError `not-found` when one of those that stand is not the actor's to act on. */
async function actable({ db, actor, tree }: PlanContext, invitationIds: readonly number[]): ReturnType<typeof standingInvitations> {
  const standing = await standingInvitations(db, invitationIds);
  const mine = standing.every(({ group_id, powers }) => {
    const power: Power = powers ? 'appointLeaders' : 'managePeople';
    return tree.has(group_id) && may(actor, power, { path: tree.path(group_id) });
  });
  if (!mine || standing.length === 0) throw notFound();
  return standing;
}
