import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { onlyGroups, seesAll } from './scope.ts';

/** Everything that is stored on a person, table by table, now and earlier; to a leader without groups, powers and tags of elsewhere. */
export async function exportOfPerson(db: Queryable, actor: SignedIn, personId: number): Promise<Record<string, unknown>> {
  const own = await seenGroups(db, actor);
  const all = async (statement: ReturnType<typeof sql>): Promise<unknown[]> =>
    (await rows<{ row: unknown }>(db, sql`select to_jsonb(r) as row from (${statement}) r`)).map(({ row }) => row);
  return {
    account: await all(sql`select id, role, signed_in_at, active_at, created_at from person where id = ${personId}`),
    details: await all(
      sql`select given_name, family_name, email, confirmed_email is not null as address_confirmed, guardian_email, sign_in_name, id_number, name_hidden, from_at, until_at from personal where person_id = ${personId} order by from_at`,
    ),
    states: await all(
      sql`select state, first_day, last_day, from_at, until_at from person_state where person_id = ${personId} order by from_at`,
    ),
    groups: await all(sql`
      select v.name as "group", m.came_by, m.first_day, m.last_day, m.from_at, m.until_at from membership m
      join lateral (select name from group_version v where v.group_id = m.group_id order by row_id desc limit 1) v on true where m.person_id = ${personId} and ${onlyGroups(sql`m.group_id`, own)} order by m.from_at`),
    leads: await all(sql`
      select v.name as "group", l.powers, l.first_day, l.last_day, l.from_at, l.until_at from leadership l
      join lateral (select name from group_version v where v.group_id = l.group_id order by row_id desc limit 1) v on true where l.person_id = ${personId} and ${onlyGroups(sql`l.group_id`, own)} order by l.from_at`),
    tags: await all(sql`
      select v.name as tag, t.from_at, t.until_at from person_tag t join lateral (select name from tag_version v where v.tag_id = t.tag_id order by row_id desc limit 1) v on true where t.person_id = ${personId} and ${own === null ? sql`true` : sql`exists (select 1 from tag_version tv where tv.tag_id = t.tag_id and ${onlyGroups(sql`tv.branch_id`, own)})`} order by t.from_at`),
    codes: await all(sql`
      select v.code, u.at, u.answers from join_code_use u join lateral (select code, group_ids from join_code_version v where v.code_id = u.code_id order by row_id desc limit 1) v on true
      where u.person_id = ${personId} and ${seesAll(sql`v.group_ids`, own)} order by u.at`),
    enrolments: await all(sql`
      select c.name as course, e.round, e.is_current, e.status, e.begun_at, e.done_at, e.score, e.exempt, e.exempt_reason, e.done_elsewhere, e.elsewhere_reason
      from enrolment e join course_now c on c.id = e.course_id where e.person_id = ${personId} order by c.name, e.round`),
    results: await all(sql`
      select c.name as course, a.name as activity, r.finished, r.score, r.tries, r.last_at from activity_result r join enrolment e on e.id = r.enrolment_id
      join course_now c on c.id = e.course_id join lateral (select name from activity_version v where v.activity_id = r.activity_id order by row_id desc limit 1) a on true where e.person_id = ${personId} order by r.last_at`),
    statements: await all(sql`
      select o.name as source, r.id, r.received_at, r.at, r.not_counted, s.said as plain, p.said as personal from report r join source o on o.id = r.source_id
      join statement s on s.source_id = r.source_id and s.id = r.id and s.received_at = r.received_at left join statement_personal p on p.source_id = r.source_id and p.id = r.id
      where r.person_id = ${personId} order by r.received_at, r.id`),
    work: await all(sql`
      select c.name as course, a.name as activity, v.number, v.state, v.words, v.link, v.handed_in_at, m.verdict, m.score, m.comment, m.marked_at,
        (select coalesce(jsonb_agg(f.file_name order by f.id), '[]') from work_file f where f.version_id = v.id) as files
      from enrolment e join work w on w.enrolment_id = e.id join work_version v on v.work_id = w.id left join mark m on m.version_id = v.id and m.until_at is null
      join course_now c on c.id = e.course_id join lateral (select name from activity_version v where v.activity_id = w.activity_id order by row_id desc limit 1) a on true
      where e.person_id = ${personId} order by v.made_at`),
    certificates: await all(sql`
      select number, about, day, score, valid_until, given_at, until_at as withdrawn_at, name_shown from certificate where person_id = ${personId} order by given_at`),
    seats: await all(
      sql`select (select name from licence_version where licence_id = s.licence_id order by row_id desc limit 1) as licence, s.from_at, s.until_at from seat s where s.person_id = ${personId} and ${onlyGroups(sql`s.group_id`, own)} order by s.from_at`,
    ),
    seatWords: await all(sql`
      select (select name from licence_version where licence_id = w.licence_id order by row_id desc limit 1) as licence, w.word, w.from_at, w.until_at from seat_word w where w.person_id = ${personId} order by w.from_at`),
    exceptions: await all(sql`
      select c.name as course, x.kind, x.day, x.reason, x.proof, x.from_at, x.until_at from course_exception x join course_now c on c.id = x.course_id
      where x.person_id = ${personId} and (x.maker_branch_id is null or ${onlyGroups(sql`x.maker_branch_id`, own)}) order by x.from_at`),
    courseRequests: await all(sql`
      select c.name as course, r.state, r.asked_at, r.asking, r.word, r.from_at, r.until_at from course_request r join course_now c on c.id = r.course_id where r.person_id = ${personId} order by r.from_at`),
    messages: await all(sql`
      select v.title, v.sent_at, r.seen_at, r.done_at, r.choices, r.own_words from message_reader r join lateral (select title, sent_at, group_id from message_version v where v.message_id = r.message_id order by row_id desc limit 1) v on true
      where r.person_id = ${personId} and ${onlyGroups(sql`v.group_id`, own)} order by v.sent_at`),
    answers: await all(sql`
      select v.title, a.words, a.at from message_answer a join lateral (select title, group_id from message_version v where v.message_id = a.message_id order by row_id desc limit 1) v on true
      where a.person_id = ${personId} and ${onlyGroups(sql`v.group_id`, own)} order by a.at`),
    splits: await all(sql`
      select v.name as split, m.from_at, m.until_at from split_member m join lateral (select name, group_id from split_version v where v.split_id = m.split_id order by row_id desc limit 1) v on true
      where m.person_id = ${personId} and ${onlyGroups(sql`v.group_id`, own)} order by m.from_at`),
    rules: await all(sql`
      select v.name as rule, a.at, a.outcome from rule_act a join lateral (select name, group_id from rule_version v where v.rule_id = a.rule_id order by row_id desc limit 1) v on true
      where a.person_id = ${personId} and ${onlyGroups(sql`v.group_id`, own)} order by a.at`),
    orders: await all(sql`
      select (select name from licence_version where licence_id = o.licence_id order by row_id desc limit 1) as licence, o.what, o.seats, o.asking, o.state, o.asked_at from seat_order o
      where o.ordered_by = ${personId} and ${onlyGroups(sql`o.group_id`, own)} order by o.asked_at`),
    paidEntries: await all(sql`
      select (select name from group_version v where v.group_id = e.group_ids[1] order by row_id desc limit 1) as "group", e.answers, e.id_number, e.net, e.vat, e.currency, e.state, e.asked_at from paid_entry e
      where e.person_id = ${personId} and ${onlyGroups(sql`e.group_ids[1]`, own)} order by e.asked_at`),
    keptViews: await all(sql`select name, made_at from kept_view where owner_id = ${personId} order by made_at`),
    reportLetters: await all(sql`
      select v.name as view, l.every, l.next_day from report_letter_reader r join report_letter l on l.id = r.letter_id join kept_view v on v.id = l.view_id where r.person_id = ${personId} order by l.id`),
    sharedViews: await all(
      sql`select title, made_at, last_day, withdrawn_at, opened from shared_view where made_by = ${personId} order by made_at`,
    ),
    letters: await all(sql`select address, subject, made_at from letter where person_id = ${personId} order by made_at`),
    changes: await all(sql`
      select distinct c.id, c.kind, c.made_at from change_subject s join change_log c on c.id = s.change_id where s.person_id = ${personId} and ${own === null ? sql`true` : sql`exists (select 1 from change_group g where g.change_id = c.id and ${onlyGroups(sql`g.group_id`, own)})`} order by c.id`),
  };
}
