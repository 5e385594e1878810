import type { GroupLeader, GroupSheet, Invited, TreeRow } from '@gate-roster/contract';
import { branchesWith, emptyTally, may, type Power } from '@gate-roster/core';
import { and, eq, isNull, sql, type SQL } from 'drizzle-orm';
import { accessRows } from '../access/grid.ts';
import { accessWorld } from '../access/world-at.ts';
import { branchTops } from '../accounts/reach.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { seatFigures } from '../seats/line.ts';
import { firstOf, ids, iso, maybeRow, oneRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { filterReader } from '../filters/conditions.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound } from '../http/problem.ts';
import { groupsOf, isCounted, isMember, reasonNotCounted, seenPerson } from '../people/scope.ts';
import { seenTags } from '../people/tags.ts';
import { totalsOf } from '../progress/report.ts';
import { learnersPerGroup, scopeOf } from '../progress/tallies.ts';
import { groupsInBranches, pathTo, seenPath } from './queries.ts';
import { keepUpload, maybeFile } from './uploads.ts';

export function groupHandlers(deps: Deps): Handlers {
  const { db } = deps;
  return {
    async tree({ actor }) {
      const tops = branchTops(actor);
      const groups = await rows<Omit<TreeRow, 'people'>>(
        db,
        sql`
        select id, parent_id as "parentId", name, state, colour, young_learners as "youngLearners",
          array(select t.id from group_tag x join tag_now t on t.id = x.tag_id where x.group_id = group_now.id and x.until_at is null and ${seenTags(actor)}) as tags,
          array(select person_id from leadership l where l.group_id = group_now.id and l.until_at is null and coalesce(l.last_day >= ${actor.today}, true)) as leaders
        from group_now
        where ${tops === null ? sql`true` : sql`id in (select group_id from group_branch where ancestor_id = any(${ids(tops)}))`} order by name collate people_order, id`,
      );
      const shown = groups.map(({ id }) => id);
      const known = new Set(shown);
      const people = await learnersPerGroup(db, shown, true);
      const named = async (statement: SQL): Promise<{ id: number; name: string }[]> => rows(db, statement);
      return {
        tags: await named(
          sql`select id, name from tag_now t where id = any(${ids(new Set(groups.flatMap(({ tags }) => tags)))}) order by name collate people_order`,
        ),
        leaders: await named(
          sql`select person_id as id, given_name || ' ' || family_name as name from personal_now where person_id = any(${ids(new Set(groups.flatMap(({ leaders }) => leaders)))}) order by family_name collate people_order, given_name collate people_order`,
        ),
        groups: groups.map((group) => ({
          ...group,
          parentId: group.parentId !== null && known.has(group.parentId) ? group.parentId : null,
          people: people.get(group.id) ?? 0,
        })),
      };
    },

    async treeProgress({ actor }) {
      const reader = await filterReader(db, actor, deps.columns);
      const groups = reader.sight?.own ?? [...(await groupsInBranches(db, null))];
      const found = await totalsOf(db, reader, groups, true);
      return { groups: [...found].map(([id, tally]) => ({ id, tally })) };
    },

    async group({ actor, params: { groupId }, query }) {
      const path = await pathTo(db, actor, groupId);
      const withSubgroups = query.subgroups === 'yes';
      const target = { path: path.map(({ id }) => id) };
      const mayDo = (power: Power): boolean => may(actor, power, target);
      const group = await oneRow<
        Pick<
          GroupSheet,
          | 'id'
          | 'name'
          | 'description'
          | 'youngLearners'
          | 'state'
          | 'firstDay'
          | 'lastDay'
          | 'below'
          | 'idNumber'
          | 'colour'
          | 'pictureId'
          | 'signInPrefix'
        > & {
          parent: number | null;
          contact: { id: number; name: string } | null;
        }
      >(
        db,
        sql`
        select id, name, description, young_learners as "youngLearners", state, first_day as "firstDay", last_day as "lastDay", id_number as "idNumber", colour,
          picture_id as "pictureId", sign_in_prefix as "signInPrefix", parent_id as parent,
          (select jsonb_build_object('id', n.person_id, 'name', n.given_name || ' ' || n.family_name) from personal_now n where n.person_id = contact_id and ${seenPerson(actor, sql`n.person_id`)}) as contact,
          (select count(*)::int - 1 from group_branch where ancestor_id = ${groupId}) as below from group_now where id = ${groupId}`,
      );
      const { parent, ...values } = group;
      const leaders = await rows<GroupLeader>(
        db,
        sql`
        select n.person_id as id, n.given_name || ' ' || n.family_name as name, l.powers, l.first_day as "firstDay", l.last_day as "lastDay"
        from leadership l join personal_now n on n.person_id = l.person_id
        where l.group_id = ${groupId} and l.until_at is null and coalesce(l.last_day >= ${actor.today}, true) order by n.family_name collate people_order, n.given_name collate people_order`,
      );
      const handouts = await db
        .select({ id: tables.handout.rowId, title: tables.handout.title, url: tables.handout.url, uploadId: tables.handout.uploadId })
        .from(tables.handout)
        .where(and(eq(tables.handout.groupId, groupId), isNull(tables.handout.untilAt)))
        .orderBy(tables.handout.rowId);
      const mayInvite = mayDo('managePeople') || mayDo('appointLeaders');
      const waiting = mayInvite
        ? await rows<Omit<Invited, 'until'> & { until: string }>(
            db,
            sql`
            select row_id as id, email, trim(given_name || ' ' || family_name) as name, powers is not null as leads, ends_at as until from invitation
            where group_id = ${groupId} and until_at is null and ends_at > now() order by row_id desc limit 200`,
          )
        : [];
      const tags = await rows<{ id: number; name: string }>(
        db,
        sql`select t.id, t.name from group_tag g join tag_now t on t.id = g.tag_id where g.group_id = ${groupId} and g.until_at is null and ${seenTags(actor)} order by t.name`,
      );
      const people = await oneRow<{ counted: number; leaders: number; inSeveral: number }>(
        db,
        sql`
        with scope as materialized (select s.id, s.counted from membership_set s where s.counted > 0 and s.id in (select set_id from (${scopeOf([groupId], withSubgroups)}) scope)),
        shares as materialized (
          select c.id, count(*) as groups from scope c join membership_set_group g on g.set_id = c.id where g.group_id in (${groupsOf(groupId, withSubgroups)}) group by 1
        )
        select (select coalesce(sum(counted), 0)::int from scope) as counted,
          (select count(distinct person_id)::int from leadership where until_at is null and group_id in (${groupsOf(groupId, withSubgroups)})) as leaders,
          (select coalesce(sum(counted), 0)::int from scope join shares on shares.id = scope.id where shares.groups > 1) as "inSeveral"`,
      );
      const notCounted = await rows<{ reason: 'paused'; people: number }>(
        db,
        sql`
        with others as materialized (select p.id from person p where not ${isCounted(groupId, withSubgroups)})
        select ${reasonNotCounted(groupId, withSubgroups, actor.today)} as reason, count(*)::int as people
        from others p join person_state s on s.person_id = p.id and s.until_at is null where ${isMember(groupId, withSubgroups)} group by 1 order by 2 desc`,
      );
      const progress = mayDo('seeProgress')
        ? (await totalsOf(db, await filterReader(db, actor, deps.columns), [groupId], withSubgroups)).get(groupId)
        : undefined;
      const cells = (await accessRows(db, actor, [groupId], await accessWorld(db, actor)))[0]?.cells ?? [];
      const open = cells.filter(({ state }) => state === 'here' || state === 'above' || state === 'part');
      return {
        ...values,
        path: seenPath(actor, path),
        leaders,
        handouts,
        invited: waiting.map((each) => ({ ...each, until: iso(each.until) })),
        tags,
        people: { ...people, notCounted },
        seats: await seatFigures(db, groupId, withSubgroups),
        progress: progress ?? emptyTally,
        courses: {
          open: open.length,
          fromAbove: open.filter(({ openedHere }) => !openedHere).length,
          blocked: cells.filter(({ state }) => state === 'blocked').length,
        },
        may: {
          managePeople: mayDo('managePeople'),
          shapeGroups: mayDo('shapeGroups'),
          openCourses: mayDo('openCourses'),
          seeProgress: mayDo('seeProgress'),
          bringIn: mayDo('managePeople'),
          export: mayDo('export'),
          shapeItself: parent !== null && may(actor, 'shapeGroups', { path: target.path.slice(0, -1) }),
          appointLeaders: mayDo('appointLeaders'),
          helpSignIn: mayDo('helpSignIn'),
        },
      };
    },

    async upload({ actor, body: { fileName, base64 } }) {
      if (
        branchesWith(actor, 'shapeGroups')?.length === 0 &&
        branchesWith(actor, 'writeMessages')?.length === 0 &&
        branchesWith(actor, 'makeCourses')?.length === 0
      )
        throw notFound();
      return keepUpload(db, actor.personId, fileName, Buffer.from(base64, 'base64'));
    },

    async groupPicture({ actor, params: { groupId } }) {
      await mayReach(actor, groupId);
      const group = await firstOf(
        db.select({ picture_id: tables.groupNow.pictureId }).from(tables.groupNow).where(eq(tables.groupNow.id, groupId)),
      );
      return found(await maybeFile(db, group?.picture_id ?? null));
    },

    async handoutFile({ actor, params: { groupId, handoutId } }) {
      await mayReach(actor, groupId);
      const row = await firstOf(
        db
          .select({ upload_id: tables.handout.uploadId })
          .from(tables.handout)
          .where(and(eq(tables.handout.rowId, handoutId), eq(tables.handout.groupId, groupId), isNull(tables.handout.untilAt))),
      );
      // A handout is saved, never shown in place, whatever it is.
      return { ...found(await maybeFile(db, row?.upload_id ?? null)), isPicture: false };
    },

    async missing() {
      return oneRow(
        db,
        sql`
        select not exists (select 1 from group_now where parent_id is not null) as groups, not exists (select 1 from membership where until_at is null) as people,
          not exists (select 1 from course_now) as courses, not exists (select 1 from access_grant where until_at is null and effect = 'open') as access,
          not exists (select 1 from person p where p.counted and (exists (select 1 from credential c where c.person_id = p.id) or exists (select 1 from one_time_link l where l.person_id = p.id and l.used_at is null))) as "signIns"`,
      );
    },
  };

  /** For its people and those of the groups below, and whoever leads it. */
  async function mayReach(actor: SignedIn, groupId: number): Promise<void> {
    const path = (
      await db.select({ id: tables.groupBranch.ancestorId }).from(tables.groupBranch).where(eq(tables.groupBranch.groupId, groupId))
    ).map(({ id }) => id);
    if (path.length > 0 && may(actor, 'see', { path })) return;
    found(
      await maybeRow(
        db,
        sql`
        select 1 from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = ${groupId} and m.person_id = ${actor.personId} and m.until_at is null
          and coalesce(m.first_day <= ${actor.today}, true) and coalesce(m.last_day >= ${actor.today}, true)`,
      ),
    );
  }
}
