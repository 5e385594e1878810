import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { ensureStatementMonth } from '../standards/statement-months.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';
import { type PersonColumn, personColumns } from './columns-of-people.ts';

let site: Site;
let mirela: Client;
let db: pg.Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  db = new pg.Client({ connectionString: site.databaseUrl });
  await db.connect();
  await ensureStatementMonth(site.deps.db, new Date());
});
afterAll(async () => {
  await db.end();
  await site.stop();
});

const read = async <T>(text: string, values: unknown[] = []): Promise<T[]> => (await db.query(text, values)).rows as T[];
const one = async (text: string, values: unknown[] = []): Promise<number> => Number((await read<{ n: string }>(text, values))[0]?.n);

/** Columns of our tables of these types, as `table.column`, without each row's own number. */
const columnsOfTypes = async (...types: string[]): Promise<string[]> =>
  (
    await read<{ place: string }>(
      `select c.table_name || '.' || c.column_name as place from information_schema.columns c join pg_class t on t.relname = c.table_name and t.relnamespace = 'public'::regnamespace
       where c.table_schema = 'public' and c.udt_name = any($1) and t.relkind in ('r', 'p') and not t.relispartition and c.is_identity = 'NO' order by 1`,
      [types],
    )
  ).map(({ place }) => place);
const keyedColumns = async (to: string): Promise<string[]> =>
  (
    await read<{ place: string }>(
      `select distinct t.relname || '.' || a.attname as place from pg_constraint k join pg_class t on t.oid = k.conrelid join pg_attribute a on a.attrelid = t.oid and a.attnum = k.conkey[1]
       where k.contype = 'f' and k.confrelid::regclass::text like $1 and not t.relispartition and t.relnamespace = 'public'::regnamespace`,
      [to],
    )
  ).map(({ place }) => place);

/** Numbers that refer to something by no foreign key, and are no person's; and plain numbers. */
const otherNumbers = `
  access_grant.licences access_grant.units change_log.rule_id change_log.undo_of change_log.undone_by change_subject.after_row change_subject.before_row
  change_subject.group_id course_version.done_by_activities enrolment.via_groups entitlement.by_grants entitlement.course_id entitlement.payers entitlement.set_id entitlement.units
  entitlement.via_groups entitlement_due.grant_id invitation.also_groups invoice.net invoice.vat join_code_version.group_ids letter.invitation_id
  mark.skill_ids membership.join_code_id message_version.file_ids message_version.to_groups paid_entry.group_ids paid_entry.net paid_entry.vat
  payment.amount payment_answer.amount rate_limit.expire refund.amount reminded.about_id restored_row.now_row restored_row.was_row
  roster_version.version rule_event.change_id rule_event.group_id seat_line.place seat_order.net seat_order.vat split_use.group_id standing.course_id
  standing.set_id standing_mark.in_transaction standing_mark.set_id standing_settled.in_transaction standing_settled.set_id structure_version.version
  work_version.skill_ids`;

/** What may name somebody, or hold words of theirs or about them. Of texts, those of rows that are somebody's. */
const personal = `
  access_grant.note address_bounce.address address_link.address confirm_link.email course_exception.proof course_exception.reason course_request.asking
  course_request.word enrolment.elsewhere_reason enrolment.exempt_reason invitation.email job.given job.outcome join_code_use.answers join_request.answers
  join_request.word kept_mapping.columns kept_mend.becomes kept_mend.was_key kept_view.frozen kept_view.name kept_view.shown letter.address letter.body
  letter.subject made_file.content message_answer.words message_reader.own_words one_time_link.address order_step.word paid_entry.answers
  paid_entry.id_number personal.email personal.confirmed_email personal.family_name personal.given_name personal.guardian_email personal.id_number
  personal.sign_in_name personal_list.name personal_list.name_key received_mail.recipient roster_part.rows seat_order.asking session.sess
  shared_view.frozen shared_view.says shared_view.shown shared_view.title statement_personal.said work_file.content`;

