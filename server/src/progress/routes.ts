import type { Filter } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, rows } from '../database/connect.ts';
import { filterReader, whoFits } from '../filters/conditions.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { csvOf, type Table, workbookOf } from '../http/table.ts';
import { readCursor, writeCursor } from '../people/list.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { enrolmentsWhere } from './enrolments.ts';
import { insideCourse, insideTable } from './inside-course.ts';
import { groupTable } from './group-table.ts';
import { learnersPage, learnersTable } from './learners.ts';
import { noteLook, progressNews } from './news.ts';
import { progressReport } from './report.ts';
import { besideTable, sideBySide } from './side-by-side.ts';

/** Progress speaks of counted learners, by name. */
const learnersOnly = { counted: 'yes', countedOnly: true, fits: 'yes', sort: 'name' } as const;

export function progressHandlers({ db }: Deps): Handlers {
  return {
    async progress({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return progressReport(db, actor, groupId, query.subgroups === 'yes', query.filter);
    },

    async progressNews({ actor, params: { groupId }, query: { subgroups, of } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return progressNews(db, actor, { groupId, withSubgroups: subgroups === 'yes' }, of);
    },

    async lookedAtProgress({ actor }) {
      await noteLook(db, actor);
      return {};
    },

    async progressLearners({ actor, params: { groupId }, query: { after, limit, ...query } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return learnersPage(
        db,
        await filterReader(db, actor),
        groupId,
        { ...query, counted: 'yes', countedOnly: true, fits: 'yes' },
        { after, limit },
      );
    },

    async progressInside({ actor, params: { groupId }, query: { after, limit, ...query } }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return insideCourse(db, await filterReader(db, actor), groupId, { ...query, ...learnersOnly }, { after, limit });
    },

    async progressInsideFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      response.setHeader('Content-Disposition', `attachment; filename="course-${groupId}-${actor.today}.csv"`);
      const table = await insideTable(db, await filterReader(db, actor), groupId, { ...query, ...learnersOnly });
      return csvOf(table);
    },

    async progressLearnersFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      response.setHeader('Content-Disposition', `attachment; filename="learners-${groupId}-${actor.today}.csv"`);
      return csvOf(
        await learnersTable(db, await filterReader(db, actor), groupId, { ...query, counted: 'yes', countedOnly: true, fits: 'yes' }),
      );
    },

    async progressFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      response.setHeader('Content-Disposition', `attachment; filename="progress-${groupId}-${actor.today}.csv"`);
      return csvOf(groupTable(await progressReport(db, actor, groupId, query.subgroups === 'yes', query.filter)));
    },

    async progressWorkbook({ actor, params: { groupId }, query: { view, courseId, sort, subgroups, filter, groups } }) {
      const path = await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      const reader = await filterReader(db, actor);
      const asked = { subgroups, filter, ...learnersOnly };
      const tables = {
        groups: async () => groupTable(await progressReport(db, actor, groupId, subgroups === 'yes', filter)),
        learners: () => learnersTable(db, reader, groupId, { ...asked, sort }),
        beside: async () => {
          const wanted = readGroups(groups);
          for (const id of wanted) await pathTo(db, actor, id, 'seeProgress');
          return besideTable(await sideBySide(db, reader, groupId, wanted, subgroups === 'yes', filter));
        },
        course: () => insideTable(db, reader, groupId, { ...asked, ...(courseId === undefined ? {} : { courseId }) }),
      };
      const about: Table = {
        name: 'About',
        head: ['What', 'Value'],
        lines: [
          ['Group', path.at(-1)?.name ?? ''],
          ['With subgroups', subgroups],
          ['As of', actor.today],
          ['Filter', filter.length === 0 ? 'none' : JSON.stringify(filter)],
          ['Taken away by', `${actor.givenName} ${actor.familyName}`],
        ],
      };
      return {
        fileName: `${view}-${groupId}-${actor.today}.xlsx`,
        mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        isPicture: false,
        content: await workbookOf([await tables[view](), about]),
      };
    },

    async progressSideBySide({ actor, params: { groupId }, query: { groups, subgroups, filter } }) {
      // Each group is one in which they see progress, as if it were asked for by itself.
      for (const id of [groupId, ...groups]) await pathTo(db, actor, id, 'seeProgress');
      return sideBySide(db, await filterReader(db, actor), groupId, groups, subgroups === 'yes', filter);
    },

    async progressPeople({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      found((await rows(db, sql`select id from course_now where id = ${query.courseId}`))[0]);
      const reader = await filterReader(db, actor);
      const withSubgroups = query.subgroups === 'yes';
      const filter: Filter = [...query.filter, { part: 'course', courses: [query.courseId], sets: [] }];
      const fitting = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), filter);
      const after = query.after === undefined ? null : readCursor(query.after);
      const people = await rows<{ id: number; givenName: string; familyName: string }>(
        db,
        sql`
        select p.id, n.given_name as "givenName", n.family_name as "familyName" from person p join personal_now n on n.person_id = p.id
        where ${fitting} ${after ? sql`and (n.family_name collate people_order, n.given_name collate people_order, p.id) > (${after[0]}, ${after[1]}, ${after[2]})` : sql``}
        order by n.family_name collate people_order, n.given_name collate people_order, p.id limit ${query.limit + 1}`,
      );
      const page = people.slice(0, query.limit);
      const enrolments = new Map(
        (
          await enrolmentsWhere(db, sql`p.id = any(${ids(page.map(({ id }) => id))})`, sql`c.id = ${query.courseId}`, {
            today: actor.today,
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

/** Groups as an address names them. @throws ProblemError `bad-request` when they are none. */
function readGroups(text: string | undefined): number[] {
  const found = (text ?? '').split(',').map(Number);
  if (!found.every((id) => Number.isSafeInteger(id) && id > 0)) throw new ProblemError('bad-request');
  return found.slice(0, 6);
}
