import { type Change, plainValues } from '@gate-roster/contract';
import { addDays, type Day, inOrder, type RuleAct } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { writeLetters } from '../letters/write-letters.ts';
import type { StandingRule } from './standing-rules.ts';

type Acting = Pick<StandingRule, 'group_id' | 'name' | 'then'>;

/** What a rule does with some people, as changes that anybody could make; telling leaders is none. */
export const changesOf = (rule: Acting, personIds: readonly number[], today: Day): Change[] =>
  inOrder(rule.then).flatMap((act) => changeOf(act, rule, [...personIds], today) ?? []);

function changeOf(act: RuleAct, { group_id: groupId }: Acting, personIds: number[], today: Day): Change | null {
  switch (act.act) {
    case 'put in':
      return { kind: 'add-members', groupId: act.groupId, personIds, firstDay: null, lastDay: null };
    case 'move':
      return { kind: 'move-members', fromId: act.fromId, intoId: act.intoId, personIds };
    case 'take out':
      return { kind: 'remove-members', groupId: act.groupId, personIds };
    case 'tag':
      return { kind: 'tag-people', groupId, personIds, add: [act.name], remove: [] };
    case 'open':
      return {
        kind: 'except-people',
        groupId,
        personIds,
        courseId: act.courseId,
        exception: { what: 'open', firstDay: null, lastDay: null, units: null, due: null },
      };
    case 'block':
      return {
        kind: 'except-people',
        groupId,
        personIds,
        courseId: act.courseId,
        exception: { what: 'block', firstDay: null, lastDay: null },
      };
    case 'more time':
      return {
        kind: 'except-people',
        groupId,
        personIds,
        courseId: act.courseId,
        exception: { what: 'more time', day: addDays(today, act.days) },
      };
    case 'give back a seat':
      return { kind: 'take-back-seats', licenceId: act.licenceId, groupId, personIds, idleDays: null };
    case 'write':
      return {
        kind: 'send-message',
        groupId,
        audience: { to: 'people', personIds },
        values: { ...plainValues, title: act.title, body: act.body },
      };
    case 'tell leaders':
      return null;
  }
}

const namedInLetter = 12;

interface Leader {
  id: number;
  given_name: string;
  email: string;
}

/** Those who lead the group of a rule, or the nearest one above that somebody leads, with an address. */
export const leadersOf = (db: Queryable, groupId: number, today: Day): Promise<Leader[]> =>
  rows<Leader>(
    db,
    sql`
    select p.id, n.given_name, n.email from (
      select l.person_id, b.depth, min(b.depth) over () as nearest from leadership l join group_branch b on b.ancestor_id = l.group_id and b.group_id = ${groupId}
      where l.until_at is null and coalesce(l.first_day <= ${today}, true) and coalesce(l.last_day >= ${today}, true)
    ) l join person p on p.id = l.person_id join personal_now n on n.person_id = p.id where l.depth = l.nearest and n.confirmed_email is not null order by p.id`,
  );

/** Writes to leaders what a rule tells them, with the names it is about. */
export async function tellLeaders(
  tx: Queryable,
  publicUrl: string,
  rule: Acting,
  personIds: readonly number[],
  leaders: readonly Leader[],
): Promise<void> {
  const said = rule.then.flatMap((act) => (act.act === 'tell leaders' ? act.words : []));
  if (said.length === 0 || leaders.length === 0) return;
  const names = await rows<{ name: string }>(
    tx,
    sql`select trim(given_name || ' ' || family_name) as name from personal_now where person_id = any(${ids(personIds)}) order by family_name collate people_order limit ${namedInLetter}`,
  );
  const more = personIds.length - names.length;
  const words = [...said, '', ...names.map(({ name }) => name), ...(more > 0 ? [`and ${more} more`] : [])].join('\n');
  await writeLetters(
    tx,
    publicUrl,
    'rule told',
    leaders.map(({ id, given_name, email }) => ({
      personId: id,
      address: email,
      groupId: rule.group_id,
      values: { name: given_name, title: rule.name, words, link: `${publicUrl}/groups/${rule.group_id}` },
    })),
  );
}
