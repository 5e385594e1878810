import type { WishedUnits } from '@gate-roster/contract';
import { execute, type Site } from './site.ts';

export interface CourseNow {
  id: number;
  units: WishedUnits;
  /** The branch whose own course it is. */
  home: number | null;
}

/** Everything a random change may be about, as it stands now. */
export async function worldOf(site: Site) {
  const all = async (text: string): Promise<number[]> =>
    (await execute<{ id: number }>(site.databaseUrl, text)).map(({ id }) => Number(id));
  return {
    groups: await all(`select id from group_now where parent_id is not null order by 1`),
    parents: await all(`select id from group_now order by 1`),
    people: await all(
      `select person_id as id from membership where until_at is null and person_id not in (select person_id from leadership) order by md5(person_id::text) limit 200`,
    ),
    tags: await all(`select id from tag_now order by 1`),
    courses: await execute<CourseNow>(
      site.databaseUrl,
      `select c.id::int, c.home_id::int as home, (
          select jsonb_agg(jsonb_build_object('id', u.id, 'name', u.name, 'activities',
            (select jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scored', a.scored, 'finishedBy', a.finished_by, 'handIn', a.hand_in, 'content', a.content) order by a.position) from activity_now a where a.unit_id = u.id)) order by u.position)
          from unit_now u where u.course_id = c.id
        ) as units from course_now c order by 1`,
    ),
    feeds: await all(`select id from course_feed order by 1`),
    offeredNoMore: await all(`select id from course where external_id = 'knot-1'`),
    sets: await all(`select id from course_set_now order by 1`),
    firstUnits: await all(`select min(id) as id from unit_now group by course_id order by course_id`),
    codes: await all(`select code_id as id from join_code_version where until_at is null order by 1`),
    licences: await all(`select licence_id as id from licence_now order by 1`),
    invitations: await all(`select row_id as id from invitation where until_at is null order by 1`),
    leads: await execute<{ person: number; group: number }>(
      site.databaseUrl,
      `select person_id::int as person, group_id::int as group from leadership where until_at is null order by row_id`,
    ),
    /** Statements in force at groups, also on course sets. */
    grants: await all(`select row_id as id from access_grant where until_at is null and group_id is not null order by 1`),
    requests: await all(`select row_id as id from join_request where until_at is null and state = 'asking' order by 1`),
    gaveUp: await all(`select distinct person_id as id from seat_word where until_at is null and word = 'gave up' order by 1`),
    seated: await all(`select distinct person_id as id from seat where until_at is null order by 1 limit 20`),
    inLine: await all(`select distinct person_id as id from seat_line where until_at is null order by 1`),
    openOrders: await all(`select id from seat_order where state in ('asked', 'approved', 'paying') order by 1`),
    branches: await execute<{ id: number; groups: number[] }>(
      site.databaseUrl,
      `select ancestor_id::int as id, jsonb_agg(group_id) as groups from group_branch group by 1`,
    ),
    splits: await execute<{ id: number; group: number }>(
      site.databaseUrl,
      `select v.split_id::int as id, v.group_id::int as group from split_version v join group_now g on g.id = v.group_id where v.until_at is null order by 1`,
    ),
    asked: await all(`select distinct person_id as id from rule_act where outcome = 'asked' order by 1 limit 50`),
    rules: await all(`select rule_id as id from rule_version where until_at is null order by 1`),
    messages: await all(`select message_id as id from message_version where until_at is null order by 1`),
    pieces: await execute<{ version: number; mark: number | null }>(
      site.databaseUrl,
      `select v.id::int as version, m.row_id::int as mark from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id
      left join mark m on m.version_id = v.id and m.until_at is null where v.state <> 'draft' order by md5(v.id::text) limit 300`,
    ),
    forms: await all(`select id from certificate_form_now order by 1`),
    certificates: (
      await execute<{ number: string }>(site.databaseUrl, `select number from certificate where until_at is null order by number limit 200`)
    ).map(({ number }) => number),
    courseRequests: await all(`select row_id as id from course_request where until_at is null and state = 'asking' order by 1`),
  };
}
export type World = Awaited<ReturnType<typeof worldOf>>;
