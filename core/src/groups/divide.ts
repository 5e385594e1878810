import type { PersonId } from '../access/grant.ts';
import { addTo } from '../lists/add-to.ts';

/** Somebody who is put into a part. */
export interface Divided {
  id: PersonId;
  /** Mean score, 0 to 100; null: none yet. */
  score: number | null;
  tags: readonly number[];
}

export type DivideBy = 'chance' | 'score' | 'tag';

/** How many parts people make when each has about so many. @returns At least one. */
export const partsOfSize = (people: number, size: number): number => Math.max(1, Math.round(people / size));

/**
 * Divides people into parts that differ by at most one person. By *score* the best of each part come from the same rank, so that the
 * parts are alike; those without a score are dealt out last, by chance. By *tag* people who have the same tag are dealt out one after
 * the other, so that of each tag the parts get numbers that differ by at most one (of people with several tags, the first counts).
 * @param random From 0 up to 1, as `Math.random`.
 * @returns The ids of each part.
 */
export function divide(people: readonly Divided[], parts: number, by: DivideBy, random: () => number = Math.random): PersonId[][] {
  const made: PersonId[][] = Array.from({ length: parts }, () => []);
  inOrder(shuffle(people, random), by).forEach(({ id }, index) => {
    const round = Math.floor(index / parts);
    // By score every other round runs backwards: who chose first chooses last.
    const at = by === 'score' && round % 2 === 1 ? parts - 1 - (index % parts) : index % parts;
    made[at]?.push(id);
  });
  return made;
}

function inOrder(people: readonly Divided[], by: DivideBy): readonly Divided[] {
  if (by === 'chance') return people;
  if (by === 'score') return [...people].sort((a, b) => (b.score ?? -1) - (a.score ?? -1));
  const byTag = new Map<number, Divided[]>();
  for (const each of people) addTo(byTag, Math.min(...each.tags, Infinity), each);
  return [...byTag.values()].flat();
}

/** Every order is as likely as any other (Fisher and Yates). */
function shuffle<T>(list: readonly T[], random: () => number): T[] {
  const shuffled = [...list];
  for (let last = shuffled.length - 1; last > 0; last--) {
    const other = Math.floor(random() * (last + 1));
    const moved = shuffled[last];
    shuffled[last] = shuffled[other] as T;
    shuffled[other] = moved as T;
  }
  return shuffled;
}
