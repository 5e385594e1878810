import type { PersonId } from '../access/grant.ts';

/** A place in the line for a course; a smaller one is served earlier. */
export interface Place {
  key: PersonId;
  place: number;
}

/**
 * The places of a part of a line, given out among the same people again: those who are chosen come first, or two of them change
 * places. Nobody outside the part is passed or passes, since the places stay the same.
 * @returns Only who comes to another place, in the order of the line.
 * @example arrangeLine([{ key: 4, place: 10 }, { key: 5, place: 12 }, { key: 6, place: 13 }], [6], 'first')
 * // [{ key: 6, place: 10 }, { key: 4, place: 12 }, { key: 5, place: 13 }]
 */
export function arrangeLine(part: readonly Place[], chosen: readonly PersonId[], how: 'first' | 'swap'): Place[] {
  const line = part.toSorted((a, b) => a.place - b.place);
  const isChosen = ({ key }: Place): boolean => chosen.includes(key);
  const moving = line.filter(isChosen);
  if (how === 'swap' && moving.length !== 2) return [];
  const order =
    how === 'first'
      ? [...moving, ...line.filter((each) => !isChosen(each))]
      : line.map((each) => (isChosen(each) ? (moving.find((other) => other !== each) ?? each) : each));
  return order.flatMap(({ key, place: before }, nth) => {
    const place = line[nth]?.place ?? before;
    return place === before ? [] : [{ key, place }];
  });
}
