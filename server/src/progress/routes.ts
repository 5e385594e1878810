import type { Filter } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { ids, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { whoFits, withFitting } from '../filters/conditions.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found } from '../http/problem.ts';
import { readCursor, writeCursor } from '../people/list.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { enrolmentsWhere } from './enrolments.ts';
import { insideCourse } from './inside-course.ts';
import { historySince } from '../access/world-at.ts';
import { askedOn } from './asked-day.ts';
import { changedBetween } from './between.ts';
import { branchAbove } from './branch-above.ts';
import { learnersPage } from './learners.ts';
import { noteLook, progressNews } from './news.ts';
import { progressReport } from './report.ts';
import { sideBySide } from './side-by-side.ts';

/** Progress speaks of counted learners, by name. */
const learnersOnly = { counted: 'yes', countedOnly: true, fits: 'yes', sort: 'name' } as const;

export function progressHandlers(deps: Deps): Handlers {
  const { db } = deps;
  return {
    async progress({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const asked = await askedOn(deps, actor, query.day);
      return progressReport(asked.db, asked.reader, groupId, query.subgroups === 'yes', query.filter, query);
    },

    async progressAbove({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const asked = await askedOn(deps, actor, query.day);
      return { branch: await branchAbove(asked.db, asked.reader, groupId, query.filter) };
    },

    async progressNews({ actor, params: { groupId }, query: { subgroups, of } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return progressNews(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, of);
    },

    async progressBetween({ actor, params: { groupId }, query: { subgroups, filter, from, day: until, of } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return changedBetween(deps, actor, { groupId, subgroups, filter, from, until, of });
    },

    async historySince({ actor }) {
      return { since: await historySince(db, actor) };
    },

    async lookedAtProgress({ actor }) {
      await noteLook(db, actor);
      return {};
    },

    async progressLearners({ actor, params: { groupId }, query: { after, limit, day, ...query } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const asked = await askedOn(deps, actor, day);
      return learnersPage(asked.db, asked.reader, groupId, { ...query, counted: 'yes', countedOnly: true, fits: 'yes' }, { after, limit });
    },

    async progressInside({ actor, params: { groupId }, query: { after, limit, day, ...query } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      const asked = await askedOn(deps, actor, day);
      return insideCourse(asked.db, asked.reader, groupId, { ...query, ...learnersOnly }, { after, limit });
    },

    async progressSideBySide({ actor, params: { groupId }, query: { groups, subgroups, filter, day, count } }) {
      // Each group is one in which they see progress, as if it were asked for by itself.
      for (const id of [groupId, ...groups]) await pathTo(db, actor, id, 'seeProgress');
      const asked = await askedOn(deps, actor, day);
      return sideBySide(asked.db, asked.reader, groupId, groups, subgroups === 'yes', filter, { onCommonUnits: count === 'common' });
    },

    async progressPeople({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      found((await db.select({ id: tables.courseNow.id }).from(tables.courseNow).where(eq(tables.courseNow.id, query.courseId)))[0]);
      const { db: read, reader: asking } = await askedOn(deps, actor, query.day);
      const withSubgroups = query.subgroups === 'yes';
      const filter: Filter = [...query.filter, { part: 'course', courses: [query.courseId], sets: [] }];
      const reader = await withFitting(asking, groupId, withSubgroups, filter);
      const fitting = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), filter);
      const after = query.after === undefined ? null : readCursor(query.after);
      const people = await rows<{ id: number; givenName: string; familyName: string }>(
        read,
        sql`
        select p.id, n.given_name as "givenName", n.family_name as "familyName" from person p join personal_now n on n.person_id = p.id
        where ${fitting} and ${reader.named} ${after ? sql`and (n.family_name collate people_order, n.given_name collate people_order, p.id) > (${after[0]}, ${after[1]}, ${after[2]})` : sql``}
        order by n.family_name collate people_order, n.given_name collate people_order, p.id limit ${query.limit + 1}`,
      );
      const page = people.slice(0, query.limit);
      const enrolments = new Map(
        (
          await enrolmentsWhere(read, sql`p.id = any(${ids(page.map(({ id }) => id))})`, sql`c.id = ${query.courseId}`, {
            today: reader.actor.today,
            sight: reader.sight,
            dueSoonDays: actor.dueSoonDays,
          })
        ).map((each) => [each.personId, each]),
      );
      const last = page.at(-1);
      return {
        enrolments: page.flatMap(({ id, givenName, familyName }) => {
          const each = enrolments.get(id);
          return each
            ? [
                {
                  personId: id,
                  givenName,
                  familyName,
                  status: each.status,
                  lateness: each.lateness,
                  due: each.due,
                  doneDay: each.doneDay,
                  score: each.score,
                  exempt: each.exempt,
                },
              ]
            : [];
        }),
        next: people.length > query.limit && last ? writeCursor([last.familyName, last.givenName, last.id]) : null,
      };
    },
  };
}