/** Data that names nobody: what is made for groups and courses, and what the log and rules keep, by numbers. */
const neither = `
  activity_result.before activity_version.content activity_version.hand_in change_log.summary change_subject.before course_feed.courses invoice.seller
  join_code_version.asks joined_row.key outside_request.outcome rule_version.acts rule_version.filter rule_version.set_off split_version.parts statement.said
  upload.content`;
const listed = (text: string): string[] => text.trim().split(/\s+/u);

test('every column that can refer to somebody or name somebody is in one of the lists', async () => {
  const keyed = new Set(await keyedColumns('%'));
  const bare = (await columnsOfTypes('int8', '_int8')).filter((place) => !keyed.has(place));
  const ofPeople = Object.keys(personColumns);
  expect([...(await keyedColumns('person')), ...bare].sort()).toEqual(
    [...new Set([...ofPeople, ...listed(otherNumbers)])].filter((place) => !keyed.has(place) || ofPeople.includes(place)).sort(),
  );
  const known = new Set([...listed(personal), ...listed(neither)]);
  expect((await columnsOfTypes('citext', 'jsonb', 'bytea')).filter((place) => !known.has(place))).toEqual([]);
});

/** Rows of tables that the demo world leaves empty. */
const samples: Record<string, string> = {
  'work.person_id': `insert into work (enrolment_id, activity_id, person_id) select e.id, a.activity_id, $1 from enrolment e join activity_version a on a.course_id = e.course_id and a.until_at is null where e.person_id = $1 and not exists (select 1 from work w where w.enrolment_id = e.id) limit 1`,
  'access_grant.person_id': `insert into access_grant (person_id, course_id, effect, note) values ($1, 1, 'open', 'for them')`,
  'launch.person_id': `insert into launch (id, person_id, course_id, ends_at) values (gen_random_uuid(), $1, 1, now() + interval '1 hour')`,
  'personal_list.owner_id': `insert into personal_list (owner_id, name, name_key) values ($1, 'Mine', 'mine')`,
  'personal_list_person.person_id': `with list as (insert into personal_list (owner_id, name, name_key) values (1, gen_random_uuid(), gen_random_uuid()) returning id) insert into personal_list_person (list_id, person_id) select id, $1 from list`,
  'kept_mapping.owner_id': `insert into kept_mapping (owner_id, name, name_key, headers_key, columns) values ($1, 'Theirs', 'theirs', 'a', '[]')`,
  'kept_mend.owner_id': `insert into kept_mend (owner_id, field, was_key, becomes) values ($1, 'group', 'east', 'East')`,
  'roster_file.made_by': `insert into roster_file (id, made_by) values (gen_random_uuid(), $1)`,
  'job.made_by': `insert into job (id, kind, given, made_by, state, ended_at) values (gen_random_uuid(), 'apply-change', '{}', $1, 'done', now())`,
  'one_time_link.person_id': `insert into one_time_link (hash, person_id, ends_at) values (gen_random_uuid()::text, $1, now() + interval '1 day')`,
  'one_time_link.made_by': `insert into one_time_link (hash, person_id, ends_at, made_by) values (gen_random_uuid()::text, 1, now() + interval '1 day', $1)`,
  'address_link.person_id': `insert into address_link (hash, person_id, address, ends_at) values (gen_random_uuid()::text, $1, 'any@where.example', now() + interval '1 day')`,
  'rule_hold.person_id': `insert into rule_hold (rule_id, person_id) select id, $1 from rule limit 1`,
  'calendar_feed.person_id': `insert into calendar_feed (person_id, hash) values ($1, gen_random_uuid()::text)`,
  'work_claim.person_id': `insert into work_claim (version_id, person_id, until_at) select id, $1, now() + interval '1 hour' from work_version v where not exists (select 1 from work_claim c where c.version_id = v.id) limit 1`,
  'start_view.person_id': `insert into start_view (person_id, view_id) select $1, id from kept_view limit 1`,
  'split_use.person_id': `insert into split_use (split_id, licence_id, course_id, group_id, person_id) select s.id, l.id, 1, 1, $1 from split s, licence l limit 1`,
  'seat_news.person_id': `insert into seat_news (person_id, course_id, what) values ($1, 1, 'got')`,
  'seat_word.person_id': `insert into seat_word (person_id, licence_id, word) select $1, id, 'gave up' from licence limit 1`,
  'seat_word.made_by': `insert into seat_word (person_id, licence_id, word, made_by) select p.id, l.id, 'gave up', $1 from person p, licence l where not exists (select 1 from seat_word w where w.person_id = p.id) order by p.id desc limit 1`,
  'statement.person_id': `insert into statement (source_id, id, received_at, person_id, said) select id, gen_random_uuid(), now(), $1, '{}' from source limit 1`,
  'statement_personal.person_id': `insert into statement_personal (source_id, id, person_id, said) select id, gen_random_uuid(), $1, '{}' from source limit 1`,
  'group_version.contact_id': `update group_version set contact_id = $1 where row_id in (select row_id from group_version where until_at is null and contact_id is null limit 1)`,
  'upload.made_by': `insert into upload (file_name, mime_type, content, made_by) values ('a.png', 'image/png', '', $1)`,
};
/** Derived, with every account, written by a join itself, or read and gone within a second. */
const everybodys = [
  'entitlement.person_id',
  'person_state.person_id',
  'personal.person_id',
  'change_subject.person_id',
  'change_log.actor_id',
  'joined_row.person_id',
  'joined_row.gone_id',
  'rule_event.person_id',
];

