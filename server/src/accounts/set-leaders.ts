import type { NewLeader } from '@gate-roster/contract';
import { type Conflict, emailProblem, type GroupId, may, noEffects, type Power, tidyName } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf, type Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, isAmong, maybeRow, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { invite, isInvited } from '../entry/invite.ts';
import { dayInWords, writeLetters } from '../letters/write-letters.ts';
import { makePeople } from '../people/make-people.ts';
import { makeOneTimeLink } from './tokens.ts';

const welcomeHours = 7 * 24;

/** Puts people in charge of a group, changes what they may do there, or takes it from them. */
export const planSetLeaders: Planner<'set-leaders'> = async (context, change) => {
  const { db, actor, tree } = context;
  if (!tree.has(change.groupId) || !may(actor, 'appointLeaders', { path: tree.path(change.groupId) })) throw notFound();
  const effects = noEffects();
  const { appointed, conflicts } = await checkLeaders(context, change.groupId, change.begin);
  effects.conflicts = conflicts;
  effects.letters = appointed.filter(({ person }) => person === null).length;
  effects.newPeople = newAccounts(context, appointed);
  const ending = await db
    .select({ row_id: tables.leadership.rowId, person_id: tables.leadership.personId, powers: tables.leadership.powers })
    .from(tables.leadership)
    .where(
      and(
        eq(tables.leadership.groupId, change.groupId),
        isAmong(tables.leadership.personId, change.end),
        isNull(tables.leadership.untilAt),
      ),
    );
  if (ending.length < new Set(change.end).size)
    effects.conflicts.push({ code: 'not a leader', blocks: true, count: change.end.length - ending.length });
  // Nobody takes away what they could not have given.
  if (ending.some(({ powers }) => !holdsAll(context, change.groupId, powers)))
    effects.conflicts.push({ code: 'power lacked', blocks: true, count: 1 });
  if (change.begin.length + change.end.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const concerned = [...appointed.flatMap(({ person }) => person ?? []), ...ending.map(({ person_id }) => person_id)];
  return {
    effects,
    groups: [change.groupId],
    summary: summaryOf({
      groups: [change.groupId],
      people: concerned.slice(0, 3),
      counts: { begun: appointed.length, ended: ending.length, people: concerned.length, invited: effects.letters },
    }),
    async write(tx, writer) {
      await writer.end(
        'leadership',
        ending.map(({ row_id }) => row_id),
      );
      const touched = await appoint(tx, writer, context, [{ groupId: change.groupId, leaders: appointed }]);
      return { ...touched, sessions: [...(touched.sessions ?? []), ...ending.map(({ person_id }) => person_id)] };
    },
  };
};

/** What may be a sign-in name. */
const signInNameShape = /^[\p{L}\p{N}._-]{2,60}$/u;

export interface Appointed extends NewLeader {
  /** Who it is, when the actor may know; null: an address that gets a letter. */
  person: number | null;
}

/** Who the leaders are, and what stands in the way of their leading this group (or one that will be made in it). */
export async function checkLeaders(
  context: PlanContext,
  groupId: GroupId,
  leaders: readonly NewLeader[],
): Promise<{ appointed: Appointed[]; conflicts: Conflict[] }> {
  const conflicts: Conflict[] = [];
  const appointed: Appointed[] = [];
  for (const leader of leaders) {
    if (!holdsAll(context, groupId, leader.powers)) conflicts.push({ code: 'power lacked', blocks: true, count: 1 });
    if (leader.firstDay && leader.lastDay && leader.lastDay < leader.firstDay)
      conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
    const person = await maybeKnown(context, leader.who);
    // An administrator's new leaders need an address; a leader may ask somebody from outside by an exact sign-in name too.
    const isAddress = 'email' in leader.who && emailProblem(leader.who.email) === null;
    const isName = context.actor.role !== 'administrator' && 'email' in leader.who && signInNameShape.test(leader.who.email.trim());
    if (person === null && !isAddress && !isName) conflicts.push({ code: 'needs an address', blocks: true, count: 1 });
    appointed.push({ ...leader, person });
  }
  return { appointed, conflicts };
}

/** How many accounts are made for new leaders: an administrator's get one, a leader's are invited. */
export const newAccounts = ({ actor }: PlanContext, appointed: readonly Appointed[]): number =>
  actor.role === 'administrator'
    ? new Set(appointed.flatMap(({ person, who }) => (person === null && 'email' in who ? [who.email.trim().toLowerCase()] : []))).size
    : 0;

/** Nobody gives a power that they lack there. */
export function holdsAll({ actor, tree }: PlanContext, groupId: GroupId, powers: readonly Power[]): boolean {
  return powers.every((power) => may(actor, power, { path: tree.path(groupId) }));
}

/** Somebody the actor may see: by id, or by an address that is known in their branches. An administrator knows everybody. */
async function maybeKnown({ db, seen }: PlanContext, who: NewLeader['who']): Promise<number | null> {
  const found = await maybeRow<{ id: number; groups: number[] }>(
    db,
    sql`
    select n.person_id as id, array(select group_id from membership where person_id = n.person_id and until_at is null
      union select group_id from leadership where person_id = n.person_id and until_at is null) as groups
    from personal_now n join person_state s on s.person_id = n.person_id and s.until_at is null and s.state <> 'ended'
    where ${'personId' in who ? sql`n.person_id = ${who.personId}` : sql`${isInvited(sql`${who.email.trim()}::citext`)}`}`,
  );
  const known = found && (seen === null || found.groups.some(seen)) ? found.id : null;
  if (known === null && 'personId' in who) throw notFound();
  return known;
}

/**
 * Writes leaderships. Whoever leads there already gets the powers said now. An administrator's new leaders get an account
 * and a letter; a leader's are invited, and nothing shows whether they had an account.
 */
export async function appoint(
  tx: Transaction,
  writer: ChangeWriter,
  context: PlanContext,
  list: readonly { groupId: GroupId; leaders: readonly Appointed[] }[],
): Promise<Touched> {
  const sessions: number[] = [];
  const made = new Map<string, number>();
  for (const { groupId, leaders } of list) {
    for (const leader of leaders) {
      const email = 'email' in leader.who ? leader.who.email.toLowerCase() : '';
      let person = leader.person ?? made.get(email) ?? null;
      if (person === null && 'email' in leader.who) {
        if (context.actor.role !== 'administrator') {
          await invite(tx, writer, context, [
            { groupId, ...leader.who, powers: leader.powers, firstDay: leader.firstDay, lastDay: leader.lastDay },
          ]);
          continue;
        }
        person = await makeLeader(tx, writer, context, leader.who, groupId);
        made.set(email, person);
      }
      if (person === null) continue;
      const held = await firstOf(
        tx
          .select({ row_id: tables.leadership.rowId })
          .from(tables.leadership)
          .where(and(eq(tables.leadership.personId, person), eq(tables.leadership.groupId, groupId), isNull(tables.leadership.untilAt))),
      );
      const values = { powers: leader.powers, first_day: leader.firstDay, last_day: leader.lastDay };
      if (held) await writer.replace('leadership', [{ rowId: held.row_id, values }]);
      else await writer.begin('leadership', [{ person_id: person, group_id: groupId, ...values }]);
      sessions.push(person);
    }
  }
  return { sessions };
}

async function makeLeader(
  tx: Transaction,
  writer: ChangeWriter,
  { tree, publicUrl, actor }: PlanContext,
  who: { givenName: string; familyName: string; email: string },
  groupId: GroupId,
): Promise<number> {
  const name = who.givenName.trim() === '' && who.familyName.trim() === '' ? nameOfAddress(who.email) : who;
  const issuer = [...tree.nodes()].find(({ parentId }) => parentId === null)?.id ?? 0;
  const [made] = await makePeople(
    tx,
    writer,
    [
      {
        givenName: tidyName(name.givenName),
        familyName: tidyName(name.familyName),
        email: who.email.trim(),
        isConfirmed: true,
        idNumber: null,
        groupId: null,
      },
    ],
    { issuer, byLeader: false },
  );
  const id = made?.id ?? 0;
  const token = await makeOneTimeLink(tx, id, welcomeHours, { address: who.email.trim() });
  await writeLetters(tx, publicUrl, 'welcome', [
    {
      personId: id,
      address: who.email.trim(),
      groupId,
      values: {
        name: name.givenName,
        until: dayInWords(new Date(Date.now() + welcomeHours * 3_600_000), actor.timeZone),
        link: `${publicUrl}/enter#${token}`,
      },
    },
  ]);
  return id;
}

/** @example nameOfAddress('hana.petrossian@brannoch.example') // { givenName: 'Hana', familyName: 'Petrossian' } */
function nameOfAddress(email: string): { givenName: string; familyName: string } {
  const parts = (email.split('@')[0] ?? '').split(/[._-]+/u).filter(Boolean);
  const words = parts.map((part) => part.slice(0, 1).toUpperCase() + part.slice(1));
  return { givenName: words.slice(0, -1).join(' '), familyName: words.at(-1) ?? email };
}
