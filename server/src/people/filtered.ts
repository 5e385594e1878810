import type { PeopleFilter } from '@gate-roster/contract';
import { sql, type SQL } from 'drizzle-orm';
import { type FilterReader, whoFits } from '../filters/conditions.ts';
import { groupsOf, isMember, whichPeople } from './scope.ts';

/** Whom a list shows. */
export interface Listed extends Omit<PeopleFilter, 'sort'> {
  /** Progress speaks of counted learners, also when a state is asked for. */
  countedOnly?: boolean;
}
export interface ListFilter extends Listed {
  sort: PeopleFilter['sort'];
}

/** People `p` of a scope whom a list shows: those who fit its filter, or those who do not. */
export function peopleWhere(reader: FilterReader, groupId: number, { subgroups, counted, countedOnly, filter, fits }: Listed): SQL {
  const withSubgroups = subgroups === 'yes';
  // Who asks for a state means everybody of the scope in it, counted or not.
  const isByState = counted === 'yes' && !countedOnly && filter.some(({ part }) => part === 'state');
  const base = isByState ? isMember(groupId, withSubgroups) : whichPeople(groupId, withSubgroups, counted);
  const fitting = whoFits(reader, base, groupsOf(groupId, withSubgroups), filter);
  return fits === 'yes' ? fitting : sql`${base} and (${fitting}) is not true`;
}
