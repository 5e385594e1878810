import { courseOccasions, may, noEffects, type Power, reminderProblems } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, ids, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { isCounted } from '../people/scope.ts';
import { wayOfLetter } from './audience.ts';
import { nextReminders } from './remind.ts';
import { type DueReminder, type KeptReminder, keptReminders, remindersDue, waysSeen } from './reminders-due.ts';

/** Says when people of a branch are reminded of something, that nobody is, or leaves it to the groups above. */
export const planSetReminder: Planner<'set-reminder'> = async (context, change) => {
  const { db, actor, tree, today } = context;
  const { groupId, occasion, courseId, values } = change;
  const mayHere = (power: Power): boolean => tree.has(groupId) && may(actor, power, { path: tree.path(groupId) });
  if (!mayHere('writeMessages')) throw notFound();
  if (
    courseId !== null &&
    (!courseOccasions.includes(occasion) ||
      !(await firstOf(db.select({ id: tables.courseNow.id }).from(tables.courseNow).where(eq(tables.courseNow.id, courseId)))))
  )
    throw notFound();
  const all = await keptReminders(db);
  const isSame = (each: KeptReminder): boolean => each.groupId === groupId && each.occasion === occasion && each.courseId === courseId;
  const kept = all.find(isSame) ?? null;
  const set = values === null || values === 'nobody' ? null : values;
  const next: KeptReminder | null =
    values === null
      ? null
      : {
          rowId: null,
          groupId,
          courseId,
          occasion,
          days: set?.days ?? null,
          subject: set?.text?.subject ?? null,
          body: set?.text?.body ?? null,
          fromDay: set && !set.alsoPassed ? today : null,
          madeBy: actor.personId,
        };
  const effects = noEffects();
  const problems = set?.text ? reminderProblems(set.text) : [];
  effects.conflicts = problems.map((problem) => ({
    code: problem === 'empty' ? ('letter empty' as const) : ('letter unknown field' as const),
    blocks: true,
    count: 1,
  }));
  // A reminder tells its maker who has not begun, and who is late.
  if (set && courseOccasions.includes(occasion) && !mayHere('seeProgress'))
    effects.conflicts.push({ code: 'reminder lacks power', blocks: true, count: 1 });
  if (isUnchanged(kept, next)) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const after = [...all.filter((each) => !isSame(each)), ...(next ? [next] : [])];
  effects.reached = next && next.days !== null ? await reachedNext(context, groupId, after, next) : [];
  effects.letters = await withLetters(db, effects.reached);
  const columns = next && {
    group_id: next.groupId,
    course_id: next.courseId,
    occasion: next.occasion,
    days: next.days,
    subject: next.subject,
    body: next.body,
    from_day: next.fromDay,
    made_by: next.madeBy,
  };
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      courses: courseId === null ? [] : [courseId],
      fields: [occasion, values === null ? 'none' : values === 'nobody' ? 'nobody' : 'set'],
      counts: { people: effects.reached.length, days: next?.days ?? 0 },
    }),
    async write(_, writer) {
      if (kept?.rowId && columns) await writer.replace('reminder', [{ rowId: kept.rowId, values: columns }]);
      else if (kept?.rowId) await writer.end('reminder', [kept.rowId]);
      else if (columns) await writer.begin('reminder', [columns]);
      return { messages: true };
    },
  };
};

function isUnchanged(kept: KeptReminder | null, next: KeptReminder | null): boolean {
  if (kept === null || next === null) return kept === next;
  return (
    kept.days === next.days &&
    kept.subject === next.subject &&
    kept.body === next.body &&
    (kept.fromDay === null) === (next.fromDay === null)
  );
}

/** Whom this setting reminds when reminders leave next. */
async function reachedNext(
  { db, actor, tree, today }: PlanContext,
  groupId: number,
  settings: readonly KeptReminder[],
  about: KeptReminder,
): Promise<number[]> {
  const next = await nextReminders(db, today);
  const due = await rows<DueReminder>(
    db,
    remindersDue({
      tree,
      settings,
      people: isCounted(groupId, true),
      today,
      next,
      through: next,
      timeZone: actor.timeZone,
      isSeen: await waysSeen(db, actor),
    }),
  );
  const own = due.filter(({ nth, isCovered }) => settings[nth] === about && !isCovered);
  return [...new Set(own.map(({ personId }) => personId))].sort((a, b) => a - b);
}

/** How many of them get messages by letter. */
async function withLetters(db: PlanContext['db'], people: readonly number[]): Promise<number> {
  if (people.length === 0) return 0;
  const [found] = await rows<{ letters: number }>(
    db,
    sql`
    select count(*)::int as letters from person p join personal_now n on n.person_id = p.id
    where p.id = any(${ids(people)}) and p.letters <> 'never' and ${wayOfLetter} in ('letter', 'guardian')`,
  );
  return found?.letters ?? 0;
}
