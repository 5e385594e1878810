import { addDays, type Day, dayOfMoment, nameKey, presets } from '@gate-roster/core';
import { connect, hashPassword, openRounds, rebuildDerived, refreshExceptions, settle, type Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type pg from 'pg';
import { type DemoPerson, makePeople, type Named } from './people.ts';
import { makeProgress, type Entitled } from './progress.ts';
import { loadCourseRequests, loadTrouble, loadWaysIn } from './entry.ts';
import { loadLog } from './log.ts';
import { loadMessages } from './messages.ts';
import { Random } from './random.ts';
import { loadCertificates } from './certificates.ts';
import { loadReminders } from './reminders.ts';
import { loadRules } from './rules.ts';
import { loadSplits } from './splits.ts';
import { loadHandIns, loadWork } from './work.ts';
import { copyCourses, courses } from './courses.ts';
import { type Cell, copy } from './copy.ts';
import { loadOwnCourse, loadOwnProgress } from './own-courses.ts';
import { loadPlatform } from './platforms.ts';
import { loadOrders } from './orders.ts';
import { loadViews } from './views.ts';
import { copyGrants, openSet } from './grants.ts';
import { licences, organisation, type PlacedGroup, placedGroups } from './world.ts';

const seed = 20_261;
export const demoPassword = 'lantern-over-water';

/** Fills an empty, migrated database with the demo world as of today. One transaction: all of it or nothing. */
export async function loadDemoWorld(
  url: string,
  now: Date,
  intake: Uint8Array,
): Promise<{ people: number; groups: number; courses: number; results: number }> {
  const { pool, db } = connect(url);
  const today = dayOfMoment(now, organisation.timeZone);
  const random = new Random(seed);
  const groups = placedGroups();
  const { people, named } = makePeople(random, groups, today, intake);
  try {
    const results = await db.transaction(async (tx) => {
      const client = clientOf(tx);
      await tx.execute(sql`insert into organisation (name, time_zone) values (${organisation.name}, ${organisation.timeZone})`);
      await copyGroups(client, groups);
      await copyPeople(client, groups, people, named, now);
      const plan = await copyCourses(client);
      await loadHandIns(tx);
      await copyLicences(client, groups, today);
      await copyGrants(client, groups, plan, named, today);
      await loadWaysIn(tx, groups, people, named, now);
      await loadCourseRequests(tx, groups, now);
      await tx.execute(sql`select setval(pg_get_serial_sequence(t, c), (xpath('/row/m/text()', query_to_xml(format('select coalesce(max(%I), 1) as m from %I', c, t), true, true, '')))[1]::text::bigint)
        from (values ('groups', 'id'), ('person', 'id'), ('course', 'id'), ('unit', 'id'), ('activity', 'id'), ('course_set', 'id'), ('tag', 'id'), ('licence', 'id')) as ids(t, c)`);
      await loadOwnCourse(tx, groups, named, now);
      await rebuildDerived(tx, today);
      await handOutSeats(tx, today);
      const entitled = (
        await tx.execute(sql`
        select p.id as "personId", x.course_id as "courseId", to_jsonb(x.units) as units, to_jsonb(x.via_groups) as "viaGroups",
          (select min((from_at at time zone 'UTC')::date) from membership m where m.person_id = p.id) as since
        from person p join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
        where p.counted and coalesce(x.first_day <= ${today}, true) and coalesce(x.last_day >= ${today}, true)
          and not exists (select 1 from seat_line l where l.person_id = p.id and l.course_id = x.course_id and l.until_at is null) order by p.id, x.course_id`)
      ).rows as unknown as Entitled[];
      const played = entitled.filter(({ courseId }) => plan.activities.has(courseId));
      const progress = makeProgress(random, played, plan.activities, today, named.learner.id);
      await copy(
        client,
        'enrolment',
        [
          'id',
          'person_id',
          'course_id',
          'status',
          'begun_at',
          'done_at',
          'done_day',
          'score',
          'finished_activities',
          'exempt',
          'exempt_reason',
          'via_groups',
        ],
        progress.enrolments,
      );
      await tx.execute(
        sql`insert into course_exception (person_id, course_id, kind, reason, made_by, made_at, from_at) select person_id, course_id, 'exempt', exempt_reason, ${named.administrator.id}::bigint, at, at
          from (select *, ${now.toISOString()}::timestamptz - make_interval(days => (20 + id * 37 % 250)::int) as at from enrolment where exempt) e`,
      );
      await copy(client, 'activity_result', ['enrolment_id', 'activity_id', 'finished', 'score', 'last_at'], progress.results);
      // What was done in a year before its reports were kept one by one.
      await tx.execute(sql`
        update activity_result r set before = jsonb_build_object('finished', r.finished, 'score', r.score, 'tries', r.tries, 'lastAt', to_char(r.last_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'))
        from activity_now a where a.id = r.activity_id and a.finished_by = 'player'`);
      await loadPlatform(client, named.administrator.id);
      await tx.execute(sql`select setval(pg_get_serial_sequence('enrolment', 'id'), (select max(id) from enrolment))`);
      await loadOwnProgress(tx, now);
      await openRounds(tx, today);
      await openSet(tx, groups, named, { now, today });
      await loadExceptions(tx, named, today);
      await loadWork(tx, new Random(seed + 1), named, now);
      await loadCertificates(tx, groups, new Random(seed + 2), named, now);
      await loadRules(tx, groups, named, now);
      await loadSplits(tx, groups, named, now);
      await loadOrders(tx, groups, named, now);
      await loadLog(tx, random, named, now);
      await loadMessages(tx, groups, named, now);
      await loadReminders(tx, groups, named, now);
      // Those who lead looked at progress five days ago.
      await tx.execute(
        sql`update person p set looked_at = ${new Date(now.getTime() - 5 * 86_400_000).toISOString()} where p.role = 'administrator' or exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null)`,
      );
      await loadTrouble(tx, now);
      await loadViews(tx, groups, named, today);
      await tx.execute(sql`insert into day_turn (day) values (${today})`);
      return progress.results.length;
    });
    await db.execute(sql`analyze`);
    return { people: people.length, groups: groups.length, courses: courses.length, results };
  } finally {
    await pool.end();
  }
}

/** COPY needs the connection that the transaction runs on. */
function clientOf(tx: Transaction): pg.PoolClient {
  return (tx as unknown as { session: { client: pg.PoolClient } }).session.client;
}

async function copyGroups(client: pg.PoolClient, groups: readonly PlacedGroup[]): Promise<void> {
  await copy(
    client,
    'groups',
    ['id'],
    groups.map(({ id }) => [id]),
  );
  await copy(
    client,
    'group_version',
    ['group_id', 'parent_id', 'name', 'name_key', 'young_learners', 'from_at'],
    groups.map(({ id, parentId, plan }) => [id, parentId, plan.name, nameKey(plan.name), plan.young ?? false, '2024-01-10T08:00:00Z']),
  );
}

async function copyPeople(
  client: pg.PoolClient,
  groups: readonly PlacedGroup[],
  people: readonly DemoPerson[],
  named: Named,
  now: Date,
): Promise<void> {
  const daysAgo = (days: number): string => new Date(now.getTime() - days * 86_400_000 - (days % 7) * 3_000_000).toISOString();
  /** When somebody came: with their first membership, or when all this was set up. */
  const began = ({ memberships }: DemoPerson): string =>
    `${memberships.map(({ since }) => since).sort()[0] ?? addDays(dayOfMoment(now, 'UTC'), -400)}T09:00:00Z`;
  const pausedSince = daysAgo(20);
  await client.query(`insert into membership_set (key) values ('')`);
  await copy(
    client,
    'person',
    ['id', 'role', 'set_id', 'signed_in_at', 'active_at', 'created_at'],
    people.map((person) => {
      const active = person.activeDaysAgo === null ? null : daysAgo(person.activeDaysAgo);
      return [person.id, person.role, 1, active, active, began(person)];
    }),
  );
  await copy(
    client,
    'personal',
    ['person_id', 'given_name', 'family_name', 'email', 'confirmed_email', 'sign_in_name', 'id_number', 'id_issuer', 'from_at'],
    people.map((person) => [
      person.id,
      person.givenName,
      person.familyName,
      person.email,
      // Some have not confirmed the address that their leader gave.
      person.role === 'none' && person.activeDaysAgo === null ? null : person.email,
      person.signInName,
      person.idNumber,
      person.idNumber === null ? null : 1,
      began(person),
    ]),
  );
  await copy(
    client,
    'person_state',
    ['person_id', 'state', 'from_at', 'until_at'],
    people.flatMap((person): Cell[][] => {
      const { id, state } = person;
      if (state === 'active' || began(person) >= pausedSince) return [[id, state, began(person), null]];
      return [
        [id, 'active', began(person), pausedSince],
        [id, state, pausedSince, null],
      ];
    }),
  );
  await copy(
    client,
    'membership',
    ['person_id', 'group_id', 'first_day', 'last_day', 'came_by', 'from_at'],
    people.flatMap(({ id, memberships }) =>
      memberships.map((held) => [id, held.groupId, held.firstDay, held.lastDay, held.cameBy, `${held.since}T09:00:00Z`]),
    ),
  );
  const tags = [...new Set([...groups.flatMap(({ plan }) => plan.tags ?? []), ...people.flatMap((person) => person.tags)])];
  const tagId = new Map(tags.map((name, index) => [name, index + 1]));
  await copy(
    client,
    'tag',
    ['id', 'branch_id'],
    tags.map((_name, index) => [index + 1, 1]),
  );
  await copy(
    client,
    'tag_version',
    ['tag_id', 'branch_id', 'name', 'name_key', 'from_at'],
    tags.map((name, index) => [index + 1, 1, name, nameKey(name), daysAgo(395)]),
  );
  await copy(
    client,
    'person_tag',
    ['person_id', 'tag_id'],
    people.flatMap(({ id, tags: own }) => [...new Set(own)].map((name) => [id, tagId.get(name) ?? 0])),
  );
  await copy(
    client,
    'group_tag',
    ['group_id', 'tag_id'],
    groups.flatMap(({ id, plan }) => (plan.tags ?? []).map((name) => [id, tagId.get(name) ?? 0])),
  );
  await copy(
    client,
    'leadership',
    ['person_id', 'group_id', 'powers', 'from_at'],
    named.leaders.map(({ person, groupId, preset }, index) => [person.id, groupId, presets[preset], daysAgo(390 - index * 9)]),
  );
  const hash = await hashPassword(demoPassword);
  await copy(
    client,
    'credential',
    ['person_id', 'password_hash'],
    [named.administrator, named.leaders[0]?.person, named.learner].flatMap((person) => (person ? [[person.id, hash]] : [])),
  );
}

async function copyLicences(client: pg.PoolClient, groups: readonly PlacedGroup[], today: Day): Promise<void> {
  const groupAt = (at: string): number => groups.find(({ path }) => path === at)?.id ?? 0;
  await copy(
    client,
    'licence',
    ['id', 'from_at'],
    licences.map(({ from }, index) => [index + 1, `${addDays(today, from)}T08:00:00Z`]),
  );
  await copy(
    client,
    'licence_version',
    ['licence_id', 'group_id', 'name', 'seats', 'first_day', 'last_day', 'course_id', 'on_leaving', 'from_at'],
    licences.map((licence, index) => [
      index + 1,
      groupAt(licence.home),
      licence.name,
      licence.seats,
      addDays(today, licence.from),
      addDays(today, licence.until),
      courses.findIndex(({ name }) => name === licence.course) + 1,
      'comes back if not begun',
      `${addDays(today, licence.from)}T08:00:00Z`,
    ]),
  );
  await copy(
    client,
    'seat_limit',
    ['licence_id', 'group_id', 'most', 'from_at'],
    licences.flatMap(({ limits, from }, index) =>
      limits.map(({ at, most }) => [index + 1, groupAt(at), most, `${addDays(today, from)}T08:30:00Z`]),
    ),
  );
}

/** Some came with a radio certificate of the coast guard’s. */
async function loadExceptions(tx: Transaction, { administrator }: Named, today: Day): Promise<void> {
  const radio = courses.findIndex(({ name }) => name === 'VHF radio') + 1;
  const marked = await tx.execute(sql`
    insert into course_exception (person_id, course_id, kind, day, reason, proof, made_at, from_at, made_by)
    select person_id, course_id, 'done elsewhere', ${today}::date - 200 - (person_id % 90)::int, 'Radio certificate of the coast service', 'https://certificates.example/vhf',
      now() - make_interval(days => (40 + person_id % 60)::int), now() - make_interval(days => (40 + person_id % 60)::int), ${administrator.id}::bigint
    from enrolment where course_id = ${radio} and status = 'under way' and person_id % 12 = 7 order by person_id returning person_id as "personId", course_id as "courseId"`);
  await refreshExceptions(tx, marked.rows as { personId: number; courseId: number }[], today);
}

/** Whoever needs a seat gets one, as long as there are some; the others line up in the order in which they came. */
async function handOutSeats(tx: Transaction, today: Day): Promise<void> {
  await settle(tx, today, { people: [], courses: 'all', room: true, changeId: null, undoOf: [], mode: 'alone' });
  await tx.execute(sql`
    update seat s set got_at = w.got_at, from_at = w.got_at
    from (select s.row_id, greatest(l.from_at, m.from_at) as got_at from seat s join licence_version l on l.licence_id = s.licence_id join membership m on m.person_id = s.person_id and m.group_id = s.group_id) w where w.row_id = s.row_id`);
  await tx.execute(sql`update seat_line set since = now() - interval '40 days' + place * interval '5 days 3 hours'`);
}
