import type { HandOverLine } from '@gate-roster/contract';
import { may, noEffects, type Power } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { mayMakeCode } from '../entry/codes.ts';
import { holdsAll } from './set-leaders.ts';

/** What hangs on somebody who leads, as far as the actor may see it. */
export interface HangingOn {
  leads: {
    rowId: number;
    groupId: number;
    powers: Power[];
    firstDay: string | null;
    lastDay: string | null;
    others: number;
    asking: number;
  }[];
  contact: { groupId: number; rowId: number }[];
  codes: { groupId: number; rowId: number; codeId: number; code: string; isChosen: boolean; groupIds: number[]; powers: Power[] | null }[];
}

/** Groups that somebody leads (with how many others lead that very group), and groups whose people are told to ask them. */
export async function hangingOn(db: Queryable, personId: number, seen: ((groupId: number) => boolean) | null): Promise<HangingOn> {
  const leads = await rows<HangingOn['leads'][number]>(
    db,
    sql`
    select l.row_id as "rowId", l.group_id as "groupId", l.powers, l.first_day as "firstDay", l.last_day as "lastDay",
      (select count(*)::int from leadership o where o.group_id = l.group_id and o.until_at is null and o.person_id <> l.person_id) as others,
      (select count(distinct r.person_id)::int from join_request r join group_branch b on b.group_id = r.group_id where b.ancestor_id = l.group_id and r.until_at is null and r.state = 'asking') as asking
    from leadership l join group_now g on g.id = l.group_id where l.person_id = ${personId} and l.until_at is null order by g.name collate people_order, g.id`,
  );
  const contact = await db
    .select({ groupId: tables.groupNow.id, rowId: tables.groupNow.rowId })
    .from(tables.groupNow)
    .where(eq(tables.groupNow.contactId, personId))
    .orderBy(sql`${tables.groupNow.name} collate people_order`, tables.groupNow.id);
  const codes = await rows<HangingOn['codes'][number]>(
    db,
    sql`
    select v.group_id as "groupId", v.row_id as "rowId", v.code_id as "codeId", v.code, v.is_chosen as "isChosen", v.group_ids as "groupIds", v.powers from join_code_version v join group_now g on g.id = v.group_id
    where v.made_by = ${personId} and v.until_at is null order by g.name collate people_order, v.code_id`,
  );
  const visible = ({ groupId }: { groupId: number }): boolean => seen === null || seen(groupId);
  // Who reads a code can use it: one that also opens groups outside is none of theirs.
  const isWhollySeen = ({ groupIds }: { groupIds: readonly number[] }): boolean => seen === null || groupIds.every(seen);
  return { leads: leads.filter(visible), contact: contact.filter(visible), codes: codes.filter(isWhollySeen) };
}

/**
 * Gives what hangs on one leader to others, line by line; with `cover` only for some days, and nothing is taken from anybody.
 */
