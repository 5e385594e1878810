import { offeredCourses } from '@gate-roster/server';
import type pg from 'pg';

/**
 * An outside course platform: a simulator on which boat handling is practised. The results of its courses came from it, each by a
 * statement; two more came for days on which the course was not open.
 */
export async function loadPlatform(client: pg.PoolClient, administratorId: number): Promise<void> {
  const { rows } = await client.query<{ id: number }>(
    `insert into source (key, secret, name, password_hash) values ('platform-tidewater', md5('tidewater'), 'Tidewater boat simulator', md5('nobody signs in with this')) returning id::int`,
  );
  const source = rows[0]?.id;
  await client.query(`insert into source_course (source_id, course_id) select $1, id from course_now where name like 'Boat handling%'`, [
    source,
  ]);
  await client.query(
    `insert into report (id, source_id, received_at, person_id, enrolment_id, activity_id, finished, score, at)
     select md5(format('statement %s/%s', r.enrolment_id, r.activity_id))::uuid, $1, least(r.last_at + interval '20 seconds', now()), e.person_id, r.enrolment_id, r.activity_id, r.finished, r.score, r.last_at
     from activity_result r join enrolment e on e.id = r.enrolment_id join source_course c on c.source_id = $1 and c.course_id = e.course_id`,
    [source],
  );
  await client.query(
    `update activity_result k set before = null from report r where r.enrolment_id = k.enrolment_id and r.activity_id = k.activity_id`,
  );
  await client.query(
    `insert into report (id, source_id, received_at, person_id, activity_id, finished, score, at, not_counted)
     select md5(format('too early %s', r.id))::uuid, $1, r.received_at, r.person_id, r.activity_id, r.finished, r.score, r.at, 'not open'
     from report r where r.source_id = $1 order by r.received_at desc, r.id limit 2`,
    [source],
  );
  await loadResultFile(client, administratorId);
  await loadFeed(client);
}

/** Results of a course in a classroom, which an administrator brought in from a file. */
async function loadResultFile(client: pg.PoolClient, administratorId: number): Promise<void> {
  const { rows } = await client.query<{ id: number }>(
    `insert into source (key, secret, name) values ('results of files', md5('files'), 'Results from files') returning id::int`,
  );
  const chosen = `select r.enrolment_id, r.activity_id, r.finished, r.score, r.last_at, e.person_id from activity_result r join enrolment e on e.id = r.enrolment_id
    join course_now c on c.id = e.course_id and c.name = 'VHF radio' where r.before is not null and r.last_at < now() - interval '120 days' and e.person_id % 40 = 3`;
  const { rows: files } = await client.query<{ id: number }>(
    `insert into result_file (name, by_id, at, rows) select 'radio-course-at-the-yard.csv', $1, now() - interval '110 days', count(*) from (${chosen}) c returning id::int`,
    [administratorId],
  );
  await client.query(
    `insert into report (id, source_id, received_at, person_id, enrolment_id, activity_id, finished, score, at, result_file_id)
     select md5(format('line %s/%s', enrolment_id, activity_id))::uuid, $1, now() - interval '110 days', person_id, enrolment_id, activity_id, finished, score, last_at, $2::bigint from (${chosen}) c`,
    [rows[0]?.id, files[0]?.id],
  );
  await client.query(
    `update activity_result k set before = null from report r where r.result_file_id is not null and r.enrolment_id = k.enrolment_id and r.activity_id = k.activity_id`,
  );
}

/** Some courses are the player's own, by its numbers; one of them it has stopped offering. */
async function loadFeed(client: pg.PoolClient): Promise<void> {
  const codes = ['VHF-1', 'TWR-1', 'KNOT-1'];
  await client.query(`update course x set external_id = lower(c.code) from course_now c where c.id = x.id and c.code = any($1)`, [codes]);
  await client.query(
    `update unit x set external_id = lower(c.code) || '/' || u.position from unit_now u join course_now c on c.id = u.course_id where u.id = x.id and c.code = any($1)`,
    [codes],
  );
  await client.query(
    `update activity x set external_id = ux.external_id || '/' || a.position from activity_now a join unit ux on ux.id = a.unit_id where a.id = x.id and ux.external_id is not null`,
  );
  await client.query(`insert into course_feed (at, courses) values (now() - interval '1 day', $1)`, [JSON.stringify(offeredCourses)]);
}
