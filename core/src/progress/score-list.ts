/** A million scores with their courses, as columns that grow. */
export class ScoreList {
  length = 0;
  #courses = new Int32Array(64);
  #points = new Float64Array(64);

  /** @param course Its number (`CourseNumbers`). */
  add(course: number, points: number): void {
    if (this.length === this.#points.length) this.#makeRoom();
    this.#courses[this.length] = course;
    this.#points[this.length++] = points;
  }

  get points(): Float64Array {
    return this.#points.slice(0, this.length);
  }

  /** By the number of the course. */
  byCourse(): Map<number, Float64Array> {
    const counts = new Map<number, number>();
    for (const course of this.#courses.subarray(0, this.length)) counts.set(course, (counts.get(course) ?? 0) + 1);
    const found = new Map([...counts].map(([course, count]) => [course, { points: new Float64Array(count), filled: 0 }]));
    for (let at = 0; at < this.length; at++) {
      const own = found.get(this.#courses[at] ?? 0);
      if (own) own.points[own.filled++] = this.#points[at] ?? NaN;
    }
    return new Map([...found].map(([course, { points }]) => [course, points]));
  }

  #makeRoom(): void {
    const [courses, points] = [new Int32Array(this.length * 2), new Float64Array(this.length * 2)];
    courses.set(this.#courses);
    points.set(this.#points);
    this.#courses = courses;
    this.#points = points;
  }
}

export interface Quartiles {
  low: number;
  median: number;
  high: number;
  /** How many numbers stand behind them. */
  of: number;
}

/**
 * Quartiles between neighbours in proportion, as SQL's `percentile_cont`; null: there are no numbers.
 * @param numbers Left as they are.
 */
export function quartilesOf(numbers: ArrayLike<number>): Quartiles | null {
  if (numbers.length === 0) return null;
  const sorted = Float64Array.from(numbers).sort();
  return { low: at(sorted, 0.25), median: at(sorted, 0.5), high: at(sorted, 0.75), of: sorted.length };
}

/** The middle number, or the mean of the two; null: there are none. */
export const medianOf = (numbers: ArrayLike<number>): number | null =>
  numbers.length === 0 ? null : at(Float64Array.from(numbers).sort(), 0.5);

/** @param part Of the way from the first number to the last. */
function at(sorted: Float64Array, part: number): number {
  const place = part * (sorted.length - 1);
  const [low, high] = [sorted[Math.floor(place)] ?? NaN, sorted[Math.ceil(place)] ?? NaN];
  return low + (high - low) * (place - Math.floor(place));
}
