import type { Answer, Routes } from '@gate-roster/contract';
import { CouldGetIn, courseRules, type Day, daysBetween, type Epoch, type PastLearner, type Stay } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, progressSight } from '../accounts/reach.ts';
import { courseSight } from '../courses/own-courses.ts';
import { ids, iso, maybeRow, type Queryable, rows } from '../database/connect.ts';
import { csv } from '../http/csv.ts';
import { found, ProblemError } from '../http/problem.ts';
import { groupsOf, onlyGroups, seenPerson } from '../people/scope.ts';
import type { Scope } from './course-requests.ts';
import { accessWorld } from './world-at.ts';

const shownAtOnce = 500;
const mostDays = 800;

export interface SpanQuestion {
  courseId: number;
  firstDay: Day;
  lastDay: Day;
}

/** Somebody to whom a course was open for some days. */
interface Row extends Stay {
  personId: number;
  name: string | null;
  firstUse: string | null;
  lastUse: string | null;
}

/** Who of the scope could get into a course between two days, through what, by whose word, and whether they used it. */
export async function whoCouldGetIn(
  db: Queryable,
  actor: SignedIn,
  scope: Scope,
  question: SpanQuestion,
): Promise<Answer<Routes['couldGetIn']>> {
  const all = await answerTo(db, actor, scope, question);
  return {
    rows: all.list.slice(0, shownAtOnce).map((row) => told(row, all)),
    people: new Set(all.list.map(({ personId }) => personId)).size,
    more: Math.max(0, all.list.length - shownAtOnce),
    unnamed: all.unnamed,
  };
}

/** The same as CSV, with the question in it; the name of the file holds a SHA-256 of what is in it. */
export async function couldGetInFile(
  db: Queryable,
  actor: SignedIn,
  scope: Scope & { name: string },
  question: SpanQuestion,
): Promise<{ text: string; fileName: string }> {
  const all = await answerTo(db, actor, scope, question);
  const heads = ['Family name, given name', 'Person number', 'From', 'Until', 'Through', 'Opened by', 'First use', 'Last use'];
  const where = `${scope.name}${scope.withSubgroups ? ' with subgroups' : ''}`;
  const asked = ['Who could get in', all.course, where, question.firstDay, question.lastDay, `asked ${actor.today}`];
  const text = csv(
    [...asked, ...heads.slice(asked.length).map(() => '')],
    [
      heads,
      ...all.list.map((row) => {
        const { name, through, by, ...rest } = told(row, all);
        const makers = by.map(({ group, name: who, day }) => [group, who, day].filter(Boolean).join(', ')).join('; ');
        return [name, rest.personId, rest.firstDay, rest.lastDay, through.join('; '), makers, rest.firstUse, rest.lastUse];
      }),
      ...(all.unnamed > 0 ? [[`${all.unnamed} who are no longer in these groups are not named`]] : []),
    ],
  );
  const hash = createHash('sha256').update(text).digest('hex');
  return { text, fileName: `who-could-get-in-${question.courseId}-${question.firstDay}-${question.lastDay}-${hash}.csv` };
}

interface Found {
  course: string;
  list: Row[];
  groups: Map<number, string>;
  grants: Map<number, { group: string | null; name: string | null; day: Day }>;
  /** People whom the reader may not know of any more. */
  unnamed: number;
}

const told = ({ through, by, ...row }: Row, { groups, grants }: Found) => ({
  ...row,
  through: through.flatMap((id) => groups.get(id) ?? []),
  by: by.flatMap((id) => grants.get(id) ?? []),
});

async function answerTo(db: Queryable, actor: SignedIn, scope: Scope, { courseId, firstDay, lastDay }: SpanQuestion): Promise<Found> {
  if (lastDay < firstDay || daysBetween(firstDay, lastDay) > mostDays)
    throw new ProblemError('bad-request', { where: [{ place: 'query.lastDay', what: 'Before the first day, or too long after it' }] });
  const { name: course } = found(
    await maybeRow<{ name: string }>(
      db,
      sql`select name from course_version where course_id = ${courseId} and ${(await courseSight(db, actor))(sql`home_id`)} order by row_id desc limit 1`,
    ),
  );
  const epochs = await epochsOf(db, actor, courseId, firstDay, lastDay);
  const sight = await progressSight(db, actor);
  const people = await pastLearners(db, actor, scope, firstDay, lastDay);
  const span = new CouldGetIn(epochs, { firstDay, lastDay });
  const stays = people.flatMap((person) =>
    span
      .of(person)
      .filter(({ through }) => sight === null || through.some((id) => sight.via.includes(id)))
      .map((stay) => ({ ...stay, person })),
  );
  const named = await namesAndUses(db, actor, courseId, [...new Set(stays.map(({ person }) => person.personId))]);
  const list = stays.flatMap(({ person: { personId }, ...stay }) => {
    const about = named.get(personId);
    return about
      ? [{ ...stay, personId, ...about, through: sight ? stay.through.filter((id) => sight.via.includes(id)) : stay.through }]
      : [];
  });
  return {
    course,
    list: list.sort((a, b) => (a.name ?? '').localeCompare(b.name ?? '') || a.personId - b.personId || (a.firstDay < b.firstDay ? -1 : 1)),
    groups: new Map(epochs.flatMap(({ rules }) => [...rules.tree.nodes()].map(({ id, name }) => [id, name] as const))),
    grants: await makersOf(db, actor, sight, [...new Set(list.flatMap(({ by }) => by))]),
    unnamed: new Set(stays.filter(({ person }) => !named.has(person.personId)).map(({ person }) => person.personId)).size,
  };
}

