import type { PersonSheet, WhyStep } from '@gate-roster/contract';
import { type Actor, addTo, type CourseGrants, may, mayActOnAccount, type Power, resolve, type Tree } from '@gate-roster/core';
import { and, eq, isNull, sql, type SQL } from 'drizzle-orm';
import { grantsByCourse, learners, rulesOfCourse } from '../access/load-rules.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { courseSight } from '../courses/own-courses.ts';
import { iso, maybeRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import { found } from '../http/problem.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import { noRounds, roundsOf } from '../progress/round-facts.ts';
import { mayHelp } from '../accounts/may-help.ts';
import { maybeAccount } from './account.ts';
import { addressState, onlyGroups, seenPerson, seesAll } from './scope.ts';
import { seenTags } from './tags.ts';
import { runningParts } from '../splits/running.ts';

/**
 * One person as the actor may see them: a leader sees the groups and courses of their own branches only.
 * @throws ProblemError `not-found` when the person is in none of the actor's groups.
 */
export async function personSheet(db: Queryable, actor: SignedIn, personId: number): Promise<PersonSheet> {
  const own = await seenGroups(db, actor);
  // Asked side by side: none of them needs the answer of another.
  const [{ active_at, role, ...rest }, groups, tree, leads, answers, parts] = await Promise.all([
    personOf(db, actor, personId),
    groupsOf(db, actor, personId, own),
    wholeTree(db),
    leadsOf(db, personId, own),
    answersOf(db, personId, own),
    runningParts(db, personId),
  ]);
  const mayProgress = actor.role === 'administrator' || groups.some(({ id }) => may(actor, 'seeProgress', { path: tree.path(id) }));
  const [account, courses] = await Promise.all([
    maybeAccount(db, tree, personId).then(found),
    mayProgress ? coursesWithWhy(db, actor, personId, tree, own) : [],
  ]);
  const hasAddress = rest.email !== null;
  return {
    ...rest,
    leads,
    answers,
    may: {
      account: mayActOnAccount(actor, account),
      managePeople: actor.role === 'administrator' || groups.some(({ id }) => may(actor, 'managePeople', { path: tree.path(id) })),
      exceptIn: groups.find(({ id }) => may(actor, 'openCourses', { path: tree.path(id) }))?.id ?? null,
      letter: hasAddress && mayHelp(actor, account),
      seeAs: actor.role === 'administrator' && actor.seenBy === null && role === 'none' && rest.state === 'active',
    },
    activeAt: active_at === null ? null : iso(active_at),
    groups: groups.map((group) => ({
      ...group,
      path: tree
        .path(group.id)
        .filter((id) => own === null || own.has(id))
        .map((id) => tree.node(id).name)
        .slice(0, -1),
    })),
    inParts: parts.flatMap(({ splitId, groupId, split, part, until }) =>
      may(actor, 'openCourses', { path: tree.path(groupId) }) ? [{ splitId, groupId, split, part, until }] : [],
    ),
    courses,
  };
}

/** Groups whose people the reader sees; null: all. */
type Own = ReadonlySet<number> | null;

const personOf = async (db: Queryable, actor: SignedIn, personId: number) =>
  found(
    await maybeRow<
      Omit<PersonSheet, 'groups' | 'courses' | 'activeAt' | 'leads' | 'answers' | 'may' | 'inParts'> & {
        active_at: string | null;
        role: Actor['role'];
      }
    >(
      db,
      sql`
    select p.id, n.given_name as "givenName", n.family_name as "familyName", n.email, ${addressState} as "addressState", n.sign_in_name as "signInName", n.id_number as "idNumber", s.state, s.first_day as "firstDay", s.last_day as "lastDay", n.name_hidden as "nameHidden",
      exists (select 1 from credential c where c.person_id = p.id) as "hasPassword", p.role, p.active_at,
      coalesce((select jsonb_agg(jsonb_build_object('id', t.id, 'name', t.name, 'colour', t.colour) order by t.name) from person_tag pt join tag_now t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null and ${seenTags(actor)}), '[]') as tags
    from person p join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null
    where p.id = ${personId} and p.erased_at is null and ${seenPerson(actor, sql`p.id`)}`,
    ),
  );

const groupsOf = (db: Queryable, actor: SignedIn, personId: number, own: Own) =>
  rows<{ id: number; name: string; since: string; firstDay: string | null; lastDay: string | null; cameBy: string }>(
    db,
    sql`
    select g.id, g.name, coalesce(m.first_day, (m.from_at at time zone ${actor.timeZone})::date) as since, m.first_day as "firstDay", m.last_day as "lastDay", m.came_by as "cameBy"
    from membership m join group_now g on g.id = m.group_id where m.person_id = ${personId} and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)} order by m.from_at, g.name`,
  );

const leadsOf = (db: Queryable, personId: number, own: Own) =>
  rows<{ id: number; name: string; powers: Power[]; lastDay: string | null }>(
    db,
    sql`
    select g.id, g.name, l.powers, l.last_day as "lastDay" from leadership l join group_now g on g.id = l.group_id where l.person_id = ${personId} and l.until_at is null and ${onlyGroups(sql`g.id`, own)} order by g.name collate people_order`,
  );

const answersOf = (db: Queryable, personId: number, own: Own) =>
  rows<PersonSheet['answers'][number]>(
    db,
    sql`
    select a.label, a.answer from join_code_use u join lateral (select group_ids from join_code_version v where v.code_id = u.code_id order by row_id desc limit 1) v on true
    cross join lateral jsonb_to_recordset(u.answers) as a(label text, answer text) where u.person_id = ${personId} and ${seesAll(sql`v.group_ids`, own)} order by u.at`,
  );

async function coursesWithWhy(db: Queryable, actor: SignedIn, personId: number, tree: Tree, own: Own): Promise<PersonSheet['courses']> {
  const enrolled = async () => {
    const sight = await progressSight(db, actor);
    const how = { today: actor.today, sight, dueSoonDays: actor.dueSoonDays, withLater: true };
    const list = await enrolmentsOf(db, [personId], how);
    const courseIds = list.map(({ courseId }) => courseId);
    return { enrolments: new Map(list.map((each) => [each.courseId, each])), rounds: await roundsOf(db, personId, courseIds) };
  };
  const [[learner], { enrolments, rounds }, seats, exceptions, asked, names] = await Promise.all([
    learners(db, [personId]),
    enrolled(),
    seatsOf(db, personId, own),
    exceptionsOf(db, actor, personId, own),
    askedBy(db, personId),
    namesOfCourses(db, actor),
  ]);
  if (!learner) return [];
  return (await grantsByCourse(db, [...names.keys()])).map((about) => {
    const access = resolve(rulesOfCourse(tree, about), learner, actor.today);
    const enrolment = enrolments.get(about.course.id);
    return {
      id: about.course.id,
      name: names.get(about.course.id) ?? '',
      open: (enrolment?.units.length ?? 0) > 0,
      units: enrolment?.units.length ?? 0,
      allUnits: about.course.units.length,
      opensLater: enrolment?.opensOn ?? null,
      due: enrolment?.due ?? null,
      status: enrolment?.status ?? 'not begun',
      lateness: enrolment?.lateness ?? 'on time',
      score: enrolment?.score ?? null,
      inLine: enrolment?.inLine ?? null,
      noLicence: enrolment !== undefined && enrolment.lacksSeat && enrolment.inLine === null,
      asked: asked.has(about.course.id),
      seat: seats.get(about.course.id) ?? null,
      exceptions: exceptions.get(about.course.id) ?? [],
      // Of an enrolment that the reader does not see, its rounds are not told.
      ...(rounds.get(about.course.id) ?? noRounds),
      why: whySteps(about, access.chain, tree, own),
    };
  });
}

/** Courses that somebody has asked for, and nobody has decided about. */
const askedBy = async (db: Queryable, personId: number): Promise<Set<number>> =>
  new Set(
    (
      await db
        .select({ id: tables.courseRequest.courseId })
        .from(tables.courseRequest)
        .where(
          and(eq(tables.courseRequest.personId, personId), isNull(tables.courseRequest.untilAt), eq(tables.courseRequest.state, 'asking')),
        )
    ).map(({ id }) => id),
  );

const namesOfCourses = async (db: Queryable, actor: SignedIn): Promise<Map<number, string>> =>
  new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select id, name from course_now where ${(await courseSight(db, actor))(sql`home_id`)}`,
      )
    ).map(({ id, name }) => [id, name]),
  );

/** By course, what is said of this person alone; a leader reads what was said above them or in the name of their branches. */
async function exceptionsOf(
  db: Queryable,
  actor: SignedIn,
  personId: number,
  own: Own,
): Promise<Map<number, PersonSheet['courses'][number]['exceptions']>> {
  const isRead = (maker: SQL): SQL => (own === null ? sql`true` : sql`(${maker} is null or ${onlyGroups(maker, own)})`);
  const found = await rows<PersonSheet['courses'][number]['exceptions'][number] & { courseId: number }>(
    db,
    sql`
    select course_id as "courseId", effect as what, first_day as "firstDay", last_day as day, note as reason, null as proof from access_grant g
      where g.person_id = ${personId} and g.course_id is not null and g.until_at is null and ${isRead(sql`g.maker_branch_id`)}
    union all
    select course_id, kind, null, day, reason, proof from course_exception x where x.person_id = ${personId} and x.until_at is null and ${isRead(sql`x.maker_branch_id`)}
    order by 1, 2`,
  );
  const byCourse = new Map<number, PersonSheet['courses'][number]['exceptions']>();
  for (const { courseId, ...exception } of found) addTo(byCourse, courseId, exception);
  return byCourse;
}

/** By course, the licence whose seat pays for it; a leader hears of those that are charged in their branches. */
async function seatsOf(db: Queryable, personId: number, own: Own): Promise<Map<number, string>> {
  const found = await rows<{ course_id: number; name: string }>(
    db,
    sql`
    select c.course_id, l.name from seat s join licence_now l on l.licence_id = s.licence_id join licence_course c on c.licence_id = s.licence_id
    where s.person_id = ${personId} and s.until_at is null and ${onlyGroups(sql`s.group_id`, own)}`,
  );
  return new Map(found.map(({ course_id, name }) => [course_id, name]));
}

/** The chain in a reader's terms: what lies outside their branch and its ancestors is "something outside your groups". */
export function whySteps(about: CourseGrants, chain: ReturnType<typeof resolve>['chain'], tree: Tree, own: Own): WhyStep[] {
  const visible = (id: number): boolean =>
    own === null || own.has(id) || [...own].some((each) => tree.has(each) && tree.path(each).includes(id));
  const named = (id: number | null): WhyStep['at'] => (id !== null && visible(id) ? { id, name: tree.node(id).name } : null);
  const steps = chain.map((step): WhyStep => {
    const grant = step.grant === null ? undefined : about.grants.find(({ id }) => id === step.grant);
    const at = grant && 'group' in grant.at ? grant.at.group : null;
    const outside = (step.path !== null && own !== null && !own.has(step.path)) || (at !== null && !visible(at));
    return {
      kind: step.kind,
      verdict: step.verdict,
      effect: outside ? null : (grant?.effect ?? null),
      some: !outside && grant?.units != null,
      outside,
      at: outside ? null : named(at),
      path: outside ? null : named(step.path),
      firstDay: outside ? null : (grant?.firstDay ?? null),
      lastDay: outside ? null : (grant?.lastDay ?? null),
      terms: step.kind === 'terms' && !outside ? about.course.terms : null,
    };
  });
  // Several hidden steps say no more than one.
  return steps.filter((step, index) => !step.outside || steps.findIndex(({ outside }) => outside) === index);
}
