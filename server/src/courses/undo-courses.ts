import { loopOfSets } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse } from '../access/load-rules.ts';
import type { PlanContext } from '../changes/plan.ts';
import type { Shift } from '../changes/shift.ts';
import type { RowKind } from '../changes/kept-rows.ts';
import type { Subject } from '../changes/writer.ts';
import { ids, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { activityRows, courseVersions, coursesWithItems, definitionOf, peopleUnderWay, setItemRows, unitRows, withFacts } from './rows.ts';

/* What an undo does to courses and course sets. */

const rowsOf = (subjects: readonly Subject[], kind: RowKind, which: 'before_row' | 'after_row'): number[] =>
  subjects.flatMap((subject) => (subject.kind === kind ? (subject[which] ?? []) : []));

/**
 * Of what still is as it was left, what can go back: a course with its units and activities only as a whole, a course or set that
 * was made only when nothing hangs on it, and nothing that would make a set hold itself.
 */
export async function coursesAsLeft({ db }: PlanContext, subjects: readonly Subject[], kept: readonly Subject[]): Promise<Subject[]> {
  const isOfCourses = ({ kind }: Subject): boolean => ['course', 'unit', 'activity', 'course set', 'course set item'].includes(kind);
  if (!subjects.some(isOfCourses)) return [...kept];
  const whole = (list: readonly Subject[]): Subject[] =>
    list.filter(({ kind }) => kind === 'course' || kind === 'unit' || kind === 'activity');
  const made = (kind: 'course' | 'course set'): number[] =>
    kept.flatMap((subject) => (subject.kind === kind && subject.before_row === null ? (subject.after_row ?? []) : []));
  const isWhole = whole(kept).length === whole(subjects).length && (await inUse(db, 'course', made('course'), kept)) === 0;
  const isSetFree = (await inUse(db, 'course set', made('course set'), kept)) === 0;
  const items = await itemsAfter(db, kept);
  const isLooped = loopOfSets(items) !== null;
  return kept.filter((subject) => {
    if (whole([subject]).length > 0) return isWhole;
    if (subject.kind === 'course set') return isSetFree;
    return subject.kind !== 'course set item' || (isSetFree && !isLooped);
  });
}

/** How many of the courses or sets with these versions are named by what stands and is not undone with them. */
async function inUse(
  db: Queryable,
  kind: 'course' | 'course set',
  versions: readonly number[],
  undone: readonly Subject[],
): Promise<number> {
  if (versions.length === 0) return 0;
  const items = ids(rowsOf(undone, 'course set item', 'after_row'));
  const grants = ids(rowsOf(undone, 'grant', 'after_row'));
  const found = await rows(
    db,
    kind === 'course'
      ? sql`
        select 1 from course_version v where v.row_id = any(${ids(versions)}) and (
          exists (select 1 from enrolment e where e.course_id = v.course_id)
          or exists (select 1 from access_grant g where g.course_id = v.course_id and g.until_at is null and g.row_id <> all(${grants}))
          or exists (select 1 from course_set_item s where s.course_id = v.course_id and s.until_at is null and s.row_id <> all(${items}))
          or exists (select 1 from licence_now l where l.course_id = v.course_id))`
      : sql`
        select 1 from course_set_version v where v.row_id = any(${ids(versions)}) and (
          exists (select 1 from access_grant g where g.course_set_id = v.course_set_id and g.until_at is null and g.row_id <> all(${grants}))
          or exists (select 1 from course_set_item s where (s.inner_set_id = v.course_set_id or s.course_set_id = v.course_set_id) and s.until_at is null and s.row_id <> all(${items}))
          or exists (select 1 from licence_now l where l.course_set_id = v.course_set_id))`,
  );
  return found.length;
}

const itemsAfter = (db: Queryable, subjects: readonly Subject[]): ReturnType<typeof setItemRows> =>
  setItemRows(
    db,
    sql`(until_at is null and row_id <> all(${ids(rowsOf(subjects, 'course set item', 'after_row'))})) or row_id = any(${ids(rowsOf(subjects, 'course set item', 'before_row'))})`,
  );

/** How courses would be otherwise when these subjects are undone. */
export async function courseShift(db: Queryable, subjects: readonly Subject[]): Promise<Pick<Shift, 'courses' | 'definitions' | 'people'>> {
  const bySets = subjects.some(({ kind }) => kind === 'course set item') ? await coursesWithItems(db, await itemsAfter(db, subjects)) : [];
  const concerned = await definedBy(db, subjects);
  if (concerned.length === 0) return { courses: bySets };
  const about = ids(concerned);
  const turningVersions = rowsOf(subjects, 'course', 'before_row');
  // The version that comes back, or where none does, the one that stands.
  const versions = await courseVersions(
    db,
    sql`row_id = any(${ids(turningVersions)}) or (until_at is null and course_id = any(${about}) and not exists (
      select 1 from course_version b where b.course_id = v.course_id and b.row_id = any(${ids(turningVersions)})))`,
  );
  const then = (kind: 'unit' | 'activity') =>
    sql`course_id = any(${about}) and ((until_at is null and row_id <> all(${ids(rowsOf(subjects, kind, 'after_row'))})) or row_id = any(${ids(rowsOf(subjects, kind, 'before_row'))}))`;
  const [units, activities] = [await unitRows(db, then('unit')), await activityRows(db, then('activity'))];
  const said = await grantsByCourse(db, concerned);
  const courses = said.map((each) => {
    const version = versions.find(({ courseId }) => courseId === each.course.id);
    const own = units.flatMap(({ courseId, unitId }) => (courseId === each.course.id ? [unitId] : []));
    return withFacts(each, version ? { terms: version.terms, archived: version.archived, home: version.homeId, units: own } : {});
  });
  const archived = courses.flatMap(({ course }) => {
    const was = said.find((each) => each.course.id === course.id)?.course;
    return course.archived && !was?.archived ? [course.id] : [];
  });
  return {
    courses: [...bySets.filter(({ course }) => !courses.some((each) => each.course.id === course.id)), ...courses],
    definitions: versions.map((version) =>
      definitionOf(
        version,
        activities.filter(({ courseId }) => courseId === version.courseId),
      ),
    ),
    people: await mayFinish(db, archived),
  };
}

/** Courses whose own words, units or activities are among these rows. */
async function definedBy(db: Queryable, subjects: readonly Subject[]): Promise<number[]> {
  const both = (kind: RowKind) => ids([...rowsOf(subjects, kind, 'before_row'), ...rowsOf(subjects, kind, 'after_row')]);
  const found = await rows<{ id: number }>(
    db,
    sql`
    select course_id as id from course_version where row_id = any(${both('course')}) union select course_id from unit_version where row_id = any(${both('unit')})
    union select course_id from activity_version where row_id = any(${both('activity')})`,
  );
  return found.map(({ id }) => id);
}

/** Those under way in courses that are archived: they may finish them. */
export async function mayFinish(db: Queryable, archived: readonly number[]): Promise<NonNullable<Shift['people']>> {
  const underWay = await peopleUnderWay(db, archived);
  return {
    personIds: [...new Set(underWay.map(({ personId }) => personId))],
    afterwards: (person) => ({
      ...person,
      mayFinish: [
        ...(person.mayFinish ?? []),
        ...underWay.flatMap(({ personId, courseId }) => (personId === person.personId ? [courseId] : [])),
      ],
    }),
  };
}

/** What has to be worked out anew for everybody when these rows have turned. */
export async function turnedCourses(
  tx: Transaction,
  subjects: readonly Subject[],
): Promise<{ everywhere: number[]; redefined: number[]; people: number[] }> {
  const both = (kind: RowKind) => ids([...rowsOf(subjects, kind, 'before_row'), ...rowsOf(subjects, kind, 'after_row')]);
  const held = await rows<{ id: number }>(
    tx,
    sql`
    with recursive sets as (
      select course_set_id as id from course_set_item where row_id = any(${both('course set item')})
      union select i.inner_set_id from course_set_item i where i.row_id = any(${both('course set item')}) and i.inner_set_id is not null
    )
    select course_id as id from course_in_set where course_set_id in (select id from sets)
    union select course_id from course_set_item where row_id = any(${both('course set item')}) and course_id is not null`,
  );
  const redefined = await definedBy(tx, subjects);
  return {
    everywhere: [...new Set([...redefined, ...held.map(({ id }) => id)])],
    redefined,
    people: redefined.length === 0 ? [] : [...new Set((await peopleUnderWay(tx, redefined)).map(({ personId }) => personId))],
  };
}
