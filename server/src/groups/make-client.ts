import type { Change } from '@gate-roster/contract';
import { type Grant, may, nameKey, noEffects, type Power, speakingBranch, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { coursesOfSets, isTheirs } from '../access/grant-access.ts';
import { grantColumns } from '../access/grant-rows.ts';
import { grantsByCourse } from '../access/load-rules.ts';
import { appoint, checkLeaders, newAccounts } from '../accounts/set-leaders.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { maybeRow, oneRow, rows, type Transaction } from '../database/connect.ts';
import { beginCode } from '../entry/change-codes.ts';
import { plainCode } from '../entry/plain-code.ts';
import { notFound } from '../http/problem.ts';
import { beginLicence, mayLimit } from '../seats/change-licences.ts';
import { mayShapeIn, nameConflicts } from './shape.ts';

type MakeClient = Extract<Change, { kind: 'make-client' }>;

/** A course or set that the new group opens, with the courses that it names. */
interface Opening {
  about: Grant['about'];
  name: string;
  courseIds: readonly number[];
}

/** A new group with its leader, courses, seats and join code, as one change. Each part asks for the power that it needs by itself. */
export const planMakeClient: Planner<'make-client'> = async (context, change) => {
  const { tree, actor, today } = context;
  mayShapeIn(context, change.parentId);
  const path = tree.path(change.parentId);
  const needs: Power[] = [
    ...(change.leader ? (['appointLeaders'] as const) : []),
    ...(change.opens.length > 0 ? (['openCourses'] as const) : []),
    ...(change.code ? (['managePeople'] as const) : []),
  ];
  if (!needs.every((power) => may(actor, power, { path }))) throw notFound();
  const opens = await openingsOf(context, change);
  const isYoung = await maybeRow(
    context.db,
    sql`select 1 from group_branch b join group_now g on g.id = b.ancestor_id where b.group_id = ${change.parentId} and g.young_learners`,
  );
  const paidBy = await licenceFor(context, change, opens);
  const makerBranch = speakingBranch(actor, 'openCourses', { path });
  const { appointed, conflicts } = await checkLeaders(context, change.parentId, change.leader ? [change.leader] : []);
  const effects = noEffects();
  effects.conflicts = [...nameConflicts(change.name), ...conflicts];
  if (tree.children(change.parentId).some(({ name }) => nameKey(name) === nameKey(change.name)))
    effects.conflicts.push({ code: 'name taken', blocks: true, count: 1 });
  if (change.firstDay !== null && change.lastDay !== null && change.lastDay < change.firstDay)
    effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  const about = await grantsByCourse(context.db, [...new Set(opens.flatMap(({ courseIds }) => courseIds))]);
  const foreign = opens.filter(
    ({ courseIds }) =>
      !isTheirs(
        context,
        about.filter(({ course }) => courseIds.includes(course.id)),
        makerBranch,
      ),
  );
  if (foreign.length > 0) effects.conflicts.push({ code: 'course by leader', blocks: true, count: foreign.length });
  effects.groups.made = 1;
  effects.newPeople = newAccounts(context, appointed);
  effects.letters = appointed.filter(({ person }) => person === null).length;
  const courseIds = [...new Set(opens.flatMap((each) => each.courseIds))];
  return {
    effects,
    groups: [change.parentId],
    summary: summaryOf({
      groups: [change.parentId],
      courses: courseIds.slice(0, 3),
      names: { before: '', after: tidyName(change.name) },
      counts: { courses: courseIds.length, leaders: appointed.length, seats: seatsOf(change), codes: change.code ? 1 : 0 },
    }),
    async write(tx, writer) {
      const { id: groupId } = await oneRow<{ id: number }>(tx, sql`insert into groups default values returning id`);
      await writer.begin('group', [
        {
          group_id: groupId,
          parent_id: change.parentId,
          name: tidyName(change.name),
          name_key: nameKey(change.name),
          state: 'active',
          young_learners: false,
          first_day: change.firstDay,
          last_day: change.lastDay,
        },
      ]);
      const licences = await beginSeats(tx, writer, change, groupId, opens);
      await writer.begin(
        'grant',
        opens.map(({ about: named, courseIds: covered }, index) => {
          const licence = licences[index] ?? (paidBy?.courses.some((id) => covered.includes(id)) ? paidBy.id : null);
          return grantColumns(
            {
              id: 0,
              at: { group: groupId, withSubgroups: true },
              about: named,
              effect: 'open',
              firm: false,
              firstDay: null,
              lastDay: null,
              units: null,
              due: null,
              payers: licence === null ? null : { licences: [licence], others: false },
              makerBranch,
              madeDay: today,
            },
            actor.personId,
          );
        }),
      );
      if (change.code)
        await beginCode(
          tx,
          writer,
          { ...plainCode, groupIds: [groupId], asks: { ...plainCode.asks, email: isYoung ? 'no' : 'may' } },
          actor.personId,
        );
      const touched = await appoint(tx, writer, context, [{ groupId, leaders: appointed }]);
      return { ...touched, placed: [groupId], seats: change.seats.how !== 'none', entry: change.code };
    },
  };
};

const seatsOf = ({ seats }: MakeClient): number => (seats.how === 'own' ? seats.seats : seats.how === 'limit' ? seats.most : 0);

/** @throws ProblemError `not-found` when there is no such course or set, or nobody new gets into it. */
async function openingsOf({ db }: PlanContext, { opens }: MakeClient): Promise<Opening[]> {
  const sets = await coursesOfSets(
    db,
    opens.flatMap((each) => ('courseSetId' in each ? [each.courseSetId] : [])),
  );
  const names = await rows<{ id: number; isSet: boolean; name: string }>(
    db,
    sql`select id, false as "isSet", name from course_now where not archived and home_id is null union all select id, true, name from course_set_now`,
  );
  return opens.map((each): Opening => {
    const isSet = 'courseSetId' in each;
    const id = isSet ? each.courseSetId : each.courseId;
    const named = names.find((found) => found.isSet === isSet && found.id === id);
    if (!named) throw notFound();
    return {
      about: isSet ? { courseSet: id } : { course: id },
      name: named.name,
      courseIds: isSet ? (sets.get(id) ?? []) : [id],
    };
  });
}

/** The licence above whose seats are limited for the new group. @throws ProblemError `not-found` when it is not the actor's to limit there. */
async function licenceFor(
  { db, actor, tree }: PlanContext,
  { seats, parentId }: MakeClient,
  opens: readonly Opening[],
): Promise<{ id: number; courses: readonly number[] } | null> {
  if (seats.how === 'own' && (actor.role !== 'administrator' || opens.length === 0)) throw notFound();
  if (seats.how !== 'limit') return null;
  const licence = await maybeRow<{ id: number; home: number; courses: number[] }>(
    db,
    sql`
    select l.licence_id as id, l.group_id as home, to_jsonb(array(select course_id from licence_course c where c.licence_id = l.licence_id)) as courses
    from licence_now l where l.licence_id = ${seats.licenceId}`,
  );
  const path = tree.path(parentId);
  // Limits are set from above the group, and this one is to stand below the parent.
  if (!licence || !path.includes(licence.home) || !mayLimit(actor, [...path, 0])) throw notFound();
  if (!opens.some(({ courseIds }) => courseIds.some((id) => licence.courses.includes(id)))) throw notFound();
  return licence;
}

/** Licences of its own, one for each course or set, or a limit. @returns By opening, the licence of its own that pays. */
async function beginSeats(
  tx: Transaction,
  writer: ChangeWriter,
  { seats, name, lastDay, firstDay }: MakeClient,
  groupId: number,
  opens: readonly Opening[],
): Promise<number[]> {
  if (seats.how === 'limit') await writer.begin('seat limit', [{ licence_id: seats.licenceId, group_id: groupId, most: seats.most }]);
  const made: number[] = [];
  if (seats.how === 'own')
    for (const opening of opens)
      made.push(
        await beginLicence(tx, writer, {
          name: `${tidyName(name)}: ${opening.name}`,
          seats: seats.seats,
          about: opening.about,
          homeId: groupId,
          firstDay,
          lastDay,
          onLeaving: 'comes back if not begun',
          byHand: false,
        }),
      );
  return made;
}
