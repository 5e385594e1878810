import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* What was written to groups in the last weeks, who saw it, did it, chose and answered. */

interface MessagePlan {
  at: string;
  title: string;
  body: string;
  hoursAgo: number;
  kind?: 'task' | 'question';
  urgent?: boolean;
  pinnedDays?: number;
  dueDays?: number;
  choices?: string[];
  answers?: false;
  tags?: string[];
  /** Name and content of a text file. */
  file?: [string, string];
  tally?: 'who chose';
  /** How many of a hundred have seen it, and have done it or chosen. */
  seen: number;
  acted?: number;
  /** Said by members, and what the leader says to it. */
  thread?: [string, string | null][];
}

const plans: MessagePlan[] = [
  {
    at: 'North Reach/Gullhaven/Cadets',
    title: 'New handouts for cadets',
    body: 'The tide tables for the winter are among the handouts of the group.',
    hoursAgo: 150,
    answers: false,
    seen: 72,
  },
  {
    at: 'Middle Sound/Ternholm',
    title: 'Thanks for Saturday',
    body: 'Nine boats checked in one morning. Well done, all of you.',
    hoursAgo: 90,
    seen: 64,
    thread: [['It was a good day.', null]],
  },
  {
    at: 'North Reach/Gullhaven/Shore crew',
    title: 'Which evening for the winter drill?',
    body: 'The hall is free on three evenings. Choose the one that suits you.',
    hoursAgo: 50,
    kind: 'question',
    choices: ['Tuesday', 'Wednesday', 'Thursday'],
    tally: 'who chose',
    tags: ['winter drill'],
    seen: 81,
    acted: 68,
  },
  {
    at: 'North Reach/Gullhaven/Inshore crew',
    title: 'Send in your jacket check',
    body: 'Look at the seams and the gas bottle, and tick this off when it is done.',
    hoursAgo: 27,
    kind: 'task',
    dueDays: 5,
    seen: 77,
    acted: 55,
  },
  {
    at: 'Outer Skerries/Hollow Ness',
    title: 'Slipway closed until Friday',
    body: 'The harbour office repairs the lower ramp. Use the east side.',
    hoursAgo: 20,
    pinnedDays: 4,
    seen: 58,
  },
  {
    at: 'North Reach/Gullhaven',
    title: 'Wind warning for Thursday',
    body: 'Thursday from noon: **gusts over 40 knots**. No boats out, shore crews stand by from 14:00.\n\nThe winter drill moves to the 3rd.',
    tags: ['weather', 'winter drill'],
    file: ['forecast-thursday.txt', 'Thursday, 12:00 to 20:00: south-west 8 to 9, gusts 42 knots, sea rough, visibility moderate.\n'],
    hoursAgo: 3,
    urgent: true,
    seen: 60,
    thread: [
      ['Stand by at the slip or at home?', 'At home, reachable within 20 minutes.'],
      ['Understood.', null],
    ],
  },
  {
    at: 'Outer Skerries/Hollow Ness',
    title: 'Open day at the boat house',
    body: 'Come an hour early and bring your card. There will be soup.',
    hoursAgo: -44,
    seen: 0,
  },
];

export async function loadMessages(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const before = (hours: number): string => new Date(now.getTime() - hours * 3_600_000).toISOString();
  const inDays = (days: number): string => new Date(now.getTime() + days * 86_400_000).toISOString().slice(0, 10);
  // The station's emails come from it by name.
  await tx.execute(
    sql`insert into letter_look (group_id, sender_name) values (${groups.find(({ path }) => path === 'North Reach/Gullhaven')?.id ?? 0}, 'Gullhaven station')`,
  );
  for (const [index, plan] of plans.entries()) {
    const id = index + 1;
    const group = groups.find(({ path }) => path === plan.at);
    const maker =
      leaders.find(({ groupId }) => groups.find((each) => each.id === groupId)?.path === plan.at.split('/').slice(0, 2).join('/'))
        ?.person ?? administrator;
    const sentAt = before(plan.hoursAgo);
    const fileId = plan.file ? await loadFile(tx, maker.id, plan.file) : null;
    const isLater = plan.hoursAgo < 0;
    const madeAt = isLater ? before(1) : sentAt;
    await tx.execute(sql`insert into message (made_at, told_at) values (${madeAt}, ${isLater ? null : sentAt})`);
    await tx.execute(sql`
      insert into message_version (message_id, kind, title, body, group_id, to_groups, with_subgroups, answers, urgent, pinned_until, due_day, choices, several, tally, tags, file_ids, made_by, sent_at, from_at)
      values (${id}, ${plan.kind ?? 'message'}, ${plan.title}, ${plan.body}, ${group?.id ?? 0}, ${`{${group?.id ?? 0}}`}::bigint[], true, ${plan.answers ?? true}, ${plan.urgent ?? false},
        ${plan.pinnedDays === undefined ? null : inDays(plan.pinnedDays)}, ${plan.dueDays === undefined ? null : inDays(plan.dueDays)},
        ${plan.choices ? `{${plan.choices.join()}}` : null}::text[], false, ${plan.tally ?? 'leaders'}, ${`{${(plan.tags ?? []).map((tag) => `"${tag}"`).join()}}`}::text[], ${fileId === null ? '{}' : `{${fileId}}`}::bigint[], ${maker.id}, ${sentAt}, ${madeAt})`);
    if (isLater) continue;
    const reached = sql`select p.id, row_number() over (order by md5(p.id::text || ${id}::text)) - 1 as nth, count(*) over () as of_all from person p
      where p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = ${group?.id ?? 0})`;
    const seenAt = sql`${sentAt}::timestamptz + (${plan.hoursAgo}::float * (1 + r.nth % 7) / 9) * interval '1 hour'`;
    await tx.execute(sql`
      insert into message_reader (message_id, person_id, seen_at, done_at, choices)
      select ${id}, r.id, ${seenAt}, case when ${plan.kind === 'task'} and r.nth * 100 < r.of_all * ${plan.acted ?? 0} then ${seenAt} end,
        case when ${plan.kind === 'question'} and r.nth * 100 < r.of_all * ${plan.acted ?? 0} then array[(r.nth * r.nth % ${plan.choices?.length ?? 1})::int] end
      from (${reached}) r where r.nth * 100 < r.of_all * ${plan.seen}`);
    await tx.execute(sql`
      insert into message_notice (message_id, person_id, sent_at)
      select ${id}, r.id, ${sentAt} from (${reached}) r join personal_now n on n.person_id = r.id where n.confirmed_email is not null`);
    for (const [nth, [asked, answered]] of (plan.thread ?? []).entries()) {
      const at = before(plan.hoursAgo * (0.8 - nth * 0.2));
      await tx.execute(
        sql`insert into message_answer (message_id, person_id, words, at) select ${id}, r.id, ${asked}, ${at} from (${reached}) r where r.nth = ${nth}`,
      );
      if (answered !== null)
        await tx.execute(
          sql`insert into message_answer (message_id, person_id, words, at) values (${id}, ${maker.id}, ${answered}, ${before(plan.hoursAgo * (0.75 - nth * 0.2))})`,
        );
    }
  }
}

async function loadFile(tx: Transaction, madeBy: number, [name, content]: [string, string]): Promise<number> {
  const { rows } = await tx.execute<{ id: string }>(
    sql`insert into upload (file_name, mime_type, content, made_by) values (${name}, 'application/octet-stream', ${Buffer.from(content)}, ${madeBy}) returning id`,
  );
  return Number(rows[0]?.id);
}