/** Seats and places in line are settled once the accounts are one. */
const settledAnew = ['seat.person_id', 'seat_line.person_id'];

/** Somebody's row in a table: a sample, or a row of somebody else's that becomes theirs. */
async function give(place: string, personId: number): Promise<void> {
  const [table = '', column = ''] = place.split('.');
  const sample = samples[place];
  if (sample) {
    await db.query(sample, [personId]);
    return;
  }
  const stands = (await columnsOfTypes('timestamptz')).includes(`${table}.until_at`) ? 'until_at is null' : 'true';
  const candidates = await read<{ at: string }>(
    `select ctid::text as at from ${table} where ${column} is distinct from $1 and ${column} is not null and ${stands} order by md5(ctid::text) limit 60`,
    [personId],
  );
  for (const { at } of candidates) {
    try {
      await db.query(`update ${table} set ${column} = $1 where ctid = $2::tid`, [personId, at]);
      return;
    } catch {
      // It would be the second of its kind; another may do.
    }
  }
  // A column that is empty everywhere.
  await db.query(
    `update ${table} set ${column} = $1 where ctid in (select ctid from ${table} where ${column} is null and ${stands} limit 1)`,
    [personId],
  );
}

const standing = async (place: string, personId: number): Promise<number> => {
  const [table = '', column = ''] = place.split('.');
  const stands =
    (await columnsOfTypes('timestamptz')).includes(`${table}.until_at`) && table !== 'work_claim' ? 'until_at is null' : 'true';
  return one(`select count(*) as n from ${table} where ${column} = $1 and ${stands}`, [personId]);
};
const all = async (place: string, personId: number): Promise<number> => {
  const [table = '', column = ''] = place.split('.');
  return one(`select count(*) as n from ${table} where ${column} = $1`, [personId]);
};

/** Learners with one group, nobody of whom leads. */
const learners = (most: number): Promise<{ id: number }[]> =>
  read<{ id: number }>(
    `select p.id::int from person p join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'active' where p.counted and p.role = 'none' and p.erased_at is null
       and not exists (select 1 from leadership l where l.person_id = p.id) order by md5(p.id::text) limit $1`,
    [most],
  );
const lines: [string, PersonColumn][] = Object.entries(personColumns);

