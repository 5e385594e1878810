import type { Answer, CourseRow, courseSorts, courseStates, CourseSetSheet, CourseSheet, Routes, StatementAt } from '@gate-roster/contract';
import { type Grant, may, type Tally } from '@gate-roster/core';
import { eq, sql, type SQL } from 'drizzle-orm';
import { aboutGrants, statementOf } from '../access/grid.ts';
import { grantsByCourse, grantsOfSets } from '../access/load-rules.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { type Database, firstOf, ids, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import { csv } from '../http/csv.ts';
import { found } from '../http/problem.ts';
import { courseSight, mayMakeCourses } from './own-courses.ts';
import { tallies } from '../progress/tallies.ts';

/** Which courses of the catalogue, in which order. */
export interface CatalogueQuestion {
  words: string;
  subject?: string | undefined;
  tag?: string | undefined;
  setId?: number | undefined;
  state: (typeof courseStates)[number];
  sort: (typeof courseSorts)[number];
}

/** A group on its own, or with all below it. */
interface Scope {
  groupId: number;
  withSubgroups: boolean;
}

const escapeLike = (text: string): string => text.replace(/[\\%_]/gu, (sign) => `\\${sign}`);

/** All courses that fit, sorted, with how they stand in the scope. A catalogue has hundreds of courses, so it is sorted as a whole. */
async function catalogue(db: Database, actor: SignedIn, scope: Scope, question: CatalogueQuestion): Promise<CourseRow[]> {
  const words = question.words.split(/\s+/u).filter((word) => word !== '');
  const isSeen = await courseSight(db, actor);
  const fits = sql.join(
    [
      isSeen(sql`c.home_id`),
      question.state === 'all' ? sql`true` : sql`c.archived = ${question.state === 'archived'}`,
      question.subject === undefined ? sql`true` : sql`c.subject = ${question.subject}`,
      question.tag === undefined ? sql`true` : sql`${question.tag} = any(c.tags)`,
      question.setId === undefined
        ? sql`true`
        : sql`exists (select 1 from course_in_set s where s.course_id = c.id and s.course_set_id = ${question.setId})`,
      ...words.map((word) => sql`concat_ws(' ', c.name, c.code, c.subject, array_to_string(c.tags, ' ')) ilike ${`%${escapeLike(word)}%`}`),
    ],
    sql` and `,
  );
  const courses = await rows<Omit<CourseRow, 'openedAt' | 'standing'>>(
    db,
    sql`
    select c.id, c.name, c.code, c.subject, c.terms, c.archived, c.valid_months as "validMonths", c.tags, ${homeOf} as home,
      (select count(*)::int from unit_now u where u.course_id = c.id) as units,
      (select count(*)::int from activity_now a where a.course_id = c.id) as activities,
      coalesce((select jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name) order by s.position)
        from course_in_set i join course_set_now s on s.id = i.course_set_id where i.course_id = c.id), '[]') as sets
    from course_now c where ${fits} order by ${orderOf(question.sort)}`,
  );
  const standings = await standingsOf(db, actor, scope);
  const openedAt = await openedIn(db, scope);
  const list = courses.map((course) => ({
    ...course,
    openedAt: openedAt.get(course.id) ?? 0,
    standing: standings && standingOf(standings.get(course.id)),
  }));
  const by = question.sort.replace('-', '');
  if (by !== 'learners' && by !== 'openedAt') return list;
  const value = (row: CourseRow): number => (by === 'learners' ? (row.standing?.all ?? 0) : row.openedAt);
  const sign = question.sort.startsWith('-') ? -1 : 1;
  return list.sort((a, b) => sign * (value(a) - value(b)));
}

/** The branch whose own course (`c`) it is. */
const homeOf = sql`(select jsonb_build_object('id', h.id, 'name', h.name) from group_now h where h.id = c.home_id)`;

const orderOf = (sort: CatalogueQuestion['sort']): SQL => {
  const column = { name: sql`c.name collate people_order`, code: sql`c.code`, subject: sql`c.subject collate people_order` }[
    sort.replace('-', '') as 'name'
  ];
  const direction = sort.startsWith('-') ? sql`desc nulls last` : sql`asc nulls last`;
  return column === undefined ? sql`c.name collate people_order, c.id` : sql`${column} ${direction}, c.name collate people_order, c.id`;
};

/** What the learners of the scope come to, by course; null: the reader does not see progress here. */
async function standingsOf(db: Database, actor: SignedIn, { groupId, withSubgroups }: Scope): Promise<Map<number, Tally> | null> {
  const tree = await wholeTree(db);
  if (!may(actor, 'seeProgress', { path: tree.path(groupId) })) return null;
  const sight = await progressSight(db, actor);
  const found = await tallies(db, { groups: [groupId], withSubgroups, sight, today: actor.today, byCourse: true });
  return new Map(found.map(({ courseId, tally }) => [courseId, tally]));
}

const standingOf = (tally: Tally | undefined): NonNullable<CourseRow['standing']> => ({
  all: tally?.all ?? 0,
  underWay: tally?.underWay ?? 0,
  done: tally?.done ?? 0,
  overdue: tally?.overdue ?? 0,
});

