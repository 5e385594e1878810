import type { Answer, LearnerCell, LearnerRow, Routes } from '@gate-roster/contract';
import { addTo, cellsFromRows, courseParts, type FileCell, nextDue } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, type Database, type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, withFitting } from '../filters/conditions.ts';
import { ProblemError } from '../http/problem.ts';
import type { Cell, Table } from '../http/table.ts';
import { countBoth, countPeople, type FoundPerson, type Page } from '../people/list.ts';
import { countNotCounted } from '../people/scope.ts';
import { type Enrolment, enrolmentsOf } from './enrolments.ts';
import { type LearnersFilter, learnersInOrder } from './learner-order.ts';
import { figuresFrom, rememberedFigures } from './report.ts';
import { tallies } from './tallies.ts';

type Course = { id: number; name: string };

/** A page of the learners who fit a filter, each with all courses; the filter's courses alone, when it names some. */
export async function learnersPage(
  db: Database,
  asking: FilterReader,
  groupId: number,
  filter: LearnersFilter,
  page: Page,
): Promise<Answer<Routes['progressLearners']>> {
  const withSubgroups = filter.subgroups === 'yes';
  const asked = withFitting(asking, groupId, withSubgroups, filter.filter);
  const [{ people, next }, courses, counts] = await Promise.all([
    asked.then((reader) => learnersInOrder(db, reader, groupId, filter)).then((pageOf) => pageOf(page)),
    shownCourses(db, asking, groupId, filter),
    page.after === undefined ? asked.then((reader) => countLearners(db, reader, groupId, filter)) : null,
  ]);
  return { courses, people: await withCells(db, asking, people, courses), counts, next };
}

async function countLearners(
  db: Database,
  reader: FilterReader,
  groupId: number,
  filter: LearnersFilter,
): Promise<Answer<Routes['progressLearners']>['counts']> {
  const [{ matching, total }, notCounted] = await Promise.all([
    countBoth(db, reader, groupId, filter, { ...filter, filter: [] }),
    countNotCounted(db, groupId, filter.subgroups === 'yes'),
  ]);
  return { learners: matching, ofAll: total, notCounted };
}

const atOnce = 2000;

/** More would take the server's memory: 100,000 learners by 200 courses are 80 million cells. */
const mostCells = 4_000_000;

/**
 * The same as a file: a line for each learner, and for each course what its cell says.
 * @throws ProblemError `file-too-large`
 */
export async function learnersTable(db: Database, asking: FilterReader, groupId: number, filter: LearnersFilter): Promise<Table> {
  const reader = await withFitting(asking, groupId, filter.subgroups === 'yes', filter.filter);
  const courses = await shownCourses(db, reader, groupId, filter);
  if ((await countPeople(db, reader, groupId, filter)) * (5 + 4 * courses.length) > mostCells) throw new ProblemError('file-too-large');
  const pageOf = await learnersInOrder(db, reader, groupId, filter);
  const cellsOf = await fileCells(
    db,
    reader,
    groupId,
    filter,
    courses.map(({ id }) => id),
  );
  const lines: Cell[][] = [];
  for (let after: string | undefined; ;) {
    const { people, next } = await pageOf({ after, limit: atOnce });
    const found = await cellsOf(people.map(({ id }) => id));
    for (const { id: personId, familyName, givenName, groups, activeAt } of people) {
      const { cells, nextDue: due } = found(personId);
      lines.push([
        familyName,
        givenName,
        groups.map(({ name }) => name).join('; '),
        activeAt?.slice(0, 10) ?? '',
        due ?? '',
        ...courses.flatMap(({ id }) => inFile(cells.find(({ courseId }) => courseId === id))),
      ]);
    }
    if (next === null) break;
    after = next;
  }
  return {
    name: 'Learners',
    head: [
      'Family name',
      'Given name',
      'Groups',
      'Last active',
      'Next due',
      ...courses.flatMap(({ name }) => [name, `${name}: score`, `${name}: due`, `${name}: done on`]),
    ],
    lines,
  };
}

function inFile(cell: FileCell | undefined): Cell[] {
  if (!cell) return ['not open', '', '', ''];
  const status = cell.exempt ? 'exempt' : cell.inLine ? 'in line for a seat' : cell.status;
  return [cell.lateness === 'overdue' ? 'overdue' : status, cell.score === null ? null : Math.round(cell.score), cell.due, cell.doneDay];
}

type CellsOfPeople = (personId: number) => { cells: readonly FileCell[]; nextDue: string | null };

/** What a file says of people, many at a time: from columns, where they are kept; else as the database has it. */
async function fileCells(
  db: Queryable,
  { actor, own, sight, realToday, columns }: FilterReader,
  groupId: number,
  { subgroups }: Pick<LearnersFilter, 'subgroups'>,
  courseIds: readonly number[],
): Promise<(people: readonly number[]) => Promise<CellsOfPeople>> {
  const told = await columns?.answer({
    kind: 'cells',
    reader: { actor, own, sight, realToday },
    groupId,
    withSubgroups: subgroups === 'yes',
    courseIds,
  });
  if (told) {
    const found = cellsFromRows(told, actor);
    return () => Promise.resolve(found);
  }
  return async (people) => {
    const enrolments = new Map<number, Enrolment[]>();
    for (const each of await enrolmentsOf(db, people, { today: actor.today, sight, dueSoonDays: actor.dueSoonDays }))
      addTo(enrolments, each.personId, each);
    return (personId) => {
      const theirs = enrolments.get(personId) ?? [];
      return {
        cells: theirs.map((each) => ({ ...each, inLine: each.inLine !== null })),
        nextDue: nextDue(theirs, actor.today),
      };
    };
  };
}

