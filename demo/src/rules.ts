import { nameKey } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* Automatic rules: one that tags who has finished a course, one that tells leaders of the idle, and one that waits to be switched on. */

const onDaysAgo = 90;
const idleDays = 45;

export async function loadRules(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const onSince = new Date(now.getTime() - onDaysAgo * 86_400_000).toISOString();
  const at = (path: string): number => groups.find((group) => group.path === path)?.id ?? 0;
  const course = async (name: string): Promise<number> => {
    const [found] = (await tx.execute(sql`select id from course_now where name = ${name}`)).rows as { id: string }[];
    return Number(found?.id ?? 0);
  };
  const [gullhaven, northReach, towerWatch] = [at('North Reach/Gullhaven'), at('North Reach'), at('North Reach/Gullhaven/Tower watch')];
  const head = leaders.find(({ groupId }) => groupId === gullhaven)?.person;
  const [care, lookout] = [await course('Casualty care'), await course('Tower lookout')];
  const rules = [
    {
      id: 1,
      group: gullhaven,
      name: 'Casualty care done: ready for the boat',
      when: { when: 'finishes', courseId: care, unitId: null },
      then: [{ act: 'tag', name: 'boat ready' }],
      by: head?.id ?? administrator.id,
      branch: head ? gullhaven : null,
      isOn: true,
    },
    {
      id: 2,
      group: northReach,
      name: `Idle ${idleDays} days: tell the leaders`,
      when: { when: 'idle', days: idleDays },
      then: [{ act: 'tell leaders', words: `Nothing was heard of them for ${idleDays} days.` }],
      by: administrator.id,
      branch: null,
      isOn: true,
    },
    {
      id: 3,
      group: gullhaven,
      name: 'Tower lookout begun: into the tower watch',
      when: { when: 'begins', courseId: lookout },
      then: [{ act: 'put in', groupId: towerWatch }],
      by: administrator.id,
      branch: null,
      isOn: false,
    },
    {
      id: 4,
      group: at('Middle Sound/Kelder Quay'),
      name: 'Safeguarding done: may work with cadets',
      when: { when: 'finishes', courseId: await course('Safeguarding'), unitId: null },
      then: [{ act: 'tag', name: 'cadet helper' }],
      by: administrator.id,
      branch: null,
      isOn: true,
      asks: true,
    },
  ];
  await tx.execute(
    sql`insert into rule (id) overriding system value select id from jsonb_to_recordset(${JSON.stringify(rules)}::jsonb) as r(id bigint)`,
  );
  await tx.execute(sql`select setval(pg_get_serial_sequence('rule', 'id'), ${rules.length})`);
  await tx.execute(sql`
    insert into rule_version (rule_id, group_id, name, set_off, filter, acts, asks_first, is_on, on_since, made_by, maker_branch_id, from_at)
    select id, "group", name, "when", '[]', "then", coalesce(asks, false), "isOn", case when "isOn" then ${onSince}::timestamptz end, by, branch, ${onSince}
    from jsonb_to_recordset(${JSON.stringify(rules)}::jsonb) as r(id bigint, "group" bigint, name text, "when" jsonb, "then" jsonb, by bigint, branch bigint, "isOn" boolean, asks boolean)`);
  const inBranch = (group: number) => sql`p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = ${group})`;
  await tx.execute(sql`
    insert into rule_act (rule_id, person_id, occasion, at, outcome)
    select 1, p.id, e.id::text, e.done_at, 'acted' from person p join enrolment e on e.person_id = p.id and e.course_id = ${care} and e.status = 'done'
    where ${inBranch(gullhaven)} and e.done_at > ${onSince}::timestamptz order by e.done_at`);
  await tx.execute(sql`
    insert into rule_act (rule_id, person_id, occasion, at, outcome)
    select 2, p.id, p.active_at::text, p.active_at + make_interval(days => ${idleDays}::int), 'acted' from person p
    where ${inBranch(northReach)} and p.active_at + make_interval(days => ${idleDays}::int) between ${onSince}::timestamptz and ${now.toISOString()}::timestamptz order by p.active_at`);
  await tx.execute(sql`
    insert into rule_act (rule_id, person_id, occasion, at, outcome)
    select 4, p.id, e.id::text, e.done_at, case when row_number() over (order by e.done_at desc, e.id) <= 4 then 'asked' else 'left alone' end
    from person p join enrolment e on e.person_id = p.id and e.course_id = ${await course('Safeguarding')} and e.status = 'done'
    where ${inBranch(at('Middle Sound/Kelder Quay'))} and e.done_at > ${onSince}::timestamptz order by e.done_at`);
  await tx.execute(sql`
    with made as (insert into tag (branch_id) values (${gullhaven}) returning id),
      named as (insert into tag_version (tag_id, branch_id, name, name_key, from_at) select id, ${gullhaven}, 'boat ready', ${nameKey('boat ready')}, ${onSince} from made)
    insert into person_tag (person_id, tag_id, from_at) select a.person_id, made.id, a.at from rule_act a cross join made where a.rule_id = 1`);
}
