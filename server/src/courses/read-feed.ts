import { type Answer, feedCourse, mostCoursesOffered, mostCoursesTaken, type Routes } from '@gate-roster/contract';
import { compareFeed, type FeedCourse, type FeedDifference, type KnownCourse } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { ids, oneRow, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { feedKeyOf, playerKey } from '../player/player.ts';

/* What the course platform offers: fetched, read course by course, kept as it was looked at, and compared with what is here. */

const feedMilliseconds = 20_000;
const mostBytes = 30_000_000;
const mostLeftTold = 100;

type Checked = Answer<Routes['checkFeed']>;
type Left = Checked['left'][number];

/** @throws ProblemError `no-feed` when the platform does not answer in time or refuses, `feed-unreadable` when it answers anything but a list of courses. */
export async function checkFeed(deps: Deps): Promise<Checked> {
  const { db } = deps;
  const { courses, left, ignored } = readFeed(await fetchFeed(deps));
  const { id: feedId } = await oneRow<{ id: number }>(
    db,
    sql`insert into course_feed (courses) values (${JSON.stringify(courses)}::jsonb) returning id`,
  );
  const platform = await onlyOne(db.select({ name: tables.source.name }).from(tables.source).where(eq(tables.source.key, playerKey)));
  const found = compareFeed(courses, await knownCourses(db));
  const underWay = await underWayIn(db, [...found.changed.map(({ known }) => known.id), ...found.gone.map(({ id }) => id)]);
  return {
    feedId,
    platform: platform.name,
    fresh: found.fresh.slice(0, mostCoursesTaken).map(({ id, title, code, units }) => ({
      number: id,
      name: title,
      code: code ?? null,
      units: units.length,
    })),
    changed: found.changed.slice(0, mostCoursesTaken).map((each) => told(each, underWay.get(each.known.id) ?? 0)),
    gone: found.gone.slice(0, mostCoursesTaken).map(({ id, name }) => ({ id, name, underWay: underWay.get(id) ?? 0 })),
    counts: { fresh: found.fresh.length, changed: found.changed.length, gone: found.gone.length, same: found.same },
    left: left.slice(0, mostLeftTold),
    ignored,
  };
}

function told({ course, known, fields, values, units }: FeedDifference['changed'][number], underWay: number): Checked['changed'][number] {
  const stay = new Set(units.flatMap(({ id }) => id ?? []));
  const activities = units.flatMap((unit) => unit.activities);
  const activitiesThere = new Set(activities.flatMap(({ id }) => id ?? []));
  return {
    number: course.id,
    course: { id: known.id, name: known.name },
    fields,
    newName: values.name ?? null,
    unitsMade: units.flatMap(({ id, name }) => (id === null ? [name] : [])),
    unitsGone: known.units.flatMap(({ id, name }) => (stay.has(id) ? [] : [name])),
    unitsRenamed: renamed(known.units, units),
    activitiesRenamed: renamed(
      known.units.flatMap((unit) => unit.activities),
      activities,
    ).length,
    activitiesMade: activities.filter(({ id }) => id === null).length,
    activitiesGone: known.units.flatMap((unit) => unit.activities).filter(({ id }) => !activitiesThere.has(id)).length,
    underWay,
  };
}

function renamed(
  before: readonly { id: number; name: string }[],
  after: readonly { id: number | null; name: string }[],
): { from: string; to: string }[] {
  const names = new Map(before.map(({ id, name }) => [id, name]));
  return after.flatMap(({ id, name }) => {
    const from = names.get(id ?? 0);
    return from === undefined || from === name ? [] : [{ from, to: name }];
  });
}

/** Asks the platform. What it answers is read up to a limit, whatever it says of its length. */
async function fetchFeed({ db, settings }: Pick<Deps, 'db' | 'settings'>): Promise<unknown> {
  const { secret } = await onlyOne(db.select({ secret: tables.source.secret }).from(tables.source).where(eq(tables.source.key, playerKey)));
  const url = settings.courseFeed.url ?? `${settings.publicUrl}/player/courses`;
  let text: string;
  try {
    const answer = await fetch(url, {
      signal: AbortSignal.timeout(feedMilliseconds),
      redirect: 'error',
      headers: { Accept: 'application/json', Authorization: `Bearer ${settings.courseFeed.key ?? feedKeyOf(secret)}` },
    });
    if (!answer.ok) throw new Error(`The course platform answered ${answer.status}`);
    text = await textOf(answer);
  } catch (error) {
    throw error instanceof ProblemError ? error : new ProblemError('no-feed', {}, { cause: error });
  }
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    throw new ProblemError('feed-unreadable', {}, { cause: error });
  }
}

