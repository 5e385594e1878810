import { momentTyped } from '../ui/format.ts';
import * as words from '../words.ts';

/** How long a split runs, in the order of a menu. `null`: until a moment that is typed. */
export const lengths = [0.5, 1, 2, 4, 8, 24, null] as const;
export type Length = (typeof lengths)[number];

export const lengthChoices = lengths.map((value) => ({ value, title: words.splits.length(value) }));

/** The moment at which it ends, in ISO form; null while none is typed. Whole minutes, so that what was looked at stays the same. */
export function untilWhen(length: Length, typed: string, now: number): string | null {
  if (length === null) return typed === '' ? null : momentTyped(typed);
  return new Date(Math.ceil((now + length * 3_600_000) / 60_000) * 60_000).toISOString();
}