async function withCells(
  db: Queryable,
  { actor, sight }: FilterReader,
  people: readonly FoundPerson[],
  courses: readonly Course[],
): Promise<LearnerRow[]> {
  const personIds = people.map(({ id }) => id);
  const shown = new Set(courses.map(({ id }) => id));
  const [enrolments, finished] = await Promise.all([
    enrolmentsOf(db, personIds, { today: actor.today, sight, dueSoonDays: actor.dueSoonDays }),
    finishedUnits(db, personIds),
  ]);
  const byPerson = new Map<number, Enrolment[]>(personIds.map((id) => [id, []]));
  for (const each of enrolments) byPerson.get(each.personId)?.push(each);
  return people.map(({ id, givenName, familyName, groups, activeAt }) => {
    const theirs = byPerson.get(id) ?? [];
    const cells = theirs.filter(({ courseId }) => shown.has(courseId)).map((each) => cellOf(each, finished));
    return { id, givenName, familyName, groups, activeAt, nextDue: nextDue(theirs, actor.today), cells };
  });
}

const cellOf = (each: Enrolment, finished: FinishedUnits): LearnerCell => ({
  courseId: each.courseId,
  open: each.units.length > 0,
  status: each.status,
  lateness: each.lateness,
  due: each.due,
  doneDay: each.doneDay,
  score: each.score,
  exempt: each.exempt,
  units: each.units.length > 0 ? each.units.length : each.allUnits,
  unitsDone: unitsDone(finished, each),
  inLine: each.inLine,
});

/** Columns stay the same from page to page: the courses that are open in the scope, or those that the filter names. */
async function shownCourses(
  db: Database,
  reader: FilterReader,
  groupId: number,
  { filter, subgroups }: Pick<LearnersFilter, 'filter' | 'subgroups'>,
): Promise<Course[]> {
  const named = courseParts(filter).flatMap((part) => (part.part === 'course' ? [part] : []));
  return (await coursesInScope(db, reader, groupId, subgroups === 'yes'))
    .filter(({ id, sets }) => named.every((part) => part.courses.includes(id) || sets.some((set) => part.sets.includes(set))))
    .map(({ id, name }) => ({ id, name }));
}

/** Courses that are open to learners of a scope, or in which they have worked, with the sets of each. */
export async function coursesInScope(
  db: Database,
  reader: FilterReader,
  groupId: number,
  withSubgroups: boolean,
): Promise<(Course & { sets: number[] })[]> {
  const { sight, actor } = reader;
  const remembered = await rememberedFigures(reader, { groupId, groups: [groupId], withSubgroups, filter: [], spreadOf: [] });
  const found = remembered
    ? figuresFrom(remembered, groupId, actor.today).byCourse
    : await tallies(db, { groups: [groupId], withSubgroups, sight, today: actor.today, byCourse: true });
  const open = found.flatMap(({ courseId, tally }) => (tally.all > 0 ? [courseId] : []));
  return rows(
    db,
    sql`
    select c.id, c.name, coalesce((select jsonb_agg(k.course_set_id) from course_in_set k where k.course_id = c.id), '[]') as sets
    from course_now c where c.id = any(${ids(open)}) order by c.id`,
  );
}

/** Units of which somebody has finished every activity: by person and course. */
export type FinishedUnits = ReadonlyMap<string, readonly number[]>;
const keyOf = (personId: number, courseId: number): string => `${personId}/${courseId}`;

export async function finishedUnits(db: Queryable, people: readonly number[]): Promise<FinishedUnits> {
  const found = await rows<{ personId: number; courseId: number; units: number[] }>(
    db,
    sql`
    select e.person_id as "personId", e.course_id as "courseId", jsonb_agg(u.id) as units from enrolment e join unit_now u on u.course_id = e.course_id
    where e.person_id = any(${ids(people)}) and e.is_current and exists (select 1 from activity_now a where a.unit_id = u.id)
      and not exists (select 1 from activity_now a left join activity_result r on r.activity_id = a.id and r.enrolment_id = e.id where a.unit_id = u.id and not coalesce(r.finished, false))
    group by 1, 2`,
    { plan: 'kept' },
  );
  return new Map(found.map(({ personId, courseId, units }) => [keyOf(personId, courseId), units]));
}

/** Of the units that are open, or of all while none is. */
export const unitsDone = (finished: FinishedUnits, { personId, courseId, units }: Enrolment): number =>
  (finished.get(keyOf(personId, courseId)) ?? []).filter((id) => units.length === 0 || units.includes(id)).length;
