import { nameKey, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { notFound } from '../http/problem.ts';
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
export function listHandlers({ db }: Deps): Handlers {
  const ownList = async (ownerId: number, listId: number): Promise<void> => {
    if (!(await maybeRow(db, sql`select 1 from personal_list where id = ${listId} and owner_id = ${ownerId}`))) throw notFound();
  };
  return {
    async lists({ actor }) {
      return { lists: await ownLists(db, actor) };
    },

    async makeList({ actor, body: { name, personIds } }) {
      const list = await oneRow<{ id: number; name: string }>(
        db,
        sql`
        insert into personal_list (owner_id, name, name_key) values (${actor.personId}, ${tidyName(name)}, ${nameKey(name)})
        on conflict (owner_id, name_key) do update set name = excluded.name returning id, name`,
      );
      await db.execute(sql`
        insert into personal_list_person select ${list.id}::bigint, p.id from person p where p.id = any(${ids(personIds)}) and ${seenPerson(actor, sql`p.id`)} on conflict do nothing`);
      return list;
    },

    async leaveList({ actor, params: { listId }, body: { personIds } }) {
      await ownList(actor.personId, listId);
      await db.execute(sql`delete from personal_list_person where list_id = ${listId} and person_id = any(${ids(personIds)})`);
    },

    async dropList({ actor, params: { listId } }) {
      await ownList(actor.personId, listId);
      await db.execute(sql`delete from personal_list where id = ${listId}`);
    },
  };
}
