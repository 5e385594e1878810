import { courseParts, type Filter, personParts } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import { type Database, rows } from '../database/connect.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import type { Figures } from './report.ts';
import { scopeOf } from './tallies.ts';
import { tallyColumnsOf, tallyFrom, type TallyRow } from './tally-columns.ts';
import { firstWeek, weeksFrom } from './weeks.ts';

interface FoundTally extends TallyRow {
  group_id: number;
  /** 0: of all courses. */
  course_id: number;
  people: number;
}

/**
 * The figures of a report under a filter: enrolments of the counted learners who fit its person parts, as far as they fit its
 * course parts; of the rest nothing is counted. Each is worked out for the question, so it takes longer than a report without one.
 */
export async function filteredFigures(
  db: Database,
  reader: FilterReader,
  groupId: number,
  groups: readonly number[],
  withSubgroups: boolean,
  filter: Filter,
): Promise<Figures> {
  const { today } = reader.actor;
  const about = courseParts(filter);
  const people = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  const fitting = fittingEnrolments(reader, people, about, { withDue: true });
  const scope = scopeOf(groups, withSubgroups);
  const first = firstWeek(today);
  return db.transaction(
    async (tx) => {
      const found = await rows<FoundTally>(
        tx,
        sql`
        with fitting as materialized (${fitting})
        select s.group_id, coalesce(e.course_id, 0)::int as course_id, ${tallyColumnsOf(today)},
          count(distinct e.person_id)::int as people
        from fitting e join person p on p.id = e.person_id join (${scope}) s on s.set_id = p.set_id
        group by grouping sets ((s.group_id, e.course_id), (s.group_id))`,
      );
      // Without a course part a learner to whom nothing is open fits all the same.
      const learners =
        about.length > 0
          ? found.flatMap((row) => (row.course_id === 0 ? [{ group_id: row.group_id, people: row.people }] : []))
          : await rows<{ group_id: number; people: number }>(
              tx,
              sql`select s.group_id, count(*)::int as people from person p join (${scope}) s on s.set_id = p.set_id where ${people} group by 1`,
            );
      const weeks = await rows<{ monday: string; done: number }>(
        tx,
        sql`select date_trunc('week', e.done_day)::date as monday, count(*)::int as done from (${fittingEnrolments(reader, people, about)}) e where not e.exempt and e.done_day >= ${first} group by 1`,
      );
      return {
        byCourse: found.flatMap((row) =>
          row.course_id === 0 ? [] : [{ groupId: row.group_id, courseId: row.course_id, tally: tallyFrom(row) }],
        ),
        totals: new Map(found.flatMap((row) => (row.course_id === 0 ? [[row.group_id, tallyFrom(row)] as const] : []))),
        learners: new Map(learners.map((row) => [row.group_id, row.people])),
        weeks: weeksFrom(first, weeks),
      };
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  );
}
