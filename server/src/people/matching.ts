import { type AskedChange, type Change, type ChosenPeople, mostChosen, type Named, type PeopleFilter } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, filterReader, withFitting } from '../filters/conditions.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { type Listed, peopleWhere } from './filtered.ts';

/**
 * Who reads a list of people of a group.
 * @throws ProblemError `not-found` for a group out of the actor's reach, and for people in no group, who are shown to administrators.
 */
export async function listReader(
  { db, columns }: Pick<Deps, 'db' | 'columns'>,
  actor: SignedIn,
  groupId: number,
  { subgroups, filter, counted, countedOnly = false }: Pick<PeopleFilter, 'subgroups' | 'filter' | 'counted'> & { countedOnly?: boolean },
): Promise<FilterReader> {
  await pathTo(db, actor, groupId);
  if (counted === 'nowhere' && actor.role !== 'administrator') throw notFound();
  // Columns speak of counted learners alone.
  const isOfCounted = counted === 'yes' && (countedOnly || !filter.some(({ part }) => part === 'state'));
  return withFitting(await filterReader(db, actor, isOfCounted ? columns : null), groupId, subgroups === 'yes', filter);
}

/** People by number: those who match a filter are looked up now, as the actor sees them. */
export async function chosenIds(deps: Pick<Deps, 'db' | 'columns'>, actor: SignedIn, chosen: ChosenPeople): Promise<number[]> {
  if (Array.isArray(chosen)) return chosen;
  const { groupId, but, ...listed } = chosen;
  const without = new Set(but);
  const all = await matchingIds(deps.db, await listReader(deps, actor, groupId, listed), groupId, listed);
  return all.filter((id) => !without.has(id));
}

/** The numbers of all whom a list shows. @throws ProblemError `too-many-people` */
export async function matchingIds(db: Queryable, reader: FilterReader, groupId: number, listed: Listed): Promise<number[]> {
  const found = await rows<{ id: number }>(
    db,
    sql`select p.id from person p where ${peopleWhere(reader, groupId, listed)} order by p.id limit ${mostChosen + 1}`,
  );
  if (found.length > mostChosen) throw new ProblemError('too-many-people');
  return found.map(({ id }) => id);
}

/** A change as it was asked for, with its people by number. */
export async function peopleByNumber(deps: Pick<Deps, 'db' | 'columns'>, actor: SignedIn, asked: AskedChange): Promise<Change> {
  if (asked.kind === 'send-message') return { ...asked, audience: await named(deps, actor, asked.audience) };
  return named(deps, actor, asked);
}

async function named<C extends object>(deps: Pick<Deps, 'db' | 'columns'>, actor: SignedIn, asked: C): Promise<Named<C>> {
  if (!('personIds' in asked) || asked.personIds === null) return asked as Named<C>;
  return { ...asked, personIds: await chosenIds(deps, actor, asked.personIds as ChosenPeople) } as Named<C>;
}
