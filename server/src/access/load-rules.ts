import {
  type CourseGrants,
  type CourseId,
  type CourseRules,
  courseRules,
  type Day,
  type DueRule,
  type Grant,
  type Learner,
  type LearnerClass,
  type Tree,
  ofSetKey,
} from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { type Standing, standsNow } from '../database/history.ts';
import { cachedByStructure } from '../database/structure-cache.ts';

interface GrantRow {
  id: number;
  group_id: number | null;
  person_id: number | null;
  with_subgroups: boolean;
  course_id: number | null;
  course_set_id: number | null;
  effect: Grant['effect'];
  firm: boolean;
  first_day: Day | null;
  last_day: Day | null;
  units: number[] | null;
  due_day: Day | null;
  due_days: number | null;
  due_least_days: number | null;
  due_firm: boolean;
  licences: number[] | null;
  other_licences: boolean;
  maker_branch_id: number | null;
  by_request: boolean;
  made_day: Day;
  set_day: Day | null;
  about: number;
}

/** Courses (null: all) with the grants that speak about them, directly or through a course set. Not to be altered: they are cached. */
export async function grantsByCourse(db: Queryable, courseIds: readonly CourseId[] | null): Promise<readonly CourseGrants[]> {
  const all = await cachedByStructure('grants', db, loadGrants);
  if (courseIds === null) return all;
  const wanted = new Set(courseIds);
  return all.filter(({ course }) => wanted.has(course.id));
}

/** Courses with what is said about them, as it stands or as it once stood. Homes of licences are those of today. */
export async function loadGrants(
  db: Queryable,
  stands: Standing = standsNow,
  courseId: CourseId | null = null,
): Promise<readonly CourseGrants[]> {
  const courses = await rows<{
    id: CourseId;
    terms: 'everyone' | 'group' | 'request';
    archived: boolean;
    home: number | null;
    hasRounds: boolean;
    licenceHomes: { licence: number; home: number }[];
    units: number[];
  }>(
    db,
    sql`
    select c.course_id as id, c.terms, c.archived, c.home_id as home, c.valid_months is not null as "hasRounds", (select coalesce(jsonb_agg(jsonb_build_object('licence', l.licence_id, 'home', l.group_id) order by l.licence_id), '[]')
        from licence_course x join licence_now l on l.licence_id = x.licence_id where x.course_id = c.course_id) as "licenceHomes", coalesce((select jsonb_agg(u.unit_id order by u.position) from unit_version u where u.course_id = c.course_id and ${stands('u')}), '[]') as units
    from course_version c where ${stands('c')} and ${courseId === null ? sql`true` : sql`c.course_id = ${courseId}`} order by c.course_id`,
  );
  const grants = await grantsWhere(db, sql`${stands('g')} and ${courseId === null ? sql`true` : sql`c.id = ${courseId}`}`, stands);
  const byCourse = new Map<CourseId, Grant[]>(courses.map(({ id }) => [id, []]));
  for (const { courseId, grant } of grants) byCourse.get(courseId)?.push(grant);
  return courses.map((course) => ({ course, grants: byCourse.get(course.id) ?? [] }));
}

/** Grants whose rows have ended, as they would stand again: under a number of their own, with the courses they speak about. */
export async function endedGrants(db: Queryable, rowIds: readonly number[]): Promise<{ courseIds: CourseId[]; grant: Grant }[]> {
  const found = new Map<number, { courseIds: CourseId[]; grant: Grant }>();
  for (const { courseId, grant } of await grantsWhere(db, sql`g.row_id = any(${ids(rowIds)})`)) {
    const known = found.get(grant.id);
    if (known) known.courseIds.push(courseId);
    else found.set(grant.id, { courseIds: [courseId], grant: { ...grant, id: -grant.id } });
  }
  return [...found.values()];
}

/** What stands about course sets, as it would reach a course that comes into one of them today. */
export async function grantsOfSets(db: Queryable, sets: readonly number[]): Promise<Grant[]> {
  if (sets.length === 0) return [];
  const found = await rows<GrantRow>(
    db,
    sql`select ${grantColumns}, (now() at time zone o.time_zone)::date as set_day, 0 as about from access_grant g cross join organisation o
    where g.until_at is null and g.course_set_id = any(${ids(sets)}) order by g.row_id`,
  );
  return found.map(grantOfRow);
}

