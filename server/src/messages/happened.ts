import { type Answer, happenedKinds, type HappenedKind, type Happening, type Routes } from '@gate-roster/contract';
import { may } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, type ProgressSight, seenGroups, seenThrough } from '../accounts/reach.ts';
import { iso, maybeRow, type Queryable, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';
import { isYoung } from '../letters/write-letters.ts';
import { groupsOf, isCounted } from '../people/scope.ts';

const atOnce = 50;

interface Asking {
  groups: SQL;
  /** People `p` of the scope. */
  people: SQL;
  sight: ProgressSight;
  before: SQL;
}

/** A row that took the place of another is not something new. */
export const isNew = (table: 'membership' | 'leadership' | 'access_grant' | 'handout', row: SQL, same: SQL): SQL =>
  sql`not exists (select 1 from ${sql.identifier(table)} o where ${same} and o.until_at = ${row}.from_at)`;

const columns = (kind: HappenedKind, at: SQL, parts: { group?: SQL; person?: SQL; about?: SQL; score?: SQL }): SQL => sql`
  select ${kind}::text as kind, ${at} as at, ${parts.group ?? sql`null::bigint`} as group_id, ${parts.person ?? sql`null::bigint`} as person_id, ${parts.about ?? sql`null::text`} as about, ${parts.score ?? sql`null::float8`} as score`;

/** Each kind of event, latest first, as many as a page can show. */
const statements: Record<HappenedKind, (asking: Asking) => SQL> = {
  'came in': ({ groups, before }) => sql`
    ${columns('came in', sql`m.from_at`, { group: sql`m.group_id`, person: sql`m.person_id` })} from membership m
    where m.group_id in (${groups}) and m.from_at < ${before} and ${isNew('membership', sql`m`, sql`o.person_id = m.person_id and o.group_id = m.group_id`)}`,
  began: ({ people, sight, before }) => sql`
    ${columns('began', sql`e.begun_at`, { person: sql`e.person_id`, about: sql`c.name` })} from enrolment e join person p on p.id = e.person_id and ${people} join course_now c on c.id = e.course_id
    where e.begun_at < ${before} and ${seenThrough(sight, sql`e.via_groups`)}`,
  finished: ({ people, sight, before }) => sql`
    ${columns('finished', sql`e.done_at`, { person: sql`e.person_id`, about: sql`c.name`, score: sql`e.score` })} from enrolment e join person p on p.id = e.person_id and ${people} join course_now c on c.id = e.course_id
    where e.status = 'done' and e.is_current and not e.done_by_narrowing and e.done_at < ${before} and ${seenThrough(sight, sql`e.via_groups`)}`,
  scored: ({ people, sight, before }) => sql`
    ${columns('scored', sql`r.last_at`, { person: sql`e.person_id`, about: sql`c.name || ', ' || a.name`, score: sql`r.score` })} from activity_result r
    join enrolment e on e.id = r.enrolment_id join person p on p.id = e.person_id and ${people} join course_now c on c.id = e.course_id join activity_now a on a.id = r.activity_id
    where r.score is not null and r.last_at < ${before} and ${seenThrough(sight, sql`e.via_groups`)}`,
  'new course': ({ groups, before }) => sql`
    ${columns('new course', sql`a.from_at`, { group: sql`a.group_id`, about: sql`coalesce(c.name, s.name)` })} from access_grant a
    left join course_now c on c.id = a.course_id left join course_set_now s on s.id = a.course_set_id
    where a.effect = 'open' and a.group_id in (${groups}) and a.from_at < ${before} and coalesce(c.name, s.name) is not null
      and ${isNew('access_grant', sql`a`, sql`o.group_id = a.group_id and o.course_id is not distinct from a.course_id and o.course_set_id is not distinct from a.course_set_id`)}`,
  'new handout': ({ groups, before }) => sql`
    ${columns('new handout', sql`h.from_at`, { group: sql`h.group_id`, about: sql`h.title` })} from handout h
    where h.group_id in (${groups}) and h.until_at is null and h.from_at < ${before} and ${isNew('handout', sql`h`, sql`o.group_id = h.group_id and o.title = h.title`)}`,
  'new leader': ({ groups, before }) => sql`
    ${columns('new leader', sql`l.from_at`, { group: sql`l.group_id`, person: sql`l.person_id` })} from leadership l
    where l.group_id in (${groups}) and l.from_at < ${before} and ${isNew('leadership', sql`l`, sql`o.person_id = l.person_id and o.group_id = l.group_id`)}`,
};

/** Kinds that tell of somebody's progress. */
const ofProgress: readonly HappenedKind[] = ['began', 'finished', 'scored'];

/** A page of events, of some kinds. @param hides Whether a young learner, or somebody whose name is hidden, has no name here. */
async function eventsOf(
  db: Queryable,
  kinds: readonly HappenedKind[],
  { groups, people, sight }: Omit<Asking, 'before'>,
  { before, hides, own }: { before: string | undefined; hides: SQL; own: ReadonlySet<number> | null },
): Promise<{ events: Happening[]; next: string | null }> {
  if (kinds.length === 0) return { events: [], next: null };
  const asking = { groups, people, sight, before: before === undefined ? sql`now() + interval '1 minute'` : sql`${before}::timestamptz` };
  const each = kinds.map((kind) => sql`(select * from (${statements[kind](asking)}) k order by k.at desc limit ${atOnce + 1})`);
  const found = await rows<
    Omit<Happening, 'group' | 'person'> & { group: Happening['group']; personId: number | null; name: string | null }
  >(
    db,
    sql`
    select x.kind, x.at, case when g.id is null then null else jsonb_build_object('id', g.id, 'name', g.name) end as "group", x.person_id as "personId",
      case when ${hides} then null else trim(n.given_name || ' ' || n.family_name) end as name, x.about, x.score
    from (${sql.join(each, sql` union all `)}) x left join group_now g on g.id = x.group_id left join personal_now n on n.person_id = x.person_id
    order by x.at desc, x.kind, x.person_id limit ${atOnce + 1}`,
  );
  const page = found.slice(0, atOnce);
  const events = page.map(({ personId, name, group, ...event }): Happening => ({
    ...event,
    at: iso(event.at),
    group: group && (own === null || own.has(group.id)) ? group : null,
    person: personId === null ? null : { id: name === null ? null : personId, name },
  }));
  return { events, next: found.length > atOnce ? (events.at(-1)?.at ?? null) : null };
}

/** What members of a group are told: as the nearest group on the way up says. */
const toldMembers = (db: Queryable, groupId: number): Promise<{ groupId: number; name: string; kinds: HappenedKind[] } | null> =>
  maybeRow(
    db,
    sql`
    select g.id as "groupId", g.name, to_jsonb(s.kinds) as kinds from group_branch b join member_stream s on s.group_id = b.ancestor_id and s.until_at is null join group_now g on g.id = b.ancestor_id
    where b.group_id = ${groupId} order by b.depth limit 1`,
  );

/** What happened in a scope, for those who lead there. */
export async function happened(
  db: Queryable,
  actor: SignedIn,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  { kinds, before }: { kinds?: string | undefined; before?: string | undefined },
): Promise<Answer<Routes['happened']>> {
  const path = (await pathTo(db, actor, groupId)).map(({ id }) => id);
  const seesProgress = may(actor, 'seeProgress', { path });
  const wanted = kinds === undefined ? happenedKinds : happenedKinds.filter((kind) => kinds.split(',').includes(kind));
  const own = await seenGroups(db, actor);
  const asking = {
    groups: groupsOf(groupId, withSubgroups),
    people: isCounted(groupId, withSubgroups),
    sight: await progressSight(db, actor),
  };
  const page = await eventsOf(
    db,
    wanted.filter((kind) => seesProgress || !ofProgress.includes(kind)),
    asking,
    { before, hides: sql`false`, own },
  );
  const told = await toldMembers(db, groupId);
  return {
    ...page,
    members: {
      kinds: told?.kinds ?? [],
      from: told && (own === null || own.has(told.groupId)) ? { id: told.groupId, name: told.name } : null,
      isOwn: told?.groupId === groupId,
    },
    may: { set: may(actor, 'writeMessages', { path }) },
  };
}

/** The same for those who are in the group, as far as it is shown to them; who is a young learner has no name. */
export async function myHappenings(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  before: string | undefined,
): Promise<Answer<Routes['myHappenings']>> {
  const { personId, today } = actor;
  const isIn = await maybeRow(
    db,
    sql`
    select 1 from membership m join person p on p.id = m.person_id and p.counted
    where m.person_id = ${personId} and m.group_id = ${groupId} and m.until_at is null and coalesce(m.first_day <= ${today}, true) and coalesce(m.last_day >= ${today}, true)`,
  );
  if (!isIn || actor.onlyIn !== null) throw notFound();
  const told = await toldMembers(db, groupId);
  if (!told || told.kinds.length === 0) return { isShown: false, events: [], next: null };
  const page = await eventsOf(
    db,
    told.kinds,
    // Of progress only what was done through the group itself.
    { groups: sql`select ${groupId}::bigint`, people: isCounted(groupId, false), sight: { own: [groupId], via: [groupId] } },
    {
      before,
      hides: sql`(n.person_id <> ${personId} and (n.name_hidden or ${isYoung(sql`n.person_id`)}))`,
      own: null,
    },
  );
  const events = page.events.map(({ person, ...event }) => ({ ...event, person: person && { id: null, name: person.name } }));
  return { isShown: true, events, next: page.next };
}