/** At how many groups of the scope something opens a course, by course. */
async function openedIn(db: Queryable, scope: Scope): Promise<Map<number, number>> {
  const inScope = new Set(await groupsOfScope(db, scope));
  const counts = new Map<number, Set<number>>();
  for (const { course, grants } of await grantsByCourse(db, null)) {
    const at = grants.flatMap((grant) =>
      'group' in grant.at && grant.effect === 'open' && inScope.has(grant.at.group) ? [grant.at.group] : [],
    );
    counts.set(course.id, new Set(at));
  }
  return new Map([...counts].map(([id, groups]) => [id, groups.size]));
}

async function groupsOfScope(db: Queryable, { groupId, withSubgroups }: Scope): Promise<number[]> {
  const tree = await wholeTree(db);
  return withSubgroups ? tree.branch(groupId) : [groupId];
}

export async function cataloguePage(
  db: Database,
  actor: SignedIn,
  scope: Scope,
  { after, limit, ...question }: CatalogueQuestion & { after: number; limit: number },
): Promise<Answer<Routes['courses']>> {
  const list = await catalogue(db, actor, scope, question);
  const isSeen = (await courseSight(db, actor))(sql`home_id`);
  const { all } = await oneRow<{ all: number }>(db, sql`select count(*)::int as "all" from course_now where ${isSeen}`);
  return {
    courses: list.slice(after, after + limit),
    fit: list.length,
    all,
    subjects: (
      await rows<{ subject: string }>(
        db,
        sql`select subject from course_now where ${isSeen} and subject is not null group by subject order by subject collate people_order`,
      )
    ).map(({ subject }) => subject),
    tags: (await rows<{ tag: string }>(db, sql`select distinct t as tag from course_now, unnest(tags) t where ${isSeen} order by 1`)).map(
      ({ tag }) => tag,
    ),
    sets: await rows(
      db,
      sql`select s.id, s.name, (select count(*)::int from course_in_set i where i.course_set_id = s.id) as courses from course_set_now s order by s.position, s.id`,
    ),
    mayEdit: actor.role === 'administrator',
    ownHome: await ownHome(db, actor, scope),
    next: after + limit < list.length ? after + limit : null,
  };
}

/** Courses of the whole tree's own are everybody's: an administrator makes none of them. */
async function ownHome(db: Queryable, actor: SignedIn, { groupId }: Scope): Promise<{ id: number; name: string } | null> {
  const tree = await wholeTree(db);
  const { id, name, parentId } = tree.node(groupId);
  return mayMakeCourses(actor, tree, groupId) && !(actor.role === 'administrator' && parentId === null) ? { id, name } : null;
}

/** The courses that fit, as CSV. */
export async function catalogueFile(db: Database, actor: SignedIn, scope: Scope, question: CatalogueQuestion): Promise<string> {
  const list = await catalogue(db, actor, scope, question);
  return csv(
    [
      'Course',
      'Code',
      'Subject',
      'Tags',
      'Open',
      'State',
      'Units',
      'Activities',
      'Course sets',
      'Course of',
      'Opened at',
      'Learners',
      'Under way',
      'Done',
      'Overdue',
    ],
    list.map((row) => [
      row.name,
      row.code,
      row.subject,
      row.tags.join('; '),
      row.terms,
      row.archived ? 'archived' : 'active',
      row.units,
      row.activities,
      row.sets.map(({ name }) => name).join('; '),
      row.home?.name ?? null,
      row.openedAt,
      ...(row.standing ? [row.standing.all, row.standing.underWay, row.standing.done, row.standing.overdue] : [null, null, null, null]),
    ]),
  );
}

export async function courseSheet(db: Database, actor: SignedIn, scope: Scope, courseId: number): Promise<CourseSheet> {
  const course = found(
    await maybeRow<Omit<CourseSheet, 'statements' | 'elsewhere' | 'standing' | 'mayEdit' | 'mayOpen'>>(
      db,
      sql`
      select c.id, c.name, c.code, c.subject, c.description, c.terms, c.archived, c.pass_score as "passScore", to_jsonb(c.done_by_activities) as "doneByActivities",
        c.valid_months as "validMonths", c.reopens_days as "reopensDays", c.home_id as "homeId", c.tags, ${homeOf} as home, (select s.name from course x join source s on s.id = x.source_id where x.id = c.id) as source,
        coalesce((select jsonb_agg(jsonb_build_object('id', u.id, 'name', u.name, 'activities', coalesce((
            select jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scored', a.scored, 'finishedBy', a.finished_by, 'handIn', a.hand_in, 'content', a.content) order by a.position) from activity_now a where a.unit_id = u.id), '[]')) order by u.position)
          from unit_now u where u.course_id = c.id), '[]') as units,
        coalesce((select jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name) order by s.position)
          from course_in_set i join course_set_now s on s.id = i.course_set_id where i.course_id = c.id), '[]') as sets,
        '[]'::jsonb as licences,
        coalesce((select jsonb_agg(jsonb_build_object('id', k.id, 'name', k.name, 'courseId', k.course_id) order by k.name_key) from skill_now k where k.course_id is null or k.course_id = c.id), '[]') as skills
      from course_now c where c.id = ${courseId} and ${(await courseSight(db, actor))(sql`c.home_id`)}`,
    ),
  );
  const [about] = await grantsByCourse(db, [courseId]);
  const standings = await standingsOf(db, actor, scope);
  return {
    ...course,
    ...(await statementsIn(db, actor, scope, about?.grants ?? [])),
    standing: standings && standingOf(standings.get(courseId)),
    licences: await licencesOf(
      db,
      actor,
      sql`exists (select 1 from licence_course x where x.licence_id = l.licence_id and x.course_id = ${courseId})`,
    ),
    ...(await rightsIn(db, actor, scope)),
    mayEdit: mayMakeCourses(actor, await wholeTree(db), course.homeId),
  };
}

