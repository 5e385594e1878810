import { presets } from '@gate-roster/core';
import { connect, rebuildDerived } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type pg from 'pg';

/** How much there is: the sizes that the measurements are quoted for. */
export const scale = { groups: 2000, people: 100_000, courses: 200, tags: 20, enrolments: 1_000_000 };
type Size = typeof scale;

/** Groups at each depth below the root, six deep; the rest are deepest. */
function* widths({ groups: count }: Size): Generator<number> {
  let left = count - 1;
  for (const width of [8, ...[60, 300, 700].map((each) => (each * count) / scale.groups)]) {
    yield width;
    left -= width;
  }
  yield left;
}

/**
 * Skewed, synthetic data, made by PostgreSQL itself from one seed: a tenth of the people in two or three groups,
 * about ten courses open to everybody, a million enrolments.
 * @param times How often as many people, groups and enrolments.
 */
export async function loadScaleWorld(pool: pg.Pool, url: string, passwordHash: string, times = 1): Promise<void> {
  const size = { ...scale, groups: scale.groups * times, people: scale.people * times, enrolments: scale.enrolments * times };
  const client = await pool.connect();
  try {
    await client.query('begin');
    await client.query('select setseed(0.42)');
    await client.query(`insert into organisation (name, time_zone) values ('Scale', 'UTC')`);
    await client.query(`insert into membership_set (key) values ('')`);
    await groups(client, size);
    await people(client, size, passwordHash);
    await courses(client);
    await client.query('commit');
  } finally {
    client.release();
  }
  const { db, pool: own } = connect(url);
  await db.transaction((tx) => rebuildDerived(tx, new Date().toISOString().slice(0, 10)));
  await enrolments(pool, size.enrolments);
  await db.execute(sql`insert into day_turn (day) values (current_date) on conflict do nothing`);
  await own.end();
  await pool.query('analyze');
}

async function groups(client: pg.PoolClient, size: Size): Promise<void> {
  await client.query(`insert into groups (id) overriding system value select g from generate_series(1, $1) g`, [size.groups]);
  await client.query(`insert into group_version (group_id, name, name_key) values (1, 'Scale', 'scale')`);
  let first = 2;
  let [parentFrom, parents] = [1, 1];
  for (const width of widths(size)) {
    // Squared, so that few parents have many children and many have few.
    await client.query(
      `insert into group_version (group_id, parent_id, name, name_key)
       select g, $3 + floor(power(random(), 2) * $4)::int, 'Group ' || g, 'group ' || g from generate_series($1::int, $2::int) g`,
      [first, first + width - 1, parentFrom, parents],
    );
    [parentFrom, parents] = [first, width];
    first += width;
  }
  await client.query(`select setval(pg_get_serial_sequence('groups', 'id'), $1)`, [size.groups]);
}

async function people(client: pg.PoolClient, size: Size, passwordHash: string): Promise<void> {
  await client.query(
    `insert into person (id, set_id, active_at) overriding system value select p, 1, now() - random() * interval '200 days' from generate_series(1, $1) p`,
    [size.people],
  );
  await client.query(`select setval(pg_get_serial_sequence('person', 'id'), $1)`, [size.people]);
  await client.query(
    `insert into personal (person_id, given_name, family_name, email, sign_in_name)
     select p, initcap(substr(md5(p::text), 1, 6)), initcap(substr(md5((p * 7)::text), 1, 8)), 'p' || p || '@scale.example', 'p' || p from generate_series(1, $1) p`,
    [size.people],
  );
  await client.query(`insert into person_state (person_id, state) select p, 'active' from generate_series(1, $1) p`, [size.people]);
  for (const share of [1, 0.1, 0.02])
    await client.query(
      `insert into membership (person_id, group_id, came_by, from_at)
       select p, 9 + floor(power(random(), 1.7) * ($2 - 9))::int, 'file', now() - interval '1 year' from generate_series(1, $1) p where random() < $3 on conflict do nothing`,
      [size.people, size.groups, share],
    );
  await client.query(`insert into tag (branch_id) select 1 from generate_series(1, $1)`, [size.tags]);
  await client.query(`insert into tag_version (tag_id, branch_id, name, name_key) select id, 1, 'Tag ' || id, 'tag ' || id from tag`);
  await client.query(
    `insert into person_tag (person_id, tag_id) select p, t from generate_series(1, $1) p, generate_series(1, $2) t where random() < 0.1`,
    [size.people, size.tags],
  );
  await client.query(`update person set role = 'administrator' where id = 1`);
  // An administrator, and a leader of the first region.
  await client.query(`insert into leadership (person_id, group_id, powers) values (2, 2, $1)`, [presets.head]);
  await client.query(`insert into credential (person_id, password_hash) select p, $1 from generate_series(1, 2) p`, [passwordHash]);
}

async function courses(client: pg.PoolClient): Promise<void> {
  await client.query(`insert into source (key, secret, name) values ('bench', 'bench', 'Bench')`);
  await client.query(
    `with made as (insert into course (source_id) select 1 from generate_series(1, $1) returning id)
     insert into course_version (course_id, name, name_key, terms) select id, 'Course ' || id, 'course ' || id, 'group' from made`,
    [scale.courses],
  );
  await client.query(`insert into unit (course_id) select id from course, generate_series(1, 2) order by id`);
  await client.query(`
    insert into unit_version (unit_id, course_id, position, name)
    select id, course_id, n, 'Unit ' || n from (select id, course_id, row_number() over (partition by course_id order by id) as n from unit) u`);
  await client.query(`
    with made as (insert into activity (course_id) select course_id from unit order by id returning id, course_id), placed as (
      select id, course_id, row_number() over (partition by course_id order by id) as n from made
    ) insert into activity_version (activity_id, unit_id, course_id, position, name, scored)
    select p.id, u.unit_id, p.course_id, 1, 'Activity', true from placed p join unit_version u on u.course_id = p.course_id and u.position = p.n`);
  // Four for everybody, six more for each region, and one here and there below.
  await client.query(
    `insert into access_grant (group_id, course_id, effect, from_at) select 1, c, 'open', now() - interval '1 year' from generate_series(1, 4) c`,
  );
  await client.query(
    `insert into access_grant (group_id, course_id, effect, due_day, from_at) select g, 5 + (g * 6 + n) % ($1 - 5), 'open', current_date - 30 + n * 10, now() - interval '1 year' from generate_series(2, 9) g, generate_series(1, 6) n`,
    [scale.courses],
  );
  await client.query(
    `insert into access_grant (group_id, course_id, effect, from_at) select g, 5 + floor(random() * ($1 - 5))::int, case when random() < 0.1 then 'block' else 'open' end, now() - interval '1 year' from generate_series(10, 400) g`,
    [scale.courses],
  );
}

async function enrolments(pool: pg.Pool, count: number): Promise<void> {
  await pool.query(
    `insert into enrolment (person_id, course_id, status, begun_at, done_at, done_day, score, via_groups)
     select person_id, course_id, status, now() - interval '90 days', case when status = 'done' then now() - interval '30 days' end, case when status = 'done' then current_date - 30 end,
       case when status = 'done' then 50 + random() * 50 end, via_groups
     from (select p.id as person_id, x.course_id, x.via_groups, (array['under way', 'done', 'done'])[1 + floor(random() * 3)::int] as status
       from person p join entitlement x on x.set_id = p.set_id order by md5(p.id::text || x.course_id) limit $1) work`,
    [count],
  );
}
