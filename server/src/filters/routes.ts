import { sql } from 'drizzle-orm';
import { seenGroups } from '../accounts/reach.ts';
import { courseSight } from '../courses/own-courses.ts';
import { rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { ownLists } from '../people/lists.ts';
import { groupsOf, onlyGroups } from '../people/scope.ts';
import { tagsOfBranch } from '../people/tags.ts';

type Named = { id: number; name: string };

export function filterHandlers({ db }: Deps): Handlers {
  return {
    async filterNames({ actor, params: { groupId } }) {
      await pathTo(db, actor, groupId);
      const own = await seenGroups(db, actor);
      const isSeen = await courseSight(db, actor);
      const [tags, lists, leaders, courses, courseSets, skills] = await Promise.all([
        tagsOfBranch(db, actor, groupId),
        ownLists(db, actor),
        rows<Named>(
          db,
          sql`
          select n.person_id as id, n.given_name || ' ' || n.family_name as name from personal_now n
          where n.person_id in (select l.person_id from leadership l where l.until_at is null and l.group_id in (${groupsOf(groupId, true)}) and ${onlyGroups(sql`l.group_id`, own)})
          order by n.family_name collate people_order, n.given_name collate people_order, n.person_id`,
        ),
        rows<Named>(db, sql`select id, name from course_now where ${isSeen(sql`home_id`)} order by name collate people_order, id`),
        db
          .select({ id: tables.courseSetNow.id, name: tables.courseSetNow.name })
          .from(tables.courseSetNow)
          .orderBy(tables.courseSetNow.position),
        db
          .select({ id: tables.skillNow.id, name: tables.skillNow.name })
          .from(tables.skillNow)
          .orderBy(tables.skillNow.nameKey, tables.skillNow.id),
      ]);
      return { tags, lists, leaders, courses, courseSets, skills };
    },
  };
}
