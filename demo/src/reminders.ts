import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* When people of the branches are reminded of what, those who were reminded lately, and what members are told. */

interface ReminderPlan {
  at: string;
  occasion: string;
  days: number | null;
  course?: string;
  text?: [string, string];
}

const plans: ReminderPlan[] = [
  { at: '', occasion: 'certificate ends', days: 30 },
  { at: '', occasion: 'membership ends', days: 14 },
  { at: '', occasion: 'seat ends', days: 21 },
  { at: 'Middle Sound', occasion: 'before due', days: 14 },
  { at: 'Middle Sound', occasion: 'after due', days: 3 },
  {
    at: 'Middle Sound',
    occasion: 'before due',
    days: 21,
    course: 'Casualty care',
    text: ['{course}: three weeks left', 'Bring your questions to the next drill. {course} is due on {until}.'],
  },
  { at: 'Middle Sound/Ternholm', occasion: 'before due', days: 7 },
  { at: 'Outer Skerries', occasion: 'not begun', days: 21 },
  { at: 'Outer Skerries', occasion: 'before due', days: 10 },
  { at: 'North Reach/Gullhaven', occasion: 'before due', days: 5 },
  { at: 'North Reach/Gullhaven/Cadets', occasion: 'before due', days: null },
];

const sent = [
  { at: 'Middle Sound', daysAgo: 3, course: 'Cold-water immersion', title: 'Cold-water immersion is overdue', most: 22 },
  { at: 'Outer Skerries', daysAgo: 9, course: 'VHF radio', title: 'VHF radio waits for you', most: 14 },
];

const memberStreams: [string, string][] = [
  ['North Reach/Gullhaven', 'came in,finished,new course,new handout,new leader'],
  ['Middle Sound', 'finished,new course'],
];

export async function loadReminders(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const idOf = (path: string): number =>
    (path === '' ? groups.find(({ parentId }) => parentId === null) : groups.find((group) => group.path === path))?.id ?? 0;
  const makerOf = (path: string): number =>
    leaders.find(({ groupId }) => groupId === idOf(path.split('/').slice(0, 2).join('/')))?.person.id ?? administrator.id;
  const before = (days: number): string => new Date(now.getTime() - days * 86_400_000).toISOString();
  for (const { at, occasion, days, course, text } of plans)
    await tx.execute(sql`
      insert into reminder_setting (group_id, course_id, occasion, days, subject, body, from_day, made_by, from_at)
      values (${idOf(at)}, (select id from course_now where name = ${course ?? null}), ${occasion}, ${days}, ${text?.[0] ?? null}, ${text?.[1] ?? null},
        ${before(0).slice(0, 10)}, ${makerOf(at)}, ${before(40)})`);
  for (const { at, daysAgo, course, title, most } of sent) {
    const about = sql`(select id from course_now where name = ${course})`;
    await tx.execute(sql`
      with made as (insert into message (made_at, told_at) values (${before(daysAgo)}, ${before(daysAgo)}) returning id),
      version as (
        insert into message_version (message_id, kind, title, body, group_id, answers, made_by, sent_at, from_at)
        select id, 'reminder', ${title}, ${`Go on with ${course} soon, or ask your leader for more time.`}, ${idOf(at)}, false, ${makerOf(at)}, ${before(daysAgo)}, ${before(daysAgo)} from made
      ), people as (
        select p.id, row_number() over (order by md5(p.id::text)) as nth from person p join enrolment e on e.person_id = p.id and e.is_current and e.status <> 'done' and e.course_id = ${about}
        where p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = ${idOf(at)}) order by 2 limit ${most}
      ), readers as (
        insert into message_reader (message_id, person_id, is_chosen, seen_at)
        select made.id, people.id, true, case when nth % 3 > 0 then ${before(daysAgo - 1)}::timestamptz end from made, people
      )
      insert into reminded (person_id, occasion, about_id, message_id) select people.id, 'after due', ${about}, made.id from made, people`);
  }
  await loadLetters(tx, before(3));
  for (const [at, kinds] of memberStreams)
    await tx.execute(
      sql`insert into member_stream (group_id, kinds, made_by, from_at) values (${idOf(at)}, ${`{${kinds
        .split(',')
        .map((kind) => `"${kind}"`)
        .join()}}`}::text[], ${makerOf(at)}, ${before(30)})`,
    );
}

/** The emails by which people were told of what was written: most arrived, a few came back. */
async function loadLetters(tx: Transaction, failedAt: string): Promise<void> {
  await tx.execute(sql`
    insert into letter (kind, person_id, address, subject, body, made_at, send_at, state, sent_at, tries, trouble)
    select 'messages', t.person_id, n.confirmed_email, v.title, v.title, v.sent_at, v.sent_at, case when t.nth % 61 = 7 then 'bounced' else 'sent' end,
      case when t.nth % 61 = 7 then null else v.sent_at + interval '1 minute' end, case when t.nth % 61 = 7 then 1 else 0 end, case when t.nth % 61 = 7 then '550 There is no such mailbox' end
    from (select t.*, row_number() over (order by t.message_id, t.person_id) as nth from message_notice t) t
    join message_version v on v.message_id = t.message_id join personal_now n on n.person_id = t.person_id where n.confirmed_email is not null`);
  // Three in a row: no more go there.
  await tx.execute(sql`
    insert into address_bounce (address, in_a_row, last_at)
    select address, 3, ${failedAt} from letter where state = 'bounced' and kind = 'messages' order by id limit 2 on conflict do nothing`);
}
