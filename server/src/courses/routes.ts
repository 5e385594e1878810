import type { Answer, Routes } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { onlyGroups } from '../people/scope.ts';
import { noteUse, openNow } from '../splits/running.ts';
import { catalogueFile, cataloguePage, courseSetSheet, courseSheet } from './catalogue.ts';
import { launchHours } from './launch-hours.ts';
import { cardSight, myCourses, whyMine } from './my-courses.ts';
import { checkFeed } from './read-feed.ts';

export function courseHandlers(deps: Deps): Handlers {
  const { db, now, settings } = deps;
  const scopeOf = async (
    actor: SignedIn,
    groupId: number,
    subgroups: 'yes' | 'no',
  ): Promise<{ groupId: number; withSubgroups: boolean }> => {
    await pathTo(db, actor, groupId);
    return { groupId, withSubgroups: subgroups === 'yes' };
  };
  return {
    async courses({ actor, params, query: { subgroups, ...question } }) {
      return cataloguePage(db, actor, await scopeOf(actor, params.groupId, subgroups), question);
    },

    async coursesFile({ actor, params, query: { subgroups, ...question }, response }) {
      await pathTo(db, actor, params.groupId, 'export');
      response.setHeader('Content-Disposition', `attachment; filename="courses-${params.groupId}-${actor.today}.csv"`);
      return catalogueFile(db, actor, await scopeOf(actor, params.groupId, subgroups), question);
    },

    async course({ actor, params, query }) {
      return courseSheet(db, actor, await scopeOf(actor, params.groupId, query.subgroups), params.courseId);
    },

    async courseSet({ actor, params, query }) {
      return courseSetSheet(db, actor, await scopeOf(actor, params.groupId, query.subgroups), params.courseSetId);
    },

    async checkFeed() {
      return checkFeed(deps);
    },

    async myCourses({ actor }) {
      // At a device that many use, addresses stay away.
      const reached = sql`jsonb_build_object('name', trim(n.given_name || ' ' || n.family_name), 'email', ${actor.onlyIn === null ? sql`n.confirmed_email` : sql`null`})`;
      const own = (await cardSight(db, actor))?.own ?? null;
      const theirGroups = rows<Answer<Routes['myCourses']>['groups'][number]>(
        db,
        sql`
        select g.id, g.name,
          (select coalesce(jsonb_agg(a.name order by b.depth desc), '[]') from group_branch b join group_now a on a.id = b.ancestor_id where b.group_id = g.id and b.depth > 0 and a.parent_id is not null) as path,
          coalesce(
            (select jsonb_build_array(${reached}) from group_branch b join group_now a on a.id = b.ancestor_id join personal_now n on n.person_id = a.contact_id
              where b.group_id = g.id order by b.depth limit 1),
            (select jsonb_agg(${reached} order by n.family_name collate people_order) from leadership l join personal_now n on n.person_id = l.person_id
              where l.until_at is null and coalesce(l.first_day <= ${actor.today}, true) and coalesce(l.last_day >= ${actor.today}, true) and l.group_id = (select b.ancestor_id from group_branch b join leadership x on x.group_id = b.ancestor_id and x.until_at is null where b.group_id = g.id order by b.depth limit 1)), '[]') as ask,
          (select a.id from group_branch b join group_now a on a.id = b.ancestor_id where b.group_id = g.id and a.picture_id is not null order by b.depth limit 1) as "pictureOf",
          (select coalesce(jsonb_agg(jsonb_build_object('id', h.row_id, 'groupId', h.group_id, 'title', h.title, 'url', h.url, 'uploadId', h.upload_id) order by b.depth, h.row_id), '[]')
            from group_branch b join handout h on h.group_id = b.ancestor_id and h.until_at is null where b.group_id = g.id) as handouts
        from membership m join group_now g on g.id = m.group_id where m.person_id = ${actor.personId} and m.until_at is null
          and ${onlyGroups(sql`m.group_id`, own)} and coalesce(m.first_day <= ${actor.today}, true) and coalesce(m.last_day >= ${actor.today}, true)
          and not exists (select 1 from group_branch r join group_now a on a.id = r.ancestor_id where r.group_id = g.id and (a.state <> 'active' or a.first_day > ${actor.today} or a.last_day < ${actor.today})) order by g.name collate people_order`,
        { plan: 'kept' },
      );
      const [groups, courses] = await Promise.all([theirGroups, myCourses(db, actor)]);
      return { groups, ...courses };
    },

    async myWhy({ actor, params: { courseId } }) {
      return { why: await whyMine(db, actor, courseId) };
    },

    async launch({ actor, params: { courseId } }) {
      const working = { personId: actor.personId, today: actor.today, sight: await cardSight(db, actor) };
      const { enrolment, ...open } = await openNow(db, working, courseId);
      if (open.units.length === 0) {
        if (found(enrolment).units.length === 0 || !enrolment?.lacksSeat) throw new ProblemError('not-open');
        throw new ProblemError(enrolment.inLine === null ? 'no-licence' : 'in-line');
      }
      await noteUse(db, actor.personId, courseId, open);
      const id = randomUUID();
      await db
        .insert(tables.launch)
        .values({ id, personId: actor.personId, courseId, endsAt: new Date(now().getTime() + launchHours * 3_600_000) });
      // In the fragment, so that it reaches no log and no Referer.
      return { address: `${settings.publicUrl}/player/#${id}` };
    },
  };
}
