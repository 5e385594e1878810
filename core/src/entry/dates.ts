import { type Day, dayFromParts } from '../time/day.ts';
import type { DateOrder } from './roster-fields.ts';

const shape = /^(\d{1,4})[./\-\s](\d{1,2})[./\-\s](\d{1,4})$/u;

export const looksLikeDate = (text: string): boolean => shape.test(text.trim());

/**
 * The order of day, month and year, from all cells of a column together; null when every cell
 * fits both day-first and month-first, so that it has to be asked.
 * @example detectDateOrder(['03/11/2026', '25/11/2026']) // 'dayFirst'
 * @example detectDateOrder(['03/11/2026']) // null
 */
export function detectDateOrder(cells: Iterable<string>): DateOrder | null {
  let dayFirst = 0;
  let monthFirst = 0;
  let yearFirst = 0;
  for (const cell of cells) {
    const [, a = '', b = ''] = shape.exec(cell.trim()) ?? [];
    if (a === '') continue;
    if (a.length === 4) yearFirst++;
    else if (Number(a) > 12) dayFirst++;
    else if (Number(b) > 12) monthFirst++;
  }
  if (yearFirst > 0 && yearFirst >= dayFirst + monthFirst) return 'yearFirst';
  if (dayFirst === monthFirst) return null;
  return dayFirst > monthFirst ? 'dayFirst' : 'monthFirst';
}

/**
 * The day a cell names.
 * @example readDay('31/02/2026', 'dayFirst') // { problem: 'no such day' }
 */
export function readDay(text: string, order: DateOrder): { day: Day } | { problem: 'no such day' | 'not a date' } {
  const [, a = '', b = '', c = ''] = shape.exec(text.trim()) ?? [];
  if (a === '') return { problem: 'not a date' };
  const [year, month, day] = a.length === 4 ? [a, b, c] : order === 'monthFirst' ? [c, a, b] : [c, b, a];
  if (year.length === 3 || year.length === 1) return { problem: 'not a date' };
  const found = dayFromParts(year.length === 2 ? 2000 + Number(year) : Number(year), Number(month), Number(day));
  return found === null ? { problem: 'no such day' } : { day: found };
}