export async function courseSetSheet(db: Database, actor: SignedIn, scope: Scope, courseSetId: number): Promise<CourseSetSheet> {
  const set = found(
    await firstOf(
      db
        .select({ id: tables.courseSetNow.id, name: tables.courseSetNow.name })
        .from(tables.courseSetNow)
        .where(eq(tables.courseSetNow.id, courseSetId)),
    ),
  );
  const named = (list: SQL): Promise<{ id: number; name: string }[]> =>
    rows(db, sql`select s.id, s.name from course_set_now s where s.id in (${list}) order by s.position, s.id`);
  return {
    ...set,
    courses: await rows(
      db,
      sql`
      select c.id, c.name, c.code, c.archived, case when exists (
          select 1 from course_set_item i where i.course_set_id = ${courseSetId} and i.course_id = c.id and i.until_at is null
        ) then null else (
          select jsonb_build_object('id', s.id, 'name', s.name) from course_set_item i join course_in_set h on h.course_set_id = i.inner_set_id and h.course_id = c.id
          join course_set_now s on s.id = i.inner_set_id where i.course_set_id = ${courseSetId} and i.until_at is null order by s.position limit 1
        ) end as through
      from course_in_set x join course_now c on c.id = x.course_id where x.course_set_id = ${courseSetId} order by c.name collate people_order, c.id`,
    ),
    sets: await named(sql`select inner_set_id from course_set_item where course_set_id = ${courseSetId} and until_at is null`),
    heldBy: await named(sql`select course_set_id from course_set_item where inner_set_id = ${courseSetId} and until_at is null`),
    ...(await statementsIn(db, actor, scope, await grantsOfSets(db, [courseSetId]))),
    licences: await licencesOf(db, actor, sql`l.course_set_id = ${courseSetId}`),
    ...(await rightsIn(db, actor, scope)),
  };
}

/** Statements at groups of the scope and of those above it that the reader sees; how many more stand at others of theirs. */
async function statementsIn(
  db: Queryable,
  actor: SignedIn,
  scope: Scope,
  grants: readonly Grant[],
): Promise<{ statements: StatementAt[]; elsewhere: number }> {
  const tree = await wholeTree(db);
  const seen = await seenGroups(db, actor);
  const near = new Set([...tree.path(scope.groupId), ...(await groupsOfScope(db, scope))]);
  const known = grants.flatMap((grant) =>
    'group' in grant.at && (seen === null || seen.has(grant.at.group)) ? [{ grant, groupId: grant.at.group }] : [],
  );
  const shown = known.filter(({ groupId }) => near.has(groupId));
  const about = await aboutGrants(
    db,
    actor,
    shown.map(({ groupId }) => groupId),
  );
  const order = new Map(tree.branch(tree.path(scope.groupId)[0] ?? scope.groupId).map((id, place) => [id, place]));
  return {
    statements: shown
      .map(({ grant, groupId }) => ({
        ...statementOf(tree, actor, grant, groupId, about),
        group: { id: groupId, name: tree.node(groupId).name },
      }))
      .sort((a, b) => (order.get(a.group.id) ?? 0) - (order.get(b.group.id) ?? 0)),
    elsewhere: known.length - shown.length,
  };
}

/** Licences (`l`) under a condition whose home the reader sees. */
async function licencesOf(db: Queryable, actor: SignedIn, condition: SQL): Promise<CourseSheet['licences']> {
  const seen = await seenGroups(db, actor);
  return rows(
    db,
    sql`
    select l.licence_id as id, l.name, l.last_day as "lastDay" from licence_now l
    where ${condition} and ${seen === null ? sql`true` : sql`l.group_id = any(${ids(seen)})`} order by l.last_day nulls last, l.licence_id`,
  );
}

async function rightsIn(db: Queryable, actor: SignedIn, { groupId }: Scope): Promise<{ mayEdit: boolean; mayOpen: boolean }> {
  const tree = await wholeTree(db);
  return { mayEdit: actor.role === 'administrator', mayOpen: may(actor, 'openCourses', { path: tree.path(groupId) }) };
}
