import type { ProgressReport, RowKind } from '@gate-roster/contract';
import { courseParts, emptyTally, type FilterPart, personParts, talliesOf, type Tally } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Database, ids, rows } from '../database/connect.ts';
import { all, type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import { groupsOf, isCounted, onlyGroups } from '../people/scope.ts';
import { seenTags } from '../people/tags.ts';
import { type Medians, mediansBy, mediansOfRow, type ScoreQuestion } from './scores.ts';
import { tallyColumnsOf, tallyFrom, type TallyRow } from './tally-columns.ts';

type Row = ProgressReport['rows'][number];
/** A row, and the part of a filter that chooses the same learners. */
interface NamedRow {
  id: number;
  name: string;
  part: FilterPart;
}

/**
 * The report with other rows than groups: by tag, by leader, by month of coming in. Somebody can be in several rows or in none. Each row
 * is what the report says under the row's own filter.
 */
export async function reportRows(
  db: Database,
  reader: FilterReader,
  question: ScoreQuestion,
  kind: Exclude<RowKind, 'groups'>,
  withMedians: boolean,
): Promise<{ courseIds: number[]; rowsFor: (courseIds: readonly number[]) => Row[] }> {
  const { groupId, withSubgroups } = question;
  const { named, pairs } = await rowsBy(db, reader, groupsOf(groupId, withSubgroups), kind);
  const { learners, tallies, courseIds, medians } =
    (await rememberedRows(db, reader, question, pairs, withMedians)) ?? (await readRows(db, reader, question, pairs, withMedians));
  const shown = named.filter(({ id }) => (learners.get(id) ?? 0) > 0);
  return {
    courseIds,
    rowsFor: (courses) =>
      shown.map(({ id, name, part }) => ({
        id,
        parentId: groupId,
        name,
        part,
        depth: 1,
        hasSubgroups: false,
        learners: learners.get(id) ?? 0,
        total: tallies.get(`${id}/0`) ?? emptyTally,
        cells: courses.map((courseId) => {
          const tally = tallies.get(`${id}/${courseId}`);
          return tally && tally.all > 0 ? tally : null;
        }),
        medians: mediansOfRow(
          medians,
          id,
          courses.map((courseId) => ({ id: courseId })),
        ),
      })),
  };
}

/** What rows come to; of all courses under course 0. */
interface FoundRows {
  learners: Map<number, number>;
  tallies: Map<string, Tally>;
  courseIds: number[];
  medians: Medians | null;
}

/** From memory; null: the database has to answer. */
async function rememberedRows(
  db: Database,
  { actor, own, sight, realToday, columns }: FilterReader,
  question: ScoreQuestion,
  pairs: SQL,
  withMedians: boolean,
): Promise<FoundRows | null> {
  if (!columns) return null;
  // As texts: numbers that are read one by one take a second for a large site.
  const found = await rows<{ row: number; people: string }>(
    db,
    sql`select row, string_agg(person_id::text, ',') as people from (${pairs}) pairs group by 1`,
  );
  const asked = Float64Array.from(found.flatMap(({ row, people }) => people.split(',').flatMap((id) => [row, Number(id)])));
  const reader = { actor, own, sight, realToday };
  const answer = await columns.answer({ kind: 'rows', reader, ...question, pairs: asked, withMedians });
  if (!answer) return null;
  const all = [...answer];
  return {
    learners: new Map(all.map(([row, { learners }]) => [row, learners])),
    tallies: new Map(
      all.flatMap(([row, { total, byCourse }]) =>
        [[0, total] as const, ...talliesOf(byCourse)].map(([courseId, tally]) => [`${row}/${courseId}`, tally] as const),
      ),
    ),
    courseIds: [...new Set(all.flatMap(([, { byCourse }]) => [...byCourse.courseIds]))],
    medians: withMedians
      ? new Map(all.map(([row, { median, medians }]) => [row, median === null ? new Map() : new Map([...medians, [0, median]])]))
      : null,
  };
}

async function readRows(db: Database, reader: FilterReader, question: ScoreQuestion, pairs: SQL, withMedians: boolean): Promise<FoundRows> {
  const { groupId, withSubgroups, filter } = question;
  const people = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  const about = courseParts(filter);
  const found = await rows<TallyRow & { row: number; course_id: number; people: number }>(
    db,
    sql`
    with fitting as materialized (${fittingEnrolments(reader, people, about, { withDue: true })}), pairs as materialized (${pairs})
    select r.row, coalesce(e.course_id, 0)::int as course_id, ${tallyColumnsOf(reader.actor.today)}, count(distinct e.person_id)::int as people
    from fitting e join pairs r on r.person_id = e.person_id group by grouping sets ((r.row, e.course_id), (r.row))`,
  );
  const learners =
    about.length > 0
      ? found.filter(({ course_id }) => course_id === 0)
      : await rows<{ row: number; people: number }>(
          db,
          sql`with pairs as materialized (${pairs}) select r.row, count(*)::int as people from pairs r join person p on p.id = r.person_id where ${people} group by 1`,
        );
  return {
    learners: new Map(learners.map(({ row, people: count }) => [row, count])),
    tallies: new Map(found.map((each) => [`${each.row}/${each.course_id}`, tallyFrom(each)])),
    courseIds: [...new Set(found.flatMap(({ course_id }) => (course_id === 0 ? [] : [course_id])))],
    medians: withMedians ? await mediansBy(db, reader, question, pairs) : null,
  };
}

/** The rows there are, and a statement for who is in which: row and person_id, each pair once. */
async function rowsBy(
  db: Database,
  { actor, own, realToday }: FilterReader,
  inScope: SQL,
  kind: Exclude<RowKind, 'groups'>,
): Promise<{ named: NamedRow[]; pairs: SQL }> {
  switch (kind) {
    case 'tags': {
      const found = await rows<{ id: number; name: string }>(
        db,
        sql`select t.id, t.name from tag_now t where ${seenTags(actor)} order by t.name collate people_order, t.id`,
      );
      return {
        named: found.map(({ id, name }) => ({ id, name, part: { part: 'tags', how: 'any', ids: [id] } })),
        pairs: sql`select distinct x.tag_id as row, x.person_id from person_tag x where x.until_at is null and x.tag_id = any(${ids(found.map(({ id }) => id))})`,
      };
    }
    case 'leaders': {
      const leads = sql`l.until_at is null and coalesce(l.first_day <= ${realToday}, true) and coalesce(l.last_day >= ${realToday}, true) and ${onlyGroups(sql`l.group_id`, own)}`;
      const found = await rows<{ id: number; name: string }>(
        db,
        sql`select distinct n.person_id as id, n.family_name || ', ' || n.given_name as name from leadership l join personal_now n on n.person_id = l.person_id
          where ${leads} and l.group_id in (${inScope}) order by 2, 1`,
      );
      return {
        named: found.map(({ id, name }) => ({ id, name, part: { part: 'led by', ids: [id] } })),
        pairs: sql`select distinct l.person_id as row, m.person_id from leadership l join group_branch b on b.ancestor_id = l.group_id
          join membership m on m.group_id = b.group_id and m.until_at is null where ${leads} and l.person_id = any(${ids(found.map(({ id }) => id))}) and ${onlyGroups(sql`m.group_id`, own)}`,
      };
    }
    case 'months': {
      const month = sql`date_trunc('month', coalesce(m.first_day, (m.from_at at time zone ${actor.timeZone})::date))::date`;
      const coming = sql`select distinct (extract(year from ${month}) * 100 + extract(month from ${month}))::int as row, m.person_id from membership m
        where ${all([sql`m.until_at is null`, sql`m.group_id in (${inScope})`, onlyGroups(sql`m.group_id`, own)])}`;
      const found = await rows<{ id: number; first: string; last: string }>(
        db,
        sql`select row as id, make_date(row / 100, row % 100, 1)::text as first, (make_date(row / 100, row % 100, 1) + interval '1 month' - interval '1 day')::date::text as last
          from (select distinct row from (${coming}) c) r order by row desc`,
      );
      return {
        named: found.map(({ id, first, last }) => ({
          id,
          name: first.slice(0, 7),
          part: { part: 'came', by: [], from: first, until: last },
        })),
        pairs: coming,
      };
    }
  }
}