/** The courses about which these grants speak, directly or through a course set; whether or not they are in force. */
export async function coursesOfGrants(db: Queryable, rowIds: readonly number[]): Promise<CourseId[]> {
  const found = await rows<{ id: CourseId }>(
    db,
    sql`
    select course_id as id from access_grant where row_id = any(${ids(rowIds)}) and course_id is not null
    union select s.course_id from access_grant g join course_in_set s on s.course_set_id = g.course_set_id where g.row_id = any(${ids(rowIds)})
    order by 1`,
  );
  return found.map(({ id }) => id);
}

/** What is read of a grant (`g`) in every case. */
const grantColumns = sql`
  g.row_id as id, g.group_id, g.person_id, g.with_subgroups, g.course_id, g.course_set_id, g.effect, g.firm, g.first_day, g.last_day,
  to_jsonb(g.units) as units, g.due_day, g.due_days, g.due_least_days, g.due_firm, to_jsonb(g.licences) as licences, g.other_licences, g.maker_branch_id, g.by_request,
  (g.made_at at time zone o.time_zone)::date as made_day`;

/** Which courses the sets held, also through sets in them. */
const inSets = (stands: Standing): SQL => sql`
  reach as (
    select i.course_set_id, i.course_id, i.inner_set_id, i.from_at as since from course_set_item i where ${stands('i')}
    union select r.course_set_id, i.course_id, i.inner_set_id, greatest(r.since, i.from_at) from reach r join course_set_item i on i.course_set_id = r.inner_set_id and ${stands('i')}
  ), in_set as (select course_set_id, course_id, min(since) as since from reach where course_id is not null group by 1, 2)`;

/** Grants (`g`) under a condition, once for each course (`c`) they speak about. */
async function grantsWhere(db: Queryable, condition: SQL, stands: Standing = standsNow): Promise<{ courseId: CourseId; grant: Grant }[]> {
  const found = await rows<GrantRow>(
    db,
    sql`
    with recursive ${inSets(stands)}
    select ${grantColumns}, (c.since at time zone o.time_zone)::date as set_day, c.id as about
    from access_grant g cross join organisation o
    cross join lateral (
      select g.course_id as id, null::timestamptz as since where g.course_id is not null
      union all select s.course_id, s.since from in_set s where s.course_set_id = g.course_set_id
    ) c
    where ${condition} order by g.row_id`,
  );
  return found.map((row) => ({ courseId: row.about, grant: grantOfRow(row) }));
}

function grantOfRow(row: GrantRow): Grant {
  return {
    id: row.id,
    at: row.group_id === null ? { person: row.person_id ?? 0 } : { group: row.group_id, withSubgroups: row.with_subgroups },
    about: row.course_id === null ? { courseSet: row.course_set_id ?? 0 } : { course: row.course_id },
    effect: row.effect,
    firm: row.firm,
    firstDay: row.first_day,
    lastDay: row.last_day,
    units: row.units,
    due: dueOfRow(row),
    payers: row.licences && { licences: row.licences, others: row.other_licences },
    makerBranch: row.maker_branch_id,
    byRequest: row.by_request,
    madeDay: row.made_day,
    inSetSince: row.set_day,
  };
}

function dueOfRow(row: GrantRow): DueRule | null {
  const at = row.due_day !== null ? { day: row.due_day } : row.due_days !== null ? { days: row.due_days } : null;
  return at && { at, leastDays: row.due_least_days, firm: row.due_firm };
}

/** People about whom something is said by name, so that no class speaks for them. */
export const peopleWithGrants = (courses: readonly CourseGrants[]): Set<number> =>
  new Set(courses.flatMap(({ grants }) => grants.flatMap(({ at }) => ('person' in at ? [at.person] : []))));

/** Rules compiled for a tree; what is cached is compiled once. */
const compiled = new WeakMap<Tree, WeakMap<CourseGrants, CourseRules>>();