async function textOf(answer: Response): Promise<string> {
  const decoder = new TextDecoder();
  const parts: string[] = [];
  let bytes = 0;
  for await (const chunk of answer.body ?? []) {
    const content = chunk as Uint8Array;
    bytes += content.length;
    if (bytes > mostBytes) throw new ProblemError('feed-unreadable');
    parts.push(decoder.decode(content, { stream: true }));
  }
  return parts.join('') + decoder.decode();
}

const feed = z.looseObject({ courses: z.array(z.unknown()).max(mostCoursesOffered) });

/** One course that does not fit does not keep the others out. @throws ProblemError `feed-unreadable` */
export function readFeed(given: unknown): { courses: FeedCourse[]; left: Left[]; ignored: string[] } {
  const read = feed.safeParse(given);
  if (!read.success) throw new ProblemError('feed-unreadable', {}, { cause: read.error });
  const courses = new Map<string, FeedCourse>();
  const twice = new Set<string>();
  const left: Left[] = [];
  const ignored = new Set(Object.keys(read.data).filter((key) => key !== 'courses'));
  for (const each of read.data.courses) {
    const course = feedCourse.safeParse(each);
    if (!course.success) {
      const [issue] = course.error.issues;
      left.push({ what: nameOf(each), why: issue?.path[0] === 'id' ? 'no number' : 'does not fit', where: issue?.path.join('.') ?? null });
      continue;
    }
    for (const key of Object.keys(each as object)) if (!(key in feedCourse.shape)) ignored.add(key);
    const before = courses.get(course.data.id);
    if (hasNumberTwice(course.data)) left.push({ what: course.data.title, why: 'twice', where: 'units' });
    else if (before && JSON.stringify(before) !== JSON.stringify(course.data)) twice.add(course.data.id);
    else courses.set(course.data.id, course.data);
  }
  // Which of the two is meant cannot be told.
  for (const id of twice) {
    left.push({ what: courses.get(id)?.title ?? id, why: 'twice', where: null });
    courses.delete(id);
  }
  return { courses: [...courses.values()], left, ignored: [...ignored].sort() };
}

const hasNumberTwice = ({ units }: FeedCourse): boolean => {
  const activities = units.flatMap((unit) => unit.activities.map(({ id }) => id));
  return new Set(units.map(({ id }) => id)).size < units.length || new Set(activities).size < activities.length;
};

const nameOf = (given: unknown): string => {
  const { title, id } = (typeof given === 'object' && given !== null ? given : {}) as { title?: unknown; id?: unknown };
  return typeof title === 'string' && title !== '' ? title.slice(0, 200) : typeof id === 'string' ? id.slice(0, 200) : '';
};

/** Everybody's courses that the platform shows, as they stand. */
export const knownCourses = (db: Queryable): Promise<KnownCourse[]> =>
  rows(
    db,
    sql`
    select x.id, x.external_id as "externalId", c.name, c.code, c.subject, c.description, c.archived, coalesce((
      select jsonb_agg(jsonb_build_object('id', u.id, 'externalId', ux.external_id, 'name', u.name, 'activities', coalesce((
          select jsonb_agg(jsonb_build_object('id', a.id, 'externalId', ax.external_id, 'name', a.name, 'scored', a.scored, 'isOurs', a.finished_by <> 'player') order by a.position)
          from activity_now a join activity ax on ax.id = a.id where a.unit_id = u.id), '[]')) order by u.position)
      from unit_now u join unit ux on ux.id = u.id where u.course_id = x.id), '[]') as units
    from course x join course_now c on c.id = x.id join source s on s.id = x.source_id and s.key = ${playerKey} where c.home_id is null order by x.id`,
  );

async function underWayIn(db: Queryable, courseIds: readonly number[]): Promise<Map<number, number>> {
  const counted = await rows<{ id: number; people: number }>(
    db,
    sql`select course_id as id, count(*)::int as people from enrolment where is_current and status = 'under way' and course_id = any(${ids(courseIds)}) group by 1`,
  );
  return new Map(counted.map(({ id, people }) => [id, people]));
}
