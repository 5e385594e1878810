import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* Splits: one of the cadets of Stacks Point that runs, and one of an inshore crew that is kept for the next time. */

const runningHours = 20;

export async function loadSplits(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const at = (path: string): number => groups.find((group) => group.path === path)?.id ?? 0;
  const course = async (name: string): Promise<{ id: number; units: number[] }> => {
    const { rows } = await tx.execute(
      sql`select c.id, (select jsonb_agg(u.id order by u.position) from unit_now u where u.course_id = c.id) as units from course_now c where c.name = ${name}`,
    );
    const [found] = rows as { id: string; units: number[] }[];
    return { id: Number(found?.id ?? 0), units: found?.units ?? [] };
  };
  const [water, radio, boats] = [await course('Cold-water immersion'), await course('VHF radio'), await course('Boat handling 1')];
  const gullhaven = at('North Reach/Gullhaven');
  const head = leaders.find(({ groupId }) => groupId === gullhaven)?.person;
  const part = (key: number, name: string, more: object) => ({
    key,
    name,
    leaderId: null,
    isOn: true,
    allowance: null,
    link: null,
    words: '',
    ...more,
  });
  const only = (of: { id: number; units: number[] }, units: number | null) => ({
    mode: 'only',
    courses: [{ courseId: of.id, units: units === null ? null : of.units.slice(0, units) }],
  });
  const splits = [
    {
      id: 1,
      group: at('North Reach/Stacks Point/Cadets'),
      name: 'Pool evening',
      by: administrator.id,
      branch: null,
      runs: true,
      parts: [
        part(1, 'In the pool', { allowance: only(water, 2), words: 'Throw lines are at the deep end.' }),
        part(2, 'In the radio room', { allowance: only(radio, null), link: 'https://films.example/mayday' }),
      ],
      share: 3,
    },
    {
      id: 2,
      group: at('North Reach/Gullhaven/Inshore crew'),
      name: 'Winter drill',
      by: head?.id ?? administrator.id,
      branch: head ? gullhaven : null,
      runs: false,
      parts: [
        part(1, 'Pool', { allowance: only(water, 2) }),
        part(2, 'Boats', { allowance: { mode: 'as well', courses: [{ courseId: boats.id, units: null }] } }),
        part(3, 'Radio room', { isOn: false, allowance: only(radio, null), link: 'https://films.example/mayday' }),
      ],
      share: 4,
    },
  ];
  const given = sql`jsonb_to_recordset(${JSON.stringify(splits)}::jsonb) as r(id bigint, "group" bigint, name text, by bigint, branch bigint, runs boolean, parts jsonb, share int)`;
  await tx.execute(sql`insert into split (id) overriding system value select id from ${given}`);
  await tx.execute(sql`select setval(pg_get_serial_sequence('split', 'id'), ${splits.length})`);
  const madeAt = new Date(now.getTime() - 3_600_000).toISOString();
  await tx.execute(sql`
    insert into split_version (split_id, group_id, name, parts, runs_from, runs_until, made_by, maker_branch_id, from_at)
    select id, "group", name, parts, case when runs then ${madeAt}::timestamptz end, case when runs then ${madeAt}::timestamptz + make_interval(hours => ${runningHours}::int) end, by, branch, ${madeAt} from ${given}`);
  // Dealt out by family name; each so-manieth is in no part.
  await tx.execute(sql`
    insert into split_member (split_id, part, person_id, from_at)
    select r.id, 1 + m.place % jsonb_array_length(r.parts), m.person_id, ${madeAt} from ${given} join lateral (
      select m.person_id, (row_number() over (order by n.family_name, n.given_name, m.person_id))::int as place from membership m join personal_now n on n.person_id = m.person_id
      where m.group_id = r."group" and m.until_at is null
    ) m on m.place % r.share <> 0`);
}
