import type { PeopleFilter } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import { seenGroups } from '../accounts/reach.ts';
import { groupsOf as groupsOfAccount } from '../accounts/help-routes.ts';
import { noteAct } from '../changes/note-act.ts';
import { courseSight } from '../courses/own-courses.ts';
import { rows } from '../database/connect.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { actableAccount } from './account.ts';
import { exportOfPerson } from './export-person.ts';
import { countBoth, peoplePage } from './list.ts';
import { chosenIds, listReader } from './matching.ts';
import { rosterFile } from './roster-file.ts';
import { matches, onlyGroups } from './scope.ts';
import { personSheet } from './sheet.ts';
import { tagsOfBranch } from './tags.ts';

const foundAtOnce = 8;

export function peopleHandlers(deps: Deps): Handlers {
  const { db } = deps;
  return {
    async groupPeople({ actor, params: { groupId }, query: { after, limit, ...filter } }) {
      const reader = await listReader(deps, actor, groupId, filter);
      // With a state asked for, all who are in it count; else all counted learners of the scope.
      const everybody: PeopleFilter = { ...filter, fits: 'yes', filter: filter.filter.filter(({ part }) => part === 'state') };
      const [page, counts] = await Promise.all([
        peoplePage(db, reader, groupId, filter, { after, limit }),
        countBoth(db, reader, groupId, filter, everybody),
      ]);
      return { ...page, ...counts };
    },

    async groupPeopleFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      const reader = await listReader(deps, actor, groupId, query);
      response.setHeader('Content-Disposition', `attachment; filename="people-${groupId}.csv"`);
      return rosterFile(db, reader, groupId, query);
    },

    async person({ actor, params }) {
      return personSheet(db, actor, params.personId);
    },

    async chosenNumbers({ actor, body }) {
      return { ids: await chosenIds(deps, actor, body) };
    },

    async personFile({ actor, params: { personId }, response }) {
      const account = await actableAccount(db, actor, await wholeTree(db), personId);
      response.setHeader('Content-Disposition', `attachment; filename="person-${personId}.json"`);
      await noteAct(db, actor.personId, 'export-person', personId, groupsOfAccount(account));
      return exportOfPerson(db, actor, personId);
    },

    async branchTags({ actor, params: { groupId } }) {
      await pathTo(db, actor, groupId);
      return { tags: await tagsOfBranch(db, actor, groupId) };
    },

    async find({ actor, query: { q, leaders } }) {
      const own = await seenGroups(db, actor);
      const part = `%${q.toLowerCase().replace(/[\\%_]/gu, '\\$&')}%`;
      const pathOf = sql`(select coalesce(jsonb_agg(a.name order by b.depth desc), '[]') from group_branch b join group_now a on a.id = b.ancestor_id where b.group_id = g.id and b.depth > 0 and ${onlyGroups(sql`b.ancestor_id`, own)})`;
      const groups = await rows<{ id: number; name: string; path: string[] }>(
        db,
        sql`
        select g.id, g.name, ${pathOf} as path from group_now g where lower(g.name) like ${part} and ${onlyGroups(sql`g.id`, own)} order by position(lower(${q}) in lower(g.name)), length(g.name), g.name limit ${foundAtOnce}`,
      );
      const theirs = sql`select g.id, g.name from membership m join group_now g on g.id = m.group_id where m.person_id = n.person_id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)}`;
      const led = sql`select g.id, g.name from leadership l join group_now g on g.id = l.group_id where l.person_id = n.person_id and l.until_at is null and ${onlyGroups(sql`l.group_id`, own)}`;
      const people = await rows<{ id: number; givenName: string; familyName: string; group: { id: number; name: string } | null }>(
        db,
        sql`
        select n.person_id as id, n.given_name as "givenName", n.family_name as "familyName", (select jsonb_build_object('id', f.id, 'name', f.name) from (${leaders === 'yes' ? led : theirs} limit 1) f) as "group"
        from personal_now n where ${matches(q)} and ${leaders === 'yes' ? sql`exists (${led})` : own === null ? sql`true` : sql`exists (${theirs})`}
        order by n.family_name collate people_order, n.given_name collate people_order limit ${foundAtOnce}`,
      );
      const courses =
        leaders === 'yes'
          ? []
          : await rows<{ id: number; name: string; code: string | null; isSet: boolean }>(
              db,
              sql`
        select id, name, code, false as "isSet" from course_now where lower(concat_ws(' ', name, code)) like ${part} and ${(await courseSight(db, actor))(sql`home_id`)}
        union all select id, name, null, true from course_set_now where lower(name) like ${part} order by 4, 2, 1 limit ${foundAtOnce}`,
            );
      return { groups, people, courses };
    },
  };
}
