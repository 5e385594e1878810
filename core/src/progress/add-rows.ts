import type { AddedUp, AddingQuestion } from './add-columns.ts';
import { dayNumber, exemptBit, type Stretch } from './enrolment-columns.ts';
import { Fitting } from './fitting.ts';
import { ScoreList } from './score-list.ts';
import { addOneRow, courseSumsOf, sumWidth, totalOf } from './sums.ts';

/** What the learners of a row come to. */
export type AddedRow = Pick<AddedUp, 'learners' | 'total' | 'byCourse' | 'scores'>;

/**
 * What learners come to by rows that each of them can be in several of, or in none: tags, leaders, months.
 * @param rowsOf Numbers of the rows that somebody is in.
 */
export function addUpRows(
  sets: Iterable<{ stretch: Stretch }>,
  rowsOf: (personId: number) => readonly number[],
  { columns, parts, reader, setsOf, courses, isChosen, withScores }: Omit<AddingQuestion, 'spreadOf' | 'withCourses'>,
): Map<number, AddedRow> {
  const found = new Map<number, { learners: number; sums: Float64Array; scores: ScoreList }>();
  const fitting = new Fitting(parts, reader, setsOf, courses);
  const now = dayNumber(reader.today);
  const rowOf = (row: number) => {
    const known = found.get(row) ?? { learners: 0, sums: new Float64Array(courses.ids.length * sumWidth), scores: new ScoreList() };
    found.set(row, known);
    return known;
  };
  const { people, person, course, facts, score } = columns;
  for (const { stretch } of sets) {
    if (parts.length === 0)
      for (const id of people.subarray(stretch.peopleFrom, stretch.peopleTo))
        if (isChosen === null || isChosen(id)) for (const row of rowsOf(id)) rowOf(row).learners++;
    const count = fitting.find(columns, stretch, isChosen);
    let last = -1;
    let own: ReturnType<typeof rowOf>[] = [];
    for (let index = 0; index < count; index++) {
      const at = fitting.rows[index] ?? 0;
      const id = person[at] ?? 0;
      if (id !== last) {
        own = rowsOf(id).map(rowOf);
        if (parts.length > 0) for (const each of own) each.learners++;
        last = id;
      }
      const [fact, points, due] = [facts[at] ?? 0, score[at] ?? NaN, fitting.dueAt(columns, at)];
      const isScored = withScores && points === points && (fact & exemptBit) === 0;
      for (const each of own) {
        addOneRow(each.sums, (course[at] ?? 0) * sumWidth, fact, points, due, now);
        if (isScored) each.scores.add(course[at] ?? 0, points);
      }
    }
  }
  return new Map(
    [...found].map(([row, { learners, sums, scores }]) => [
      row,
      { learners, total: totalOf(sums), byCourse: courseSumsOf(sums, courses.ids), scores },
    ]),
  );
}
