import { type Answer, mostDivided, type Routes, type SplitRow } from '@gate-roster/contract';
import { may } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, seenThrough } from '../accounts/reach.ts';
import { courseSight } from '../courses/own-courses.ts';
import { ids, iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import { isMember } from '../people/scope.ts';
import { seenTags } from '../people/tags.ts';
import { wordReaches } from '../rules/set-rule.ts';
import { launchHours } from '../courses/launch-hours.ts';
import { type StandingSplit, standingSplits } from './change-splits.ts';

/** Somebody who did something so lately is working now. */
const workingMinutes = 15;

/** Splits of a group with everything that is needed to divide it. */
export async function splitsOf(db: Queryable, actor: SignedIn, groupId: number): Promise<Answer<Routes['splits']>> {
  const path = (await pathTo(db, actor, groupId, 'openCourses')).map(({ id }) => id);
  const standing = await rows<StandingSplit>(
    db,
    sql`${standingSplits} and v.group_id = ${groupId} order by v.runs_until desc nulls last, v.name collate people_order`,
  );
  const { count } = await oneRow<{ count: number }>(db, sql`select count(*)::int as count from person p where ${isMember(groupId, true)}`);
  const members = count > mostDivided ? [] : await membersOf(db, actor, groupId, may(actor, 'seeProgress', { path }));
  const leaders = await namesOf(db, await leadersOf(db, groupId));
  return {
    splits: await rowsOf(db, actor, standing, {
      leaders: [
        ...leaders,
        ...(await namesOf(
          db,
          standing.flatMap(({ parts }) => parts.flatMap(({ leaderId }) => leaderId ?? [])),
        )),
      ],
      there: new Set(members.map(({ id }) => id)),
    }),
    members,
    count,
    leaders,
    tags: await rows(
      db,
      sql`select t.id, t.name from tag_now t where t.id = any(${ids(new Set(members.flatMap(({ tags }) => tags)))}) and ${seenTags(actor)} order by t.name collate people_order`,
    ),
    courses: await rows(
      db,
      sql`
      select c.id, c.name, (select coalesce(jsonb_agg(jsonb_build_object('id', u.id, 'name', u.name) order by u.position), '[]') from unit_now u where u.course_id = c.id) as units
      from course_now c where not c.archived and ${(await courseSight(db, actor))(sql`c.home_id`)} order by c.name collate people_order`,
    ),
    may: { make: may(actor, 'openCourses', { path }) },
  };
}

async function rowsOf(
  db: Queryable,
  actor: SignedIn,
  standing: readonly StandingSplit[],
  { leaders, there }: { leaders: readonly { id: number; name: string }[]; there: ReadonlySet<number> },
): Promise<SplitRow[]> {
  const tree = await wholeTree(db);
  const makers = await namesOf(
    db,
    standing.map(({ made_by }) => made_by),
  );
  return standing.map((split) => {
    const isTheirs = wordReaches({ actor, tree }, split, 'openCourses');
    return {
      id: split.id,
      name: split.name,
      parts: split.parts.map((part) => ({
        ...part,
        called: (part.leaderId === null ? null : leaders.find(({ id }) => id === part.leaderId)?.name) ?? part.name,
        personIds: split.members.flatMap(({ personId, part: at }) => (at === part.key && there.has(personId) ? [personId] : [])),
      })),
      runsUntil: split.is_running && split.runs_until !== null ? iso(split.runs_until) : null,
      startedAt: split.is_running && split.runs_from !== null ? iso(split.runs_from) : null,
      by: isTheirs ? (makers.find(({ id }) => id === split.made_by)?.name ?? null) : null,
      may: { edit: isTheirs, stop: true },
    };
  });
}

/** Everybody in the branch of the group, by family name; how they do and when they worked only as far as the reader sees progress. */
async function membersOf(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  mayProgress: boolean,
): Promise<Answer<Routes['splits']>['members']> {
  const sight = await progressSight(db, actor);
  const found = await rows<{ id: number; name: string; score: number | null; tags: number[]; at: string | null }>(
    db,
    sql`
    select p.id, n.family_name || ', ' || n.given_name as name, s.score,
      coalesce((select jsonb_agg(t.id order by t.id) from person_tag x join tag_now t on t.id = x.tag_id where x.person_id = p.id and x.until_at is null and ${seenTags(actor)}), '[]') as tags,
      greatest(s.worked_at, s.launched_at) as at
    from person p join personal_now n on n.person_id = p.id
    left join lateral (
      select avg(e.score) as score, max((select max(r.last_at) from activity_result r where r.enrolment_id = e.id)) as worked_at,
        max((select max(l.ends_at) from launch l where l.person_id = p.id and l.course_id = e.course_id)) - make_interval(hours => ${launchHours}) as launched_at
      from enrolment e where e.person_id = p.id and e.is_current and ${mayProgress ? seenThrough(sight, sql`e.via_groups`) : sql`false`}
    ) s on true
    where p.erased_at is null and ${isMember(groupId, true)} order by n.family_name collate people_order, n.given_name collate people_order, p.id`,
  );
  const since = Date.now() - workingMinutes * 60_000;
  return found.map(({ at, ...member }) => ({ ...member, workingAt: at !== null && Date.parse(iso(at)) >= since ? iso(at) : null }));
}

async function leadersOf(db: Queryable, groupId: number): Promise<number[]> {
  const found = await rows<{ id: number }>(
    db,
    sql`select distinct person_id as id from leadership where until_at is null and group_id in (select group_id from group_branch where ancestor_id = ${groupId})`,
  );
  return found.map(({ id }) => id);
}

const namesOf = (db: Queryable, people: readonly number[]): Promise<{ id: number; name: string }[]> =>
  rows(
    db,
    sql`select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name from personal_now n where n.person_id = any(${ids(people)}) order by n.family_name collate people_order`,
  );
