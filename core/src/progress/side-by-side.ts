import { completion, type Tally } from './figures.ts';

/** Groups of fewer learners, and courses with fewer enrolments, are marked small where they are compared. */
export const smallGroup = 8;

export interface Apart {
  /** Index of the course. */
  course: number;
  /** Points of completion between the two, 0 to 100; null: fewer than two of the groups have the course. */
  points: number | null;
  /** Indexes of the groups with the least and the most. */
  least: number;
  most: number;
  /** Few enrolments stand behind it. */
  isSmall: boolean;
}

/**
 * How far groups are apart in each course: the largest difference of completion first. Groups with few enrolments in a course are
 * left out where two others have more; where they are not, it comes after all others, and what nobody can be compared in last.
 * @param cells Tallies by group and course; null: nobody of the group has the course.
 */
export function setApart(cells: readonly (readonly (Tally | null)[])[]): Apart[] {
  const courses = Math.max(0, ...cells.map((row) => row.length));
  const list = Array.from({ length: courses }, (_, course): Apart => {
    const rates = cells.flatMap((row, group) => {
      const tally = row[course];
      const rate = tally ? completion(tally) : null;
      return tally && rate !== null ? [{ group, rate, of: tally.all - tally.exempt }] : [];
    });
    const large = rates.filter(({ of }) => of >= smallGroup);
    const byRate = (large.length > 1 ? large : rates).toSorted((a, b) => a.rate - b.rate || a.group - b.group);
    const [least, most] = [byRate[0], byRate.at(-1)];
    const isSmall = large.length < 2;
    if (!least || !most || byRate.length < 2) return { course, points: null, least: 0, most: 0, isSmall };
    return { course, points: Math.round((most.rate - least.rate) * 100), least: least.group, most: most.group, isSmall };
  });
  return list.sort(
    (a, b) =>
      Number(a.points === null) - Number(b.points === null) ||
      Number(a.isSmall) - Number(b.isSmall) ||
      (b.points ?? 0) - (a.points ?? 0) ||
      a.course - b.course,
  );
}
