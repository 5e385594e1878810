import type { CourseId, PersonId } from '../access/grant.ts';
import type { SeatPerson } from './licence.ts';
import type { SeatOutcome } from './settle-seats.ts';

/** What somebody is told of their seats: a seat after waiting, none any more for a course they still need one for, or soon one. */
export const seatNewsKinds = ['got', 'lost', 'near'] as const;
export type SeatNewsKind = (typeof seatNewsKinds)[number];

/** So many people at the head of a line are told that they are among the next. */
export const nearestInLine = 3;

export interface SeatNews {
  key: PersonId;
  courseId: CourseId;
  what: Exclude<SeatNewsKind, 'near'>;
}

/**
 * Who is to be told after seats were handed out: those in line who got a seat, and those whose seat ended while they still need it.
 * Who comes and gets a seat at once learns of it from the course itself, and who leaves needs none.
 */
export function seatNews(people: readonly SeatPerson[], { begin, end }: SeatOutcome): SeatNews[] {
  const lost = new Map(end.map(({ seatId, key }) => [`${key}/${seatId}`, true]));
  const begun = new Map<PersonId, Set<number>>();
  for (const { key, licenceId } of begin) begun.set(key, (begun.get(key) ?? new Set()).add(licenceId));
  return people.flatMap((person) =>
    person.needs.flatMap(({ courseId, ways }): SeatNews[] => {
      const had = person.seats.filter(({ licenceId }) => ways.some((way) => way.licenceId === licenceId));
      const stays = had.some(({ id }) => !lost.has(`${person.key}/${id}`));
      const gets = ways.some(({ licenceId }) => begun.get(person.key)?.has(licenceId));
      if (person.places.has(courseId) && gets) return [{ key: person.key, courseId, what: 'got' }];
      if (!person.places.has(courseId) && !stays && !gets && person.seats.some(({ id }) => lost.has(`${person.key}/${id}`)))
        return [{ key: person.key, courseId, what: 'lost' }];
      return [];
    }),
  );
}
