import { type ByValue, byValue, courseOrder, type Day, dayNumber, type LearnerSort, nextDue, readLearnerSort } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import { type Listed, type ListFilter, peopleWhere } from '../people/filtered.ts';
import { type FoundPerson, type Page, peopleById, peopleRows } from '../people/list.ts';
import { pageByValue } from '../people/page-by-value.ts';
import { groupsOf, onlyGroups } from '../people/scope.ts';
import { type Enrolment, enrolmentsWhere } from './enrolments.ts';

/** A list of learners, which can be sorted by what they have done as well. */
export interface LearnersFilter extends Listed {
  /** As in an address (`readLearnerSort`). */
  sort: string;
}

/** Fetches page after page of the learners whom a list shows, in its order. */
export async function learnersInOrder(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: LearnersFilter,
): Promise<(page: Page) => Promise<{ people: FoundPerson[]; next: string | null }>> {
  const sorted: LearnerSort = readLearnerSort(filter.sort) ?? { by: 'name', backwards: false };
  if (sorted.by === 'name' || sorted.by === 'active') {
    const by = `${sorted.backwards ? '-' : ''}${sorted.by}` as const;
    return (page) => peopleRows(db, reader, groupId, { ...filter, sort: by }, page);
  }
  const list: ListFilter = { ...filter, sort: 'name' };
  const values = await valuesOf(db, reader, groupId, list, sorted);
  return async (page) => {
    const { ids, next } = await pageByValue(db, reader, groupId, list, { ...values, backwards: sorted.backwards }, page);
    return { people: await peopleById(db, reader, groupId, list, ids), next };
  };
}

async function valuesOf(db: Queryable, reader: FilterReader, groupId: number, filter: Listed, sorted: LearnerSort): Promise<ByValue> {
  if (sorted.by === 'group') return placesOfGroups(db, reader, groupId, filter);
  const { actor, own, sight, realToday } = reader;
  const courseId = sorted.by === 'course' ? sorted.id : null;
  const asked = { groupId, withSubgroups: filter.subgroups === 'yes', courseId };
  const told = await reader.columns?.answer({ kind: 'values', reader: { actor, own, sight, realToday }, ...asked });
  if (told) return told;
  const courses = courseId === null ? sql`true` : sql`c.id = ${courseId}`;
  const found = await enrolmentsWhere(db, peopleWhere(reader, groupId, filter), courses, { today: actor.today, sight });
  const values =
    courseId === null
      ? nextDueDays(found, actor.today)
      : new Map(found.map((each) => [each.personId, courseOrder({ ...each, inLine: each.inLine !== null })]));
  return byValue([...values.keys()], [...values.values()]);
}

function nextDueDays(enrolments: readonly Enrolment[], today: Day): Map<number, number> {
  const values = new Map<number, number>();
  for (const each of enrolments) {
    const due = nextDue([each], today);
    if (due !== null) values.set(each.personId, Math.min(values.get(each.personId) ?? Infinity, dayNumber(due)));
  }
  return values;
}

/** Groups by their names: who is in several below the scope comes with the first of them. */
async function placesOfGroups(db: Queryable, { own }: FilterReader, groupId: number, { subgroups }: Listed): Promise<ByValue> {
  const found = await rows<{ id: number; place: number }>(
    db,
    sql`
    with places as materialized (
      select g.id, row_number() over (order by g.name collate people_order, g.id)::int as place from group_now g
      where g.id in (${groupsOf(groupId, subgroups === 'yes')}) and g.id <> ${groupId} and ${onlyGroups(sql`g.id`, own)}
    )
    select p.id, first.place from person p
    join (select m.set_id, min(x.place) as place from membership_set_group m join places x on x.id = m.group_id group by 1) first on first.set_id = p.set_id`,
  );
  return byValue(
    found.map(({ id }) => id),
    found.map(({ place }) => place),
  );
}
