import { completion, type Filter, meanScore, notBegun, type Tally } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, rows } from '../database/connect.ts';
import { filterReader, whoFits } from '../filters/conditions.ts';
import { pathTo } from '../groups/queries.ts';
import { csv } from '../http/csv.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found } from '../http/problem.ts';
import { readCursor, writeCursor } from '../people/list.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { enrolmentsWhere } from './enrolments.ts';
import { insideCourse, insideFile } from './inside-course.ts';
import { learnersFile, learnersPage } from './learners.ts';
import { progressReport } from './report.ts';

/** Progress speaks of counted learners, by name. */
const learnersOnly = { counted: 'yes', countedOnly: true, fits: 'yes', sort: 'name' } as const;

export function progressHandlers({ db }: Deps): Handlers {
  return {
    async progress({ actor, params: { groupId }, query }) {
      await pathTo(db, actor, groupId, 'seeProgress');
      return progressReport(db, actor, groupId, query.subgroups === 'yes', query.filter);
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
      return insideFile(db, await filterReader(db, actor), groupId, { ...query, ...learnersOnly });
    },

    async progressLearnersFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      response.setHeader('Content-Disposition', `attachment; filename="learners-${groupId}-${actor.today}.csv"`);
      return learnersFile(db, await filterReader(db, actor), groupId, { ...query, counted: 'yes', countedOnly: true, fits: 'yes' });
    },

    async progressFile({ actor, params: { groupId }, query, response }) {
      await pathTo(db, actor, groupId, 'export');
      await pathTo(db, actor, groupId, 'seeProgress');
      response.setHeader('Content-Disposition', `attachment; filename="progress-${groupId}-${actor.today}.csv"`);
      const report = await progressReport(db, actor, groupId, query.subgroups === 'yes', query.filter);
      const figures = (tally: Tally): (number | null)[] => [
        tally.all,
        tally.exempt,
        tally.done,
        tally.underWay,
        notBegun(tally),
        tally.overdue,
        percent(completion(tally)),
        round(meanScore(tally)),
      ];
      const lines = report.rows.flatMap((row) => [
        [row.name, row.depth, row.learners, 'All courses', ...figures(row.total)],
        ...report.courses.flatMap((course, index) => {
          const cell = row.cells[index];
          return cell ? [[row.name, row.depth, row.learners, course.name, ...figures(cell)]] : [];
        }),
      ]);
      return csv(
        [
          'Group',
          'Levels below the scope',
          'Learners',
          'Course',
          'Enrolments',
          'Exempt',
          'Done',
          'Under way',
          'Not begun',
          'Overdue',
          'Completion %',
          'Mean score',
        ],
        lines,
      );
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

const percent = (rate: number | null): number | null => (rate === null ? null : Math.round(rate * 100));
const round = (value: number | null): number | null => (value === null ? null : Math.round(value * 10) / 10);
