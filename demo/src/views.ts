import { plainView, type ShownView } from '@gate-roster/contract';
import { addDays, type Day } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { createHash } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* Views that were kept under a name, one that goes out by letter, and two links that were shared. */

export async function loadViews(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  today: Day,
): Promise<void> {
  const at = (path: string): number => groups.find((group) => group.path === path)?.id ?? 0;
  const gullhaven = at('North Reach/Gullhaven');
  const head = leaders.find(({ groupId }) => groupId === gullhaven)?.person.id ?? administrator.id;
  const kept: { owner: number; group: number; name: string; forLeaders: boolean; shown: ShownView }[] = [
    {
      owner: administrator.id,
      group: at(''),
      name: 'Overdue everywhere',
      forLeaders: true,
      shown: { ...plainView, view: 'learners', filter: [{ part: 'lateness', of: ['overdue'] }] },
    },
    {
      owner: administrator.id,
      group: at('North Reach'),
      name: 'Stations side by side',
      forLeaders: false,
      shown: { ...plainView, view: 'beside' },
    },
    {
      owner: head,
      group: gullhaven,
      name: 'Late in my crews',
      forLeaders: false,
      shown: { ...plainView, view: 'learners', filter: [{ part: 'lateness', of: ['overdue', 'due soon'] }], sort: '-active' },
    },
  ];
  for (const { owner, group, name, forLeaders, shown } of kept)
    await tx.execute(
      sql`insert into kept_view (owner_id, group_id, name, shown, for_leaders) values (${owner}, ${group}, ${name}, ${JSON.stringify(shown)}::jsonb, ${forLeaders})`,
    );
  // One of them goes out by letter: to the leader of a station, last opened from a letter some days ago.
  await tx.execute(sql`
    with sent as (
      insert into report_letter (view_id, every, next_day, asked_at, opened_at)
      select id, 'week', ${addDays(today, 5)}, now() - interval '60 days', now() - interval '3 days' from kept_view where name = 'Overdue everywhere' returning id
    )
    insert into report_letter_reader (letter_id, person_id)
    select distinct sent.id, l.person_id from sent cross join leadership l join personal_now n on n.person_id = l.person_id and n.confirmed_email is not null where l.until_at is null and 'seeProgress' = any(l.powers)`);
  const shared = [
    {
      by: administrator.id,
      group: at(''),
      title: 'For the board',
      opened: 7,
      openedDaysAgo: 2,
      lastDay: addDays(today, 40),
      withdrawn: false,
    },
    {
      by: head,
      group: gullhaven,
      title: 'Gullhaven, for the harbour office',
      opened: 3,
      openedDaysAgo: 16,
      lastDay: addDays(today, 12),
      withdrawn: true,
    },
  ];
  // Nobody has the keys of these links; those that are made in the demo can be opened.
  for (const [index, { by, group, title, opened, openedDaysAgo, lastDay, withdrawn }] of shared.entries())
    await tx.execute(sql`
      insert into shared_view (hash, made_by, group_id, title, shown, says, with_names, last_day, made_at, withdrawn_at, opened, opened_at)
      values (${createHash('sha256').update(`link ${index}`).digest('base64url')}, ${by}, ${group}, ${title}, ${JSON.stringify(plainView)}::jsonb, '[]', false, ${lastDay}, now() - interval '30 days',
        ${withdrawn ? sql`now() - interval '10 days'` : sql`null`}, ${opened}, now() - make_interval(days => ${openedDaysAgo}::int))`);
}
