import { may, type Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { accessRows } from '../access/grid.ts';
import { branchTops, progressVia } from '../accounts/reach.ts';
import { ids, oneRow, rows } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { groupsOf, isCounted, isMember, reasonNotCounted } from '../people/scope.ts';
import { learnersPerGroup, tallyPerGroup } from '../progress/tallies.ts';
import { emptyTally } from '@gate-roster/core';
import { pathTo, seenPath } from './queries.ts';

export function groupHandlers({ db }: Deps): Handlers {
  return {
    async tree({ actor }) {
      const tops = branchTops(actor);
      const groups = await rows<{ id: number; parentId: number | null; name: string; state: 'active' | 'archived' }>(
        db,
        sql`
        select id, parent_id as "parentId", name, state from group_now
        where ${tops === null ? sql`true` : sql`id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`} order by name collate people_order, id`,
      );
      const shown = groups.map(({ id }) => id);
      const known = new Set(shown);
      const via = await progressVia(db, actor);
      const [people, tallies] = await Promise.all([
        learnersPerGroup(db, shown, true),
        tallyPerGroup(db, {
          groups: via === null ? shown : shown.filter((id) => via.has(id)),
          withSubgroups: true,
          via: via && [...via],
          today: actor.today,
        }),
      ]);
      return {
        groups: groups.map((group) => ({
          ...group,
          parentId: group.parentId !== null && known.has(group.parentId) ? group.parentId : null,
          people: people.get(group.id) ?? 0,
          tally: tallies.get(group.id) ?? emptyTally,
        })),
      };
    },

    async group({ actor, params: { groupId }, query }) {
      const path = await pathTo(db, actor, groupId);
      const withSubgroups = query.subgroups === 'yes';
      const target = { path: path.map(({ id }) => id) };
      const mayDo = (power: Power): boolean => may(actor, power, target);
      const via = await progressVia(db, actor);
      const group = await oneRow<{
        id: number;
        name: string;
        description: string | null;
        youngLearners: boolean;
        state: 'active' | 'archived';
        firstDay: string | null;
        lastDay: string | null;
        below: number;
      }>(
        db,
        sql`
        select id, name, description, young_learners as "youngLearners", state, first_day as "firstDay", last_day as "lastDay",
          (select count(*)::int - 1 from group_branch where ancestor_id = ${groupId}) as below from group_now where id = ${groupId}`,
      );
      const leaders = await rows<{ id: number; name: string }>(
        db,
        sql`
        select n.person_id as id, n.given_name || ' ' || n.family_name as name from leadership l join personal_now n on n.person_id = l.person_id
        where l.group_id = ${groupId} and l.until_at is null and coalesce(l.last_day >= ${actor.today}, true) order by n.family_name collate people_order, n.given_name collate people_order`,
      );
      const tags = await rows<{ id: number; name: string }>(
        db,
        sql`select t.id, t.name from group_tag g join tag t on t.id = g.tag_id where g.group_id = ${groupId} and g.until_at is null order by t.name`,
      );
      const people = await oneRow<{ counted: number; leaders: number; inSeveral: number }>(
        db,
        sql`
        select (select count(*)::int from person p where ${isCounted(groupId, withSubgroups)}) as counted,
          (select count(distinct person_id)::int from leadership where until_at is null and group_id in (${groupsOf(groupId, withSubgroups)})) as leaders,
          (select count(*)::int from (select m.person_id from membership m join person p on p.id = m.person_id where m.until_at is null
            and m.group_id in (${groupsOf(groupId, withSubgroups)}) and ${isCounted(groupId, withSubgroups)} group by 1 having count(*) > 1) several) as "inSeveral"`,
      );
      const notCounted = await rows<{ reason: 'paused'; people: number }>(
        db,
        sql`
        select ${reasonNotCounted(groupId, withSubgroups, actor.today)} as reason, count(*)::int as people
        from person p join person_state s on s.person_id = p.id and s.until_at is null where ${isMember(groupId, withSubgroups)} and not ${isCounted(groupId, withSubgroups)} group by 1 order by 2 desc`,
      );
      const progress = mayDo('seeProgress')
        ? (await tallyPerGroup(db, { groups: [groupId], withSubgroups, via: via && [...via], today: actor.today })).get(groupId)
        : undefined;
      const cells = (await accessRows(db, actor, [groupId]))[0]?.cells ?? [];
      const open = cells.filter(({ state }) => state === 'here' || state === 'above' || state === 'part');
      return {
        ...group,
        path: seenPath(actor, path),
        leaders,
        tags,
        people: { ...people, notCounted },
        progress: progress ?? emptyTally,
        courses: {
          open: open.length,
          fromAbove: open.filter(({ grants }) => grants.length === 0).length,
          blocked: cells.filter(({ state }) => state === 'blocked').length,
        },
        may: {
          managePeople: mayDo('managePeople'),
          shapeGroups: mayDo('shapeGroups'),
          openCourses: mayDo('openCourses'),
          seeProgress: mayDo('seeProgress'),
          bringIn: actor.role === 'administrator',
          export: mayDo('export'),
        },
      };
    },
  };
}
