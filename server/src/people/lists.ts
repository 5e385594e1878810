import { nameKey, tidyName } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { firstOf, ids, isAmong, onlyOne, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { notFound } from '../http/problem.ts';
import { chosenIds } from './matching.ts';
import { seenPerson } from './scope.ts';

/** The reader's own lists. People who are not theirs to see any more stay on a list, out of sight. */
export const ownLists = (db: Queryable, actor: SignedIn): Promise<{ id: number; name: string; people: number }[]> =>
  rows(
    db,
    sql`
    select l.id, l.name, (select count(*)::int from personal_list_person x where x.list_id = l.id and ${seenPerson(actor, sql`x.person_id`)}) as people
    from personal_list l where l.owner_id = ${actor.personId} order by l.name collate people_order`,
  );

/** Own named sets of people. Nobody else sees them, so they are no part of the roster and stand in no log. */
export function listHandlers(deps: Deps): Handlers {
  const { db } = deps;
  const ownList = async (ownerId: number, listId: number): Promise<void> => {
    if (
      !(await firstOf(
        db
          .select({ id: tables.personalList.id })
          .from(tables.personalList)
          .where(and(eq(tables.personalList.id, listId), eq(tables.personalList.ownerId, ownerId))),
      ))
    )
      throw notFound();
  };
  return {
    async lists({ actor }) {
      return { lists: await ownLists(db, actor) };
    },

    async makeList({ actor, body: { name, personIds } }) {
      const people = await chosenIds(deps, actor, personIds);
      const list = await onlyOne(
        db
          .insert(tables.personalList)
          .values({ ownerId: actor.personId, name: tidyName(name), nameKey: nameKey(name) })
          .onConflictDoUpdate({ target: [tables.personalList.ownerId, tables.personalList.nameKey], set: { name: sql`excluded.name` } })
          .returning({ id: tables.personalList.id, name: tables.personalList.name }),
      );
      await db.execute(sql`
        insert into personal_list_person select ${list.id}::bigint, p.id from person p where p.id = any(${ids(people)}) and ${seenPerson(actor, sql`p.id`)} on conflict do nothing`);
      return list;
    },

    async leaveList({ actor, params: { listId }, body: { personIds } }) {
      await ownList(actor.personId, listId);
      const people = await chosenIds(deps, actor, personIds);
      await db
        .delete(tables.personalListPerson)
        .where(and(eq(tables.personalListPerson.listId, listId), isAmong(tables.personalListPerson.personId, people)));
    },

    async dropList({ actor, params: { listId } }) {
      await ownList(actor.personId, listId);
      await db.delete(tables.personalList).where(eq(tables.personalList.id, listId));
    },
  };
}
