import { type GroupId, joinCodeKey, type JoinQuestion, type Power, presets } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { DemoPerson, Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* The ways in of the demo world: codes, people asking, invitations. */

interface CodePlan {
  code: string;
  at: string[];
  days: number | null;
  limit: number | null;
  uses: number;
  isChosen?: boolean;
  note?: string;
  decision?: boolean;
  paused?: boolean;
  powers?: readonly Power[];
  email?: 'no' | 'may' | 'must';
  questions?: JoinQuestion[];
  /** Without VAT, in cents. */
  price?: number;
}

const boat: JoinQuestion = {
  key: 'boat',
  label: 'Boats you have crewed',
  kind: 'choice',
  choices: ['None yet', 'Inshore', 'Harbour tender', 'Both'],
  required: true,
};
const codes: CodePlan[] = [
  { code: 'GK7MTQX4RA', at: ['North Reach/Gullhaven/Inshore crew'], days: 45, limit: null, uses: 14, note: 'On the noticeboard' },
  { code: 'RA4GM7TQ3K', at: ['North Reach/Gullhaven/Shore crew'], days: 60, limit: null, uses: 9, decision: true, questions: [boat] },
  { code: 'PENMARROW26', at: ['North Reach/Penmarrow'], days: 20, limit: 40, uses: 11, isChosen: true, note: 'Open day' },
  { code: 'H4KCDYNTW7', at: ['North Reach/Gullhaven/Cadets'], days: 30, limit: 20, uses: 4, email: 'no' },
  { code: 'TQ9XAF6VPU', at: ['Middle Sound'], days: -12, limit: null, uses: 37 },
  { code: 'VW3EPJ7RKN', at: ['Outer Skerries'], days: null, limit: 10, uses: 10, paused: true },
  {
    code: 'M6RYFQHAX9',
    at: ['Middle Sound'],
    days: 14,
    limit: 3,
    uses: 1,
    decision: true,
    powers: presets.helper,
    note: 'For new helpers',
  },
  {
    code: 'N3WAKQXR7T',
    at: ['Outer Skerries/Skerry Light/Tower watch'],
    days: 70,
    limit: 30,
    uses: 5,
    price: 2000,
    note: 'Visitors’ watch course',
  },
];

const asking: { given: string; family: string; at: number; daysAgo: number; boat?: string; like?: 'number' }[] = [
  { given: 'Rosalind', family: 'Okpara', at: 1, daysAgo: 6, boat: 'Inshore' },
  { given: 'Teuvo', family: 'Marchetti', at: 1, daysAgo: 3, boat: 'None yet', like: 'number' },
  { given: 'Imogen', family: 'Szabolcs', at: 1, daysAgo: 1, boat: 'Both' },
  { given: 'Kwabena', family: 'Lindegaard', at: 6, daysAgo: 4 },
  { given: 'Yui', family: 'Castellane', at: 6, daysAgo: 2 },
];

const invited: { given: string; family: string; address: string; daysAgo: number; state: 'sent' | 'opened' | 'bounced' }[] = [
  { given: 'Petra', family: 'Ingram', address: 'petra.ingram@ternmail.example', daysAgo: 5, state: 'opened' },
  { given: 'Olumide', family: 'Hartvig', address: 'olumide.hartvig@ternmail.example', daysAgo: 5, state: 'sent' },
  { given: 'Sunniva', family: 'Paz', address: 'sunniva.paz@gone.example', daysAgo: 5, state: 'bounced' },
];

/** After the people: an asking person's account, and everything else of the ways in. */
export async function loadWaysIn(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  people: readonly DemoPerson[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const groupAt = (path: string): GroupId => groups.find((group) => group.path === path)?.id ?? 0;
  const daysFrom = (days: number): string => new Date(now.getTime() + days * 86_400_000).toISOString();
  const maker = leaders[0]?.person.id ?? administrator.id;
  for (const [index, plan] of codes.entries()) {
    const ids = plan.at.map(groupAt);
    const asks = { email: plan.email ?? 'may', idNumber: plan.decision ? 'may' : 'no', questions: plan.questions ?? [] };
    await tx.execute(sql`insert into join_code (made_at, uses) values (${daysFrom(-40)}, ${plan.uses})`);
    await tx.execute(sql`
      insert into join_code_version (code_id, made_by, group_id, group_ids, code, code_key, is_chosen, note, tags, powers, last_at, use_limit, needs_decision, paused, price, asks, from_at)
      values (${index + 1}, ${plan.at[0]?.includes('Gullhaven') ? maker : administrator.id}, ${ids[0]}, ${`{${ids.join()}}`}::bigint[], ${plan.code}, ${joinCodeKey(plan.code)}, ${plan.isChosen ?? false}, ${plan.note ?? null}, '{}',
        ${plan.powers ? `{${plan.powers.join()}}` : null}::text[], ${plan.days === null ? null : daysFrom(plan.days)}, ${plan.limit}, ${plan.decision ?? false}, ${plan.paused ?? false}, ${plan.price ?? null},
        ${JSON.stringify(asks)}::jsonb, ${daysFrom(-40)})`);
    // Some of those who are in came by it.
    const [question] = plan.questions ?? [];
    const answer = sql`(${JSON.stringify(question?.choices ?? [])}::jsonb ->> (nth % ${Math.max(1, question?.choices.length ?? 1)})::int)`;
    await tx.execute(sql`
      with came as (
        update membership m set came_by = 'join code', join_code_id = ${index + 1} from (
          select row_id, row_number() over (order by row_id)::int as nth from membership where group_id = ${ids[0]} and until_at is null and from_at < now() order by row_id limit ${plan.uses}) c
        where c.row_id = m.row_id returning m.person_id, c.nth)
      insert into join_code_use (code_id, person_id, at, answers)
      select ${index + 1}, person_id, ${daysFrom(-20)}, ${question ? sql`jsonb_build_array(jsonb_build_object('label', ${question.label}::text, 'answer', ${answer}))` : sql`'[]'::jsonb`}
      from came on conflict do nothing`);
  }
  for (const [index, each] of asking.entries()) {
    const id = people.length + index + 1;
    const groupId = groupAt(codes[each.at]?.at[0] ?? '');
    const known = people.find(({ memberships }) => memberships.some((held) => held.groupId === groupId));
    const answers = {
      ...(each.boat ? { boat: each.boat } : {}),
      ...(each.like === 'number' && known?.idNumber ? { '#idNumber': known.idNumber } : {}),
    };
    const at = daysFrom(-each.daysAgo);
    const address = `${each.given}.${each.family}@ternmail.example`.toLowerCase();
    const name = `${each.given.slice(0, 1)}${each.family}`.toLowerCase();
    await tx.execute(sql`insert into person (id, role, set_id, created_at) overriding system value values (${id}, 'none', 1, ${at})`);
    await tx.execute(
      sql`insert into personal (person_id, given_name, family_name, email, sign_in_name, from_at) values (${id}, ${each.given}, ${each.family}, ${address}, ${`${name}${40 + index}`}, ${at})`,
    );
    await tx.execute(sql`insert into person_state (person_id, state, from_at) values (${id}, 'asking', ${at})`);
    await tx.execute(
      sql`insert into join_request (person_id, code_id, group_id, answers, state, asked_at, from_at) values (${id}, ${each.at + 1}, ${groupId}, ${JSON.stringify(answers)}::jsonb, 'asking', ${at}, ${at})`,
    );
    await tx.execute(sql`insert into join_code_use (code_id, person_id, at) values (${each.at + 1}, ${id}, ${at})`);
  }
  const gullhaven = groupAt('North Reach/Gullhaven');
  for (const [index, each] of invited.entries()) {
    const at = daysFrom(-each.daysAgo);
    await tx.execute(sql`
      insert into invitation (group_id, email, given_name, family_name, hash, ends_at, opened_at, from_at)
      values (${gullhaven}, ${each.address}, ${each.given}, ${each.family}, ${`demo-${index}`}, ${daysFrom(25)}, ${each.state === 'opened' ? daysFrom(1 - each.daysAgo) : null}, ${at})`);
    const bounced = each.state === 'bounced';
    await tx.execute(sql`
      insert into letter (invitation_id, address, subject, body, made_at, send_at, state, sent_at, trouble)
      select max(row_id), ${each.address}, 'Invitation to Gullhaven', 'You are asked to come into Gullhaven.', ${at}, ${at}, ${bounced ? 'bounced' : 'sent'},
        ${bounced ? null : at}, ${bounced ? `550 There is no mailbox ${each.address}` : null} from invitation`);
  }
}

const wished = [
  {
    at: 'North Reach/Gullhaven/Inshore crew',
    nth: 2,
    course: 'Teaching others',
    daysAgo: 5,
    words: 'I have trained the newcomers by the side for two years.',
  },
  { at: 'North Reach/Gullhaven/Shore crew', nth: 1, course: 'Search from the air', daysAgo: 3, words: null },
  { at: 'North Reach/Gullhaven/Shore crew', nth: 4, course: 'Teaching others', daysAgo: 2, words: 'Solveig said I should ask.' },
  { at: 'Middle Sound/Ternholm/Inshore crew', nth: 1, course: 'Search from the air', daysAgo: 8, words: 'We have the aircraft already.' },
  { at: 'Outer Skerries/Skerry Light/Inshore crew', nth: 3, course: 'Search from the air', daysAgo: 1, words: null },
];

/** Learners ask for courses that are open on request. */
export async function loadCourseRequests(tx: Transaction, groups: readonly PlacedGroup[], now: Date): Promise<void> {
  for (const { at, nth, course, daysAgo, words } of wished) {
    const askedAt = new Date(now.getTime() - daysAgo * 86_400_000).toISOString();
    await tx.execute(sql`
      insert into course_request (person_id, course_id, state, asked_at, asking, from_at)
      select m.person_id, c.id, 'asking', ${askedAt}, ${words}, ${askedAt} from course_now c cross join lateral (
        select person_id from membership where group_id = ${groups.find(({ path }) => path === at)?.id ?? 0} and until_at is null and from_at < ${askedAt}::timestamptz order by person_id offset ${nth} limit 1
      ) m where c.name = ${course}`);
  }
}

/** Some people could not sign in lately, and have not since. */
export async function loadTrouble(tx: Transaction, now: Date): Promise<void> {
  await tx.execute(sql`
    insert into sign_in_trouble (number, person_id, at, ends_at)
    select lpad((217411 * n % 1000000)::text, 6, '0'), p.id, ${now.toISOString()}::timestamptz - p.nth * interval '7 hours' - n * interval '2 minutes', ${now.toISOString()}::timestamptz - interval '1 hour'
    from (select id, row_number() over (order by md5(id::text)) as nth from person where role = 'none' and counted and (active_at is null or active_at < now() - interval '30 days') order by 2 limit 7) p
    cross join lateral (select p.nth * 10 + t as n from generate_series(1, 1 + (p.nth % 3)) t) tries`);
}
