import type { Answer, ReminderRow, Routes } from '@gate-roster/contract';
import { addDays, may, nearestReminder, type ReminderOccasion } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import { isCounted, seenPerson } from '../people/scope.ts';
import { nextReminders } from './remind.ts';
import { keptReminders, remindersDue, waysSeen } from './reminders-due.ts';

/** So many days ahead it is rehearsed. */
const rehearsedDays = 30;
const namesAtOnce = 500;

/** What counts of reminders in a group, what is set there or above but does not, and what groups below say otherwise. */
export async function remindersOf(db: Queryable, actor: SignedIn, groupId: number): Promise<Answer<Routes['reminders']>> {
  const path = (await pathTo(db, actor, groupId)).map(({ id }) => id);
  const tree = await wholeTree(db);
  const own = await seenGroups(db, actor);
  const all = await keptReminders(db);
  const full = tree.path(groupId);
  const about = all.filter((each) => tree.has(each.groupId) && (full.includes(each.groupId) || tree.isInBranch(each.groupId, groupId)));
  const courses = new Map(
    (
      await db
        .select({ id: tables.courseNow.id, name: tables.courseNow.name })
        .from(tables.courseNow)
        .where(
          isAmong(
            tables.courseNow.id,
            about.flatMap(({ courseId }) => courseId ?? []),
          ),
        )
    ).map(({ id, name }) => [id, name]),
  );
  const makers = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select person_id as id, trim(given_name || ' ' || family_name) as name from personal_now where person_id = any(${ids(about.map(({ madeBy }) => madeBy))})`,
      )
    ).map(({ id, name }) => [id, name]),
  );
  const settings = about.map((each): ReminderRow => {
    const isSeen = own === null || own.has(each.groupId);
    const where = each.groupId === groupId ? 'here' : full.includes(each.groupId) ? 'above' : 'below';
    return {
      occasion: each.occasion,
      course: each.courseId === null ? null : { id: each.courseId, name: courses.get(each.courseId) ?? '' },
      group: isSeen ? { id: each.groupId, name: tree.node(each.groupId).name } : null,
      where,
      counts: where !== 'below' && nearestReminder(tree, all, { groupId, courseId: each.courseId, occasion: each.occasion }) === each,
      days: each.days,
      text: each.subject === null || each.body === null ? null : { subject: each.subject, body: each.body },
      by: isSeen ? (makers.get(each.madeBy) ?? null) : null,
    };
  });
  return { settings, may: { write: may(actor, 'writeMessages', { path }) } };
}

/**
 * Who would be reminded of what on which of the next days. A leader's rehearsal goes by the ways through their own branches alone:
 * what somebody hears because of other groups is not theirs to know.
 */
export async function rehearsal(
  db: Queryable,
  actor: SignedIn,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  one: { day: string; occasion: ReminderOccasion; aboutId: number } | null,
): Promise<Answer<Routes['rehearseReminders']>> {
  await pathTo(db, actor, groupId);
  const tree = await wholeTree(db);
  const settings = await keptReminders(db);
  const next = await nextReminders(db, actor.today);
  const due = remindersDue({
    tree,
    settings,
    isSeen: await waysSeen(db, actor),
    people: isCounted(groupId, withSubgroups),
    today: actor.today,
    next,
    through: addDays(next, rehearsedDays),
    timeZone: actor.timeZone,
  });
  const lines = await rows<Answer<Routes['rehearseReminders']>['lines'][number]>(
    db,
    sql`
    select d."leavesOn" as day, d.occasion, min(d.about) as about, d."aboutId", count(distinct d."personId")::int as people
    from (${due}) d where not d."isCovered" group by d."leavesOn", d.occasion, d."aboutId" order by 1, 2, 3`,
  );
  if (one === null) return { lines, names: [], more: 0 };
  const names = await rows<{ id: number; name: string; of_all: number }>(
    db,
    sql`
    select n.person_id as id, n.family_name || ', ' || n.given_name as name, count(*) over ()::int as of_all
    from (select distinct d."personId" as id from (${due}) d where not d."isCovered" and d."leavesOn" = ${one.day} and d.occasion = ${one.occasion} and d."aboutId" = ${one.aboutId}) d
    join personal_now n on n.person_id = d.id where ${seenPerson(actor, sql`n.person_id`)}
    order by n.family_name collate people_order, n.given_name collate people_order, n.person_id limit ${namesAtOnce}`,
  );
  return { lines, names: names.map(({ id, name }) => ({ id, name })), more: Math.max(0, (names[0]?.of_all ?? 0) - names.length) };
}