export const planHandOver: Planner<'hand-over'> = async (context, change) => {
  const { db, actor, tree, seen } = context;
  const hangs = await hangingOn(db, change.fromId, seen);
  if (hangs.leads.length + hangs.contact.length + hangs.codes.length === 0) throw notFound();
  const effects = noEffects();
  const leads = change.lines.filter(({ what }) => what === 'leads');
  const contacts = change.cover ? [] : change.lines.filter(({ what }) => what === 'contact');
  for (const { groupId, what } of change.lines) {
    if (!tree.has(groupId) || !may(actor, powerFor[what], { path: tree.path(groupId) })) throw notFound();
  }
  const held = (line: HandOverLine) => hangs.leads.find(({ groupId }) => groupId === line.groupId);
  const codes = change.cover ? [] : change.lines.filter(({ what }) => what === 'code');
  const codeOf = (line: HandOverLine) => hangs.codes.find(({ codeId }) => codeId === line.codeId);
  const hangsOn = {
    leads: held,
    contact: (line: HandOverLine) => hangs.contact.find(({ groupId }) => groupId === line.groupId),
    code: codeOf,
  };
  const missing = change.lines.filter((line) => !hangsOn[line.what](line));
  if (missing.length > 0) effects.conflicts.push({ code: 'not a leader', blocks: true, count: missing.length });
  // Ending or handing on a code asks for what making it does.
  if (
    codes.some((line) => {
      const code = codeOf(line);
      return code && !mayMakeCode(actor, tree, { groupIds: code.groupIds.filter((id) => tree.has(id)), powers: code.powers });
    })
  )
    effects.conflicts.push({ code: 'power lacked', blocks: true, count: 1 });
  if (leads.some((line) => !holdsAll(context, line.groupId, held(line)?.powers ?? [])))
    effects.conflicts.push({ code: 'power lacked', blocks: true, count: 1 });
  if (change.cover && change.cover.lastDay < change.cover.firstDay)
    effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  if (change.lines.some(({ toId }) => toId === change.fromId)) effects.conflicts.push({ code: 'in itself', blocks: true, count: 1 });
  if (change.cover && change.lines.every(({ toId }) => toId === null))
    effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const successors = [...new Set(change.lines.flatMap(({ toId }) => toId ?? []))];
  await checkKnown(context, successors);
  const there = await db
    .select({
      row_id: tables.leadership.rowId,
      person_id: tables.leadership.personId,
      group_id: tables.leadership.groupId,
      powers: tables.leadership.powers,
      last_day: tables.leadership.lastDay,
    })
    .from(tables.leadership)
    .where(and(isAmong(tables.leadership.personId, successors), isNull(tables.leadership.untilAt)));
  const groups = [...new Set(change.lines.map(({ groupId }) => groupId))];
  return {
    effects,
    groups,
    summary: summaryOf({
      groups,
      people: [change.fromId, ...successors].slice(0, 3),
      counts: { lines: change.lines.length, cover: change.cover ? 1 : 0 },
    }),
    async write(_tx, writer) {
      const begun: Record<string, unknown>[] = [];
      const widened: { rowId: number; values: Record<string, unknown> }[] = [];
      for (const line of leads) {
        const { powers = [], firstDay = null, lastDay = null } = held(line) ?? {};
        if (line.toId === null) continue;
        const own = there.find(({ person_id, group_id }) => person_id === line.toId && group_id === line.groupId);
        const days = change.cover
          ? { first_day: change.cover.firstDay, last_day: change.cover.lastDay }
          : { first_day: firstDay, last_day: lastDay };
        if (!own) begun.push({ person_id: line.toId, group_id: line.groupId, powers, ...days });
        // Who leads there anyway keeps what they have; a cover adds nothing that would stay.
        else if (!change.cover) widened.push({ rowId: own.row_id, values: { powers: [...new Set([...own.powers, ...powers])] } });
      }
      if (!change.cover)
        await writer.end(
          'leadership',
          leads.flatMap((line) => held(line)?.rowId ?? []),
        );
      await writer.begin('leadership', begun);
      await writer.replace('leadership', widened);
      await writer.replace(
        'group',
        contacts.flatMap((line) => {
          const rowId = hangs.contact.find(({ groupId }) => groupId === line.groupId)?.rowId;
          return rowId === undefined ? [] : [{ rowId, values: { contact_id: line.toId } }];
        }),
      );
      // A code goes on under another name, or ends with whoever made it.
      await writer.replace(
        'join code',
        codes.flatMap((line) => (line.toId === null ? [] : [{ rowId: codeOf(line)?.rowId ?? 0, values: { made_by: line.toId } }])),
      );
      await writer.end(
        'join code',
        codes.flatMap((line) => (line.toId === null ? (codeOf(line)?.rowId ?? []) : [])),
      );
      return { sessions: [change.fromId, ...successors], entry: codes.length > 0 };
    },
  };
};

const powerFor: Record<HandOverLine['what'], Power> = { leads: 'appointLeaders', contact: 'shapeGroups', code: 'managePeople' };

/** @throws ProblemError `not-found` when one of them is not somebody the actor may see. */
async function checkKnown({ db, seen }: PlanContext, personIds: readonly number[]): Promise<void> {
  const found = await rows<{ id: number; groups: number[] }>(
    db,
    sql`
    select p.id, array(select group_id from membership where person_id = p.id and until_at is null union select group_id from leadership where person_id = p.id and until_at is null) as groups
    from person p join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'active' where p.id = any(${ids(personIds)})`,
  );
  if (found.filter(({ groups }) => seen === null || groups.some(seen)).length < personIds.length) throw notFound();
}