export const rulesOf = (tree: Tree, courses: readonly CourseGrants[]): CourseRules[] => courses.map((about) => rulesOfCourse(tree, about));

export function rulesOfCourse(tree: Tree, about: CourseGrants): CourseRules {
  const known = compiled.get(tree) ?? new WeakMap<CourseGrants, CourseRules>();
  compiled.set(tree, known);
  const rules = known.get(about) ?? courseRules(tree, about.course, about.grants);
  known.set(about, rules);
  return rules;
}

export interface PersonLearner extends Learner {
  personId: number;
}

/** People as the rules see them, with all their memberships, as they stand or as they once stood. */
export async function learners(db: Queryable, personIds: readonly number[], stands: Standing = standsNow): Promise<PersonLearner[]> {
  if (personIds.length === 0) return [];
  return rows<PersonLearner>(
    db,
    sql`
    select p.id as "personId", s.state = 'active' as active, s.state = 'ended' as ended, s.first_day as "firstDay", s.last_day as "lastDay",
      coalesce(f.courses, '[]') as "mayFinish", coalesce(h.memberships, '[]') as memberships
    from person p join person_state s on s.person_id = p.id and ${stands('s')}
    left join (
      select e.person_id, jsonb_agg(e.course_id order by e.course_id) as courses from enrolment e join course_now t on t.id = e.course_id and t.archived
      where e.person_id = any(${ids(personIds)}) and e.is_current and e.status = 'under way' group by 1
    ) f on f.person_id = p.id
    left join (
      select m.person_id, jsonb_agg(jsonb_build_object('groupId', m.group_id, 'firstDay', m.first_day, 'lastDay', m.last_day) order by coalesce(m.first_day, m.from_at::date), m.row_id) as memberships
      from membership m where m.person_id = any(${ids(personIds)}) and ${stands('m')} group by 1
    ) h on h.person_id = p.id
    where p.id = any(${ids(personIds)}) order by p.id`,
  );
}

/** One membership set as the rules see it: the people who are in exactly these groups, until these days. */
export function learnerOfSet(key: string): Learner {
  const { held, account } = ofSetKey(key);
  return {
    personId: null,
    active: account !== 'off',
    firstDay: null,
    lastDay: account === 'off' ? null : account.lastDay,
    memberships: held.map((each) => ({ ...each, firstDay: null })),
  };
}

/**
 * Everybody counted, as classes that follow the same rules. With `branchTops`, only those who touch these branches.
 * `seen` cuts memberships down to the groups a reader may know of.
 */
export async function learnerClasses(
  db: Queryable,
  branchTops: readonly number[] | null,
  seen: ((groupId: number) => boolean) | null,
): Promise<LearnerClass[]> {
  const touching =
    branchTops === null ? sql`true` : sql`s.id in (select set_id from set_in_branch where ancestor_id = any(${ids(branchTops)}))`;
  const sets = await rows<{ id: number; key: string; people: number }>(
    db,
    sql`select s.id, s.key, s.counted_alike as people from membership_set s where s.counted_alike > 0 and ${touching}`,
  );
  const own = await rows<{ id: number }>(
    db,
    sql`
    select p.id from person p join membership_set s on s.id = p.set_id
    where p.own_windows and (${touching} or ${
      branchTops === null
        ? sql`true`
        : sql`exists (
      select 1 from membership m join group_branch b on b.group_id = m.group_id where m.person_id = p.id and m.until_at is null and b.ancestor_id = any(${ids(branchTops)}))`
    })`,
  );
  const persons = await learners(
    db,
    own.map(({ id }) => id),
  );
  return [
    ...sets.map(({ id, key, people }) => ({ who: { set: id }, learner: asSeen(learnerOfSet(key), seen), people })),
    ...persons.map((learner) => ({ who: { person: learner.personId }, learner: asSeen(learner, seen), people: 1 })),
  ];
}

/** A leader learns nothing of memberships outside their branches, so their looks do not weigh them. */
export function asSeen<L extends Learner>(learner: L, seen: ((groupId: number) => boolean) | null): L {
  return seen === null ? learner : { ...learner, memberships: learner.memberships.filter(({ groupId }) => seen(groupId)) };
}
