import type { Answer, letterStates, OutgoingLetter, Routes } from '@gate-roster/contract';
import { may } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { mostBounces } from '../letters/post.ts';
import { groupsOf, isMember } from '../people/scope.ts';

const atOnce = 60;

/** What is on its way to people of a scope. Who may write there sees which letters left; what they say is their reader's. */
export async function goingOut(
  db: Queryable,
  actor: SignedIn,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  { state, after }: { state?: (typeof letterStates)[number] | undefined; after?: number | undefined },
): Promise<Answer<Routes['goingOut']>> {
  const path = (await pathTo(db, actor, groupId)).map(({ id }) => id);
  const messages = await rows<Answer<Routes['goingOut']>['messages'][number]>(
    db,
    sql`
    select v.message_id as id, v.title, jsonb_build_object('id', g.id, 'name', g.name) as "group", v.sent_at as "sendAt" from message_version v join group_now g on g.id = v.group_id
    where v.until_at is null and v.sent_at > now() and v.group_id in (${groupsOf(groupId, withSubgroups)}) order by v.sent_at limit ${atOnce}`,
  );
  const shown = messages.map((each) => ({ ...each, sendAt: iso(each.sendAt) }));
  if (!may(actor, 'writeMessages', { path }))
    return { messages: shown, digests: 0, letters: [], next: null, counts: { waiting: 0, sent: 0, bounced: 0, stopped: 0 } };
  const hasStopped = sql`exists (select 1 from address_bounce b where b.address = l.address and b.in_a_row >= ${mostBounces})`;
  const inScope = sql`letter l join person p on p.id = l.person_id and ${isMember(groupId, withSubgroups)}`;
  const letters = await rows<OutgoingLetter>(
    db,
    sql`
    select l.id, jsonb_build_object('id', p.id, 'name', n.family_name || ', ' || n.given_name) as person, l.kind, l.state, case when l.state = 'sent' then l.sent_at else l.send_at end as at, l.trouble, ${hasStopped} as "hasStopped"
    from ${inScope} join personal_now n on n.person_id = p.id
    where ${state === undefined ? sql`true` : sql`l.state = ${state}`} and ${after === undefined ? sql`true` : sql`l.id < ${after}`} order by l.id desc limit ${atOnce + 1}`,
  );
  const page = letters.slice(0, atOnce);
  const counts = await oneRow<Answer<Routes['goingOut']>['counts']>(
    db,
    sql`
    select count(*) filter (where l.state = 'waiting')::int as waiting, count(*) filter (where l.state = 'sent')::int as sent, count(*) filter (where l.state = 'bounced')::int as bounced,
      count(distinct l.person_id) filter (where ${hasStopped})::int as stopped from ${inScope}`,
  );
  const { digests } = await oneRow<{ digests: number }>(
    db,
    sql`
    select count(distinct t.person_id)::int as digests from message_notice t join message_version v on v.message_id = t.message_id and v.until_at is null
    join person p on p.id = t.person_id and ${isMember(groupId, withSubgroups)} where t.sent_at is null`,
  );
  return {
    messages: shown,
    digests,
    letters: page.map((each) => ({ ...each, at: iso(each.at) })),
    next: letters.length > atOnce ? (page.at(-1)?.id ?? null) : null,
    counts,
  };
}