test('when an account joins another, each row goes the way that its line says, and comes back with undo', async () => {
  const [kept, gone] = (await learners(2)).map(({ id }) => id);
  if (kept === undefined || gone === undefined) throw new Error('two learners are needed');
  for (const [place, line] of lines)
    if (!everybodys.includes(place)) {
      await give(place, gone);
      expect({ place, rows: await standing(place, gone) }).not.toEqual({ place, rows: 0 });
      if ((line.once ?? line.named) && samples[place]) await give(place, kept);
    }
  const { changeId } = await mirela.apply({ kind: 'merge-people', personId: kept, goneId: gone });
  const otherwise: unknown[] = [];
  for (const [place, { joins }] of lines.filter(([place]) => !everybodys.includes(place))) {
    const left = joins === 'ends' ? await standing(place, gone) : await all(place, gone);
    const come = joins === 'ends' ? await standing(place, kept) : await all(place, kept);
    const isRight = joins === 'stays' ? left > 0 : left === 0 && (joins === 'deleted' || settledAnew.includes(place) || come > 0);
    if (!isRight) otherwise.push({ place, joins, left, come });
  }
  expect(otherwise).toEqual([]);

  // Undone, what moved is theirs again: their lists, kept views, codes and rules, too.
  await mirela.apply({ kind: 'undo', changeId });
  const lost: string[] = [];
  for (const [place, { joins, once, inCode }] of lines.filter(([each]) => !everybodys.includes(each)))
    if (joins.startsWith('moves') && !once && !inCode && (await all(place, gone)) === 0) lost.push(place);
  expect(lost).toEqual([]);
});

test('when somebody is erased, each row goes the way that its line says, and no word of theirs is left in any table', async () => {
  const [person] = (await learners(1)).map(({ id }) => id);
  if (person === undefined) throw new Error('a learner is needed');
  const trace = `Zq${randomUUID().slice(0, 8)}`;
  // A letter that waits would be sent meanwhile, and what somebody has received is out of reach.
  await db.query(`update letter set state = 'sent' where state = 'waiting'`);
  for (const [place] of lines) if (!everybodys.includes(place)) await give(place, person);
  for (const place of listed(personal)) await leaveTrace(place, person, trace);
  expect(await tracesOf(trace)).toContain('personal.given_name');
  await mirela.apply({ kind: 'erase-person', personId: person });
  const otherwise: unknown[] = [];
  for (const [place, { erased }] of lines.filter(([place]) => !everybodys.includes(place))) {
    const left = erased === 'ends' ? await standing(place, person) : await all(place, person);
    if ((erased === 'emptied' || erased === 'stays') === (left === 0)) otherwise.push({ place, erased, left });
  }
  expect(otherwise).toEqual([]);
  expect(await tracesOf(trace)).toEqual([]);
});

/** Writes a word into a column of their rows. */
async function leaveTrace(place: string, personId: number, trace: string): Promise<void> {
  const [table = '', column = ''] = place.split('.');
  const [who] = lines.flatMap(([of]) => (of.startsWith(`${table}.`) ? [of.split('.')[1]] : []));
  if (!who) return;
  const [kind] = await read<{ type: string }>(
    `select udt_name as type from information_schema.columns where table_schema = 'public' and table_name = $1 and column_name = $2`,
    [table, column],
  );
  const isAddress = kind?.type === 'citext' && column !== 'sign_in_name';
  const word = kind?.type === 'jsonb' ? JSON.stringify([{ label: trace, answer: trace }]) : isAddress ? `${trace}@mail.example` : trace;
  // An address, and the same one confirmed, are one value.
  const set = place === 'personal.email' ? 'email = $2, confirmed_email = $2' : `${column} = $2`;
  await db.query(`update ${table} set ${set} where ${who} = $1 and ${column} is not null`, [personId, word]);
}

/** In which columns a word stands. */
async function tracesOf(trace: string): Promise<string[]> {
  const found: string[] = [];
  for (const place of await columnsOfTypes('text', '_text', 'citext', 'jsonb', 'bytea')) {
    const [table = '', column = ''] = place.split('.');
    const text = (await columnsOfTypes('bytea')).includes(place) ? `encode(${column}, 'escape')` : `${column}::text`;
    if ((await one(`select count(*) as n from ${table} where ${text} ilike '%' || $1 || '%'`, [trace])) > 0) found.push(place);
  }
  return found;
}
