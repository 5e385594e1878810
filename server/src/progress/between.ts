import { type Answer, betweenKinds, type BetweenKind, type Routes } from '@gate-roster/contract';
import { courseParts, type Day, personParts } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenThrough } from '../accounts/reach.ts';
import { type Database, ids, rows } from '../database/connect.ts';
import { type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import type { ListFilter } from '../people/filtered.ts';
import { type AskedDay, askedOn } from './asked-day.ts';

const namedAtOnce = 200;

interface Asked extends Pick<ListFilter, 'subgroups' | 'filter'> {
  groupId: number;
  from: Day;
  /** The later day; today when it is left out. */
  until: Day | undefined;
  of: BetweenKind | undefined;
}

/** Somebody whom a kind is about, and the courses. */
interface Turned {
  id: number;
  courses: number[];
}

/**
 * What is different in a scope from the end of one day to the end of another: who came into it and left, began and finished a course, and
 * became overdue. Who was not in the scope before is compared with what they had then wherever they were.
 * @throws ProblemError `bad-request` when the days are not in order.
 */
export async function changedBetween(
  deps: Pick<Deps, 'db' | 'pastDays' | 'columns'>,
  actor: SignedIn,
  { groupId, from, until, of, subgroups, filter }: Asked,
): Promise<Answer<Routes['progressBetween']>> {
  if (from >= (until ?? actor.today))
    throw new ProblemError('bad-request', { where: [{ place: 'query.from', what: 'A day before the other' }] });
  const [before, after] = [await askedOn(deps, actor, from), await askedOn(deps, actor, until)];
  const { schema } = await deps.pastDays.at(from, actor.timeZone);
  const withSubgroups = subgroups === 'yes';
  const inScope = (reader: FilterReader): SQL =>
    whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  const [was, is] = [await idsOf(before, inScope), await idsOf(after, inScope)];
  const turned = await turnedRows(after, schema, inScope(after.reader), courseParts(filter));
  const found: Record<BetweenKind, Turned[]> = {
    came: [...is].filter((id) => !was.has(id)).map((id) => ({ id, courses: [] })),
    left: [...was].filter((id) => !is.has(id)).map((id) => ({ id, courses: [] })),
    began: turned('began'),
    finished: turned('finished'),
    overdue: turned('overdue'),
  };
  const counts = Object.fromEntries(betweenKinds.map((kind) => [kind, found[kind].length])) as Record<BetweenKind, number>;
  return { from, until: after.reader.actor.today, counts, people: of === undefined ? [] : await namesOf(deps.db, before, found[of]) };
}

async function idsOf({ db, reader }: AskedDay, inScope: (reader: FilterReader) => SQL): Promise<Set<number>> {
  return new Set(
    (await rows<{ id: number }>(db, sql`select p.id from person p where ${inScope(reader)} order by p.id`)).map(({ id }) => id),
  );
}

/** Enrolments of the later day beside those of the earlier, as far as the reader sees both. */
async function turnedRows(
  { db, reader }: AskedDay,
  schema: string,
  people: SQL,
  parts: ReturnType<typeof courseParts>,
): Promise<(kind: 'began' | 'finished' | 'overdue') => Turned[]> {
  const { today } = reader.actor;
  const list = await rows<Turned & { kind: string }>(
    db,
    sql`
    with after as materialized (${fittingEnrolments(reader, people, parts, { withDue: true })}),
    both_days as (
      select a.person_id, a.course_id, a.status, a.status <> 'done' and coalesce(a.due < ${today}::date, false) as is_overdue,
        coalesce(b.status, 'not begun') as was, coalesce(b.is_overdue, false) as was_overdue
      from after a left join ${sql.identifier(schema)}.enrolled b on b.person_id = a.person_id and b.course_id = a.course_id and ${seenThrough(reader.sight, sql`b.via_groups`)}
      where not a.exempt
    ), turned as (
      select 'began' as kind, person_id, course_id from both_days where was = 'not begun' and status <> 'not begun'
      union all select 'finished', person_id, course_id from both_days where was <> 'done' and status = 'done'
      union all select 'overdue', person_id, course_id from both_days where is_overdue and not was_overdue
    )
    select kind, person_id as id, jsonb_agg(course_id order by course_id) as courses from turned group by 1, 2`,
  );
  return (kind) => list.filter((each) => each.kind === kind);
}

/** Names as of today; those whom the reader may not name any more are left out. */
async function namesOf(db: Database, { reader }: AskedDay, list: readonly Turned[]): Promise<Answer<Routes['progressBetween']>['people']> {
  const about = new Map(list.map(({ id, courses }) => [id, courses]));
  const named = await rows<{ id: number; name: string }>(
    db,
    sql`
    select p.id, trim(n.given_name || ' ' || n.family_name) as name from person p join personal_now n on n.person_id = p.id
    where p.id = any(${ids(about.keys())}) and ${reader.named} order by n.family_name collate people_order, n.given_name collate people_order, p.id limit ${namedAtOnce}`,
  );
  const courseIds = [...new Set(named.flatMap(({ id }) => about.get(id) ?? []))];
  const courses = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select distinct on (course_id) course_id as id, name from course_version where course_id = any(${ids(courseIds)}) order by course_id, row_id desc`,
      )
    ).map(({ id, name }) => [id, name]),
  );
  return named.map(({ id, name }) => ({ id, name, about: (about.get(id) ?? []).flatMap((course) => courses.get(course) ?? []) }));
}