/** Stretches of days over which the same rows said what the course is, where groups stood and what was said about it. */
async function epochsOf(db: Queryable, actor: SignedIn, courseId: number, firstDay: Day, lastDay: Day): Promise<Epoch[]> {
  const zone = actor.timeZone;
  const turned = (table: string) =>
    sql`select (t.at at time zone ${zone})::date::text as day from ${sql.identifier(table)} r cross join lateral (values (r.from_at), (r.until_at)) t(at)`;
  const turns = await rows<{ day: Day }>(
    db,
    sql`
    select distinct day from (
      ${turned('group_version')} union all ${turned('course_set_item')}
      union all ${turned('course_version')} where r.course_id = ${courseId} union all ${turned('unit_version')} where r.course_id = ${courseId}
      union all ${turned('access_grant')} where r.course_id = ${courseId} or r.course_set_id is not null
    ) d where day > ${firstDay} and day <= least(${lastDay}, ${actor.today}) order by day`,
  );
  const epochs: Epoch[] = [];
  for (const day of [firstDay, ...turns.map((turn) => turn.day)]) {
    const { tree, courses } = await accessWorld(db, actor, day, courseId);
    const [about] = courses;
    // Before it was made it was open to nobody.
    if (about) epochs.push({ firstDay: day, rules: courseRules(tree, about.course, about.grants) });
    else epochs.push({ firstDay: day, rules: courseRules(tree, { id: courseId, units: [], terms: 'group', archived: true }, []) });
  }
  return epochs;
}

/** Everybody who was on record in a group of the scope for some of the days, with all their groups; days are cut where the record was. */
async function pastLearners(db: Queryable, { timeZone }: SignedIn, scope: Scope, firstDay: Day, lastDay: Day): Promise<PastLearner[]> {
  /** First and last day on which a row was on record when the day ended and spoke of that day. */
  const span = (alias: string) => {
    const of = sql.identifier(alias);
    return sql`greatest((${of}.from_at at time zone ${timeZone})::date, ${of}.first_day) as first_day, least((${of}.until_at at time zone ${timeZone})::date - 1, ${of}.last_day) as last_day`;
  };
  const meets = sql`first_day <= ${lastDay} and coalesce(last_day >= greatest(first_day, ${firstDay}::date), true)`;
  return rows<PastLearner>(
    db,
    sql`
    with held as (
      select person_id, group_id, first_day, last_day from (select m.person_id, m.group_id, ${span('m')} from membership m) m where ${meets}
    ), worked as (
      select person_id, first_day, last_day from (select s.person_id, ${span('s')} from person_state s where s.state = 'active') s where ${meets}
    )
    select h.person_id as "personId", jsonb_agg(jsonb_build_object('groupId', h.group_id, 'firstDay', h.first_day, 'lastDay', h.last_day) order by h.first_day, h.group_id) as memberships,
      coalesce((select jsonb_agg(jsonb_build_object('firstDay', w.first_day, 'lastDay', w.last_day) order by w.first_day) from worked w where w.person_id = h.person_id), '[]') as active
    from held h where h.person_id in (select person_id from held where group_id in (${groupsOf(scope.groupId, scope.withSubgroups)})) group by h.person_id order by h.person_id`,
  );
}

/** Names of those whom the reader may know of, and when they first and last worked on the course. */
async function namesAndUses(
  db: Queryable,
  actor: SignedIn,
  courseId: number,
  people: readonly number[],
): Promise<Map<number, Pick<Row, 'name' | 'firstUse' | 'lastUse'>>> {
  const list = await rows<{ id: number; name: string | null; firstUse: string | null; lastUse: string | null }>(
    db,
    sql`
    select p.id, case when p.erased_at is null then n.family_name || ', ' || n.given_name end as name, u.first as "firstUse", u.last as "lastUse"
    from person p left join personal_now n on n.person_id = p.id
    left join lateral (
      select min(e.begun_at) as first, max(r.last_at) as last from enrolment e left join activity_result r on r.enrolment_id = e.id where e.person_id = p.id and e.course_id = ${courseId}
    ) u on true
    where p.id = any(${ids(people)}) and ${seenPerson(actor, sql`p.id`)}`,
  );
  return new Map(
    list.map(({ id, firstUse, lastUse, name }) => [id, { name, firstUse: firstUse && iso(firstUse), lastUse: lastUse && iso(lastUse) }]),
  );
}

/** By whom, where and when statements were made, as far as the reader may know. */
async function makersOf(db: Queryable, actor: SignedIn, sight: ProgressSight, grants: readonly number[]): Promise<Found['grants']> {
  const list = await rows<{ id: number; group: string | null; name: string | null; day: Day }>(
    db,
    sql`
    select g.row_id as id, (select v.name from group_version v where v.group_id = g.group_id order by v.row_id desc limit 1) as "group",
      case when ${seenPerson(actor, sql`g.made_by`)} then trim(n.given_name || ' ' || n.family_name) end as name, (g.made_at at time zone ${actor.timeZone})::date as day
    from access_grant g left join personal_now n on n.person_id = g.made_by where g.row_id = any(${ids(grants)}) and (g.group_id is null or ${onlyGroups(sql`g.group_id`, sight?.via ?? null)})`,
  );
  return new Map(list.map(({ id, ...about }) => [id, about]));
}
