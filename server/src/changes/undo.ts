import { addDays, addTo, isBlocked, lookAtGrants, noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { exceptedPairs, exceptionsTurned } from '../access/undo-exceptions.ts';
import { coursesOfGrants, endedGrants, grantsByCourse, learnerClasses, type PersonLearner } from '../access/load-rules.ts';
import { courseShift, turnedCourses } from '../courses/undo-courses.ts';
import { ids, isAmong, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { membersBelow } from '../groups/branches.ts';
import { hasNextBegun } from '../periods/read-period.ts';
import { partColumns } from '../people/join-columns.ts';
import { partProgress } from '../people/merge-people.ts';
import { keyOf, notTheirs } from './may-undo.ts';
import { type PlanContext, type Planner, summaryOf, type Touched } from './plan.ts';
import { wordsBefore } from '../seats/hand-out-seats.ts';
import { movesBack } from '../seats/move-seats.ts';
import { placesBefore } from '../seats/arrange-line.ts';
import { coursesOfLicences, licencesOf, seatsWith } from '../seats/change-licences.ts';
import { seatsOfGrants, type Undone } from '../seats/seats-of-look.ts';
import { seatsOfChanges } from '../seats/settle.ts';
import { accessOfShift, type ShiftEffects, withStatus } from './shift.ts';
import { type Restoring, stillAsLeft } from './still-as-left.ts';
import { splitsTurned } from '../splits/splits-turned.ts';
import { marksTurned, refoldMarks } from '../work/mark-work.ts';
import { erasedPeople, subjectsOf, undoneChanges } from './undone-changes.ts';
import { membershipsOf, statesBefore } from './undo-people.ts';
import { rowKinds, type RowKind } from './kept-rows.ts';
import type { ChangeWriter, Subject, SubjectKind } from './writer.ts';

/**
 * The inverse of a change, and of what rules did because of it as far as that is wanted: what they began ends, what they ended
 * begins again. Only what still is as they left it; the rest is counted as a conflict and stays.
 */
export const planUndo: Planner<'undo'> = async (context, change) => {
  const { db, actor } = context;
  const { changeId } = change;
  const { made, acts, isJoin } = await undoneChanges(context, change);
  const changeIds = [changeId, ...acts.map(({ id }) => id)];
  const all = await subjectsOf(context, changeIds);
  const denied = isJoin ? [] : await notTheirs(context, all);
  const subjects = all.filter((subject) => !denied.includes(subject));
  const erased = await erasedPeople(context, subjects);
  const shift = await stillAsLeft(
    context,
    subjects.filter(({ person_id }) => person_id === null || !erased.has(person_id)),
  );
  const { restorable } = shift;
  const effects = { ...noEffects(), isUndo: true };
  const isOver = made.undone_by !== null || addDays(made.made_day, actor.undoDays) < context.today || all.length === 0;
  if (isOver)
    effects.conflicts.push({ code: made.undone_by === null && all.length > 0 ? 'too old' : 'nothing to do', blocks: true, count: 1 });
  const gone = subjects.filter(({ person_id }) => person_id !== null && erased.has(person_id)).length;
  const kept = new Set(restorable.map(keyOf));
  const left = subjects.filter((subject) => !kept.has(keyOf(subject)) && !(subject.person_id !== null && erased.has(subject.person_id)));
  if (!isOver && (await hasNextBegun(db, changeId))) effects.conflicts.push({ code: 'next has begun', blocks: true, count: 1 });
  if (gone > 0 && !isOver) effects.conflicts.push({ code: 'erased', blocks: restorable.length === 0, count: erased.size });
  // What is not theirs to do any more counts as changed too, and is not named.
  if (left.length + denied.length > 0 && !isOver)
    effects.conflicts.push({
      code: 'changed since',
      blocks: restorable.length === 0,
      count: left.length + denied.length,
      people: [...new Set(left.flatMap(({ person_id }) => person_id ?? []))],
      groups: [...new Set(left.flatMap(({ person_id, group_id }) => (person_id === null ? (group_id ?? []) : [])))],
    });
  if (!isBlocked(effects)) Object.assign(effects, await effectsOf(context, changeIds, shift));
  effects.takenBack = restorable.flatMap(({ kind, after_row }) => (kind === 'person' && after_row !== null ? [after_row] : []));
  effects.changedPeople = [
    ...new Set(
      restorable.flatMap(({ kind, person_id }) =>
        ['personal', 'person tag', 'person state'].includes(kind) && person_id !== null ? [person_id] : [],
      ),
    ),
  ];

  const groups = await db
    .selectDistinct({ group_id: tables.changeGroup.groupId })
    .from(tables.changeGroup)
    .where(isAmong(tables.changeGroup.changeId, changeIds));
  return {
    effects,
    groups: groups.map(({ group_id }) => group_id),
    summary: summaryOf({
      groups: made.summary.groups,
      courses: made.summary.courses,
      counts: { restored: restorable.length, left: left.length + denied.length + gone, ...(acts.length > 0 ? { acts: acts.length } : {}) },
      undid: made.kind,
      ...(acts.length > 0 ? { undidActs: [...new Set(acts.map(({ kind }) => kind))] } : {}),
    }),
    write: (tx, writer) => write(tx, writer, context, changeIds, shift),
  };
};

async function effectsOf(context: PlanContext, changeIds: readonly number[], { restorable, after }: Restoring): Promise<object> {
  const of = (kind: SubjectKind): Subject[] => restorable.filter((subject) => subject.kind === kind);
  const groups = of('group');
  const members = of('membership');
  const ends = members.filter(({ after_row }) => after_row !== null);
  const begins = members.filter(({ before_row }) => before_row !== null);
  const byGroup = (list: readonly Subject[]) => {
    const found = new Map<number, number[]>();
    for (const { group_id, person_id } of list) if (group_id !== null && person_id !== null) addTo(found, group_id, person_id);
    return [...found].map(([groupId, persons]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: persons.length }));
  };
  const gone = groups.filter(({ before_row, after_row }) => before_row === null && after_row !== null).length;
  const back = groups.filter(({ before_row, after_row }) => before_row !== null && after_row === null).length;
  const access = await accessOf(context, changeIds, { restorable, after });
  const turned = await exceptionsTurned(context, restorable);
  const marked = await marksTurned(context, restorable);
  const divided = await splitsTurned(context, restorable);
  return {
    ...access,
    ...divided,
    becomeDone: [...(access.becomeDone ?? []), ...turned.becomeDone, ...marked.becomeDone],
    noLongerDone: [...(access.noLongerDone ?? []), ...turned.noLongerDone, ...marked.noLongerDone],
    excepted: turned.excepted,
    reordered: await placesBefore(context, turningRows(restorable, 'seat line').begin),
    leaves: byGroup(ends),
    joins: byGroup(begins),
    groups: { made: 0, moved: groups.length - gone - back, gone, back },
  };
}

async function accessOf(
  context: PlanContext,
  changeIds: readonly number[],
  { restorable, after }: Restoring,
): Promise<Partial<ShiftEffects>> {
  const { db, tree, seen, today } = context;
  const grants = restorable.filter(({ kind }) => kind === 'grant');
  const others = restorable.some(({ kind }) =>
    ['group', 'membership', 'person state', 'person', 'enrolment', 'course', 'unit', 'activity', 'course set item', 'seat word'].includes(
      kind,
    ),
  );
  const end = grants.flatMap(({ after_row }) => after_row ?? []);
  const begin = await endedGrants(
    db,
    grants.flatMap(({ before_row }) => before_row ?? []),
  );
  const seats = {
    rows: { licence: turningRows(restorable, 'licence'), limit: turningRows(restorable, 'seat limit') },
    words: await wordsBefore(db, turningRows(restorable, 'seat word')),
    moves: await movesBack(
      db,
      restorable.filter(({ kind }) => kind === 'seat'),
    ),
  };
  const courses = await courseShift(db, restorable);
  if (restorable.every(({ kind }) => ['licence', 'seat limit', 'seat'].includes(kind))) return { seats: await seatsWith(context, seats) };
  const tops = [...new Set(grants.flatMap(({ group_id }) => group_id ?? []))];
  const ofPeople = grants.flatMap(({ person_id }) => person_id ?? []);
  if (grants.length > 0 && ofPeople.length === 0 && !others) {
    const about = await grantsByCourse(db, await coursesOfGrants(db, bothRows(grants)));
    const classes = await learnerClasses(db, tops, seen);
    return {
      ...(await withStatus(db, lookAtGrants(tree, about, classes, { end, begin }, today))),
      seats: await seatsOfGrants(context, classes, { end, begin }),
    };
  }
  const members = restorable.filter(({ kind }) => kind === 'membership');
  const states = await statesBefore(context, restorable);
  const ending = new Set(members.flatMap(({ after_row, person_id, group_id }) => (after_row === null ? [] : [`${person_id}/${group_id}`])));
  const beginning = new Map<number, PersonLearner['memberships'][number][]>();
  for (const { personId, ...held } of await membershipsOf(context, turningRows(restorable, 'membership').begin))
    addTo(beginning, personId, held);
  const takenBack = new Set(restorable.flatMap(({ kind, after_row }) => (kind === 'person' && after_row !== null ? [after_row] : [])));
  const work = restorable.filter(({ kind }) => kind === 'enrolment');
  const changed = restorable.flatMap(({ kind, group_id }) => (kind === 'group' && group_id !== null ? [group_id] : []));
  const handed = restorable.flatMap(({ kind, person_id }) => (kind === 'seat word' ? (person_id ?? []) : []));
  const persons = [
    ...new Set([...members.flatMap(({ person_id }) => person_id ?? []), ...states.keys(), ...takenBack, ...ofPeople, ...handed]),
  ];
  return accessOfShift(context, {
    ...courses,
    tree: after,
    // Where a group goes or comes, what hangs on it stands elsewhere before or afterwards.
    branches: [...new Set([...changed, ...tops])].filter((id) => tree.has(id)),
    grants: { end, begin },
    seats,
    undone: {
      seats: await seatsOfChanges(db, changeIds),
      // Everyone whose place the change altered only gets back what they had, also those in a branch that moves back.
      first: [
        ...new Set([
          ...persons,
          ...work.flatMap(({ person_id }) => person_id ?? []),
          ...(await membersBelow(
            db,
            changed.filter((id) => after.has(id)),
          )),
        ]),
      ],
      begun: await begunWithout(context, work),
    },
    people: {
      personIds: [...new Set([...persons, ...(courses.people?.personIds ?? [])])],
      afterwards: (person) => ({
        ...(courses.people?.afterwards(person) ?? person),
        ...states.get(person.personId),
        ...(takenBack.has(person.personId) ? { active: false, ended: true, firstDay: null, lastDay: null } : {}),
        memberships: [
          ...person.memberships.filter(({ groupId }) => !ending.has(`${person.personId}/${groupId}`)),
          ...(beginning.get(person.personId) ?? []),
        ],
      }),
    },
  });
}

const turningRows = (subjects: readonly Subject[], wanted: RowKind): { end: number[]; begin: number[] } => {
  const list = subjects.filter(({ kind }) => kind === wanted);
  return { end: list.flatMap(({ after_row }) => after_row ?? []), begin: list.flatMap(({ before_row }) => before_row ?? []) };
};

const bothRows = (subjects: readonly Subject[]): number[] =>
  subjects.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat());

/** Work that a merge moved goes back to whom it was: who then has begun which course, and who has not. */
async function begunWithout({ db }: PlanContext, work: readonly Subject[]): Promise<Undone['begun']> {
  const before = new Map(
    work.flatMap(({ after_row, before: was }) => (after_row === null ? [] : [[after_row, (was as { person: number }).person]])),
  );
  const found = await rows<{ id: number; person_id: number; course_id: number; status: string }>(
    db,
    sql`
    select e.id, e.person_id, e.course_id, e.status from enrolment e
    where (e.person_id, e.course_id) in (select person_id, course_id from enrolment where id = any(${ids(before.keys())}))`,
  );
  const begun = found.filter(({ status }) => status !== 'not begun');
  const owner = ({ id, person_id }: { id: number; person_id: number }): number => before.get(id) ?? person_id;
  const has = (personId: number, courseId: number): boolean =>
    begun.some((each) => owner(each) === personId && each.course_id === courseId);
  return begun.flatMap((each) =>
    [each.person_id, owner(each)].map((personId) => ({ personId, courseId: each.course_id, has: has(personId, each.course_id) })),
  );
}

async function write(
  tx: Transaction,
  writer: ChangeWriter,
  context: PlanContext,
  changeIds: readonly number[],
  { restorable, after }: Restoring,
): Promise<Touched> {
  const of = (kind: SubjectKind): Subject[] => restorable.filter((subject) => subject.kind === kind);
  const rowsOf = (kind: SubjectKind, which: 'before_row' | 'after_row'): number[] => of(kind).flatMap((subject) => subject[which] ?? []);
  // Everything ends before anything begins again.
  for (const kind of rowKinds) await writer.end(kind, rowsOf(kind, 'after_row'));
  await partProgress(tx, of('enrolment'));
  await partColumns(tx, changeIds);
  for (const kind of rowKinds) await writer.restore(kind, rowsOf(kind, 'before_row'));

  const unused = rowsOf('person', 'after_row');
  await endAccounts(tx, writer, unused);
  const courses = [...(await coursesOfGrants(tx, bothRows(of('grant')))), ...(await coursesOfLicences(tx, bothRows(of('licence'))))];
  await tx.execute(
    sql`update change_log set undone_by = (select id from change_log where undo_of = ${changeIds[0]} order by id desc limit 1) where id = any(${ids(changeIds)})`,
  );
  const groups = of('group').flatMap(({ group_id }) => group_id ?? []);
  const peopleOf = (...kinds: SubjectKind[]): number[] => kinds.flatMap((kind) => of(kind).flatMap(({ person_id }) => person_id ?? []));
  const turned = await turnedCourses(tx, restorable);
  return {
    people: [
      ...new Set([...peopleOf('membership', 'person state', 'enrolment', 'grant', 'exception', 'seat word'), ...unused, ...turned.people]),
    ],
    excepted: await exceptedPairs(tx, bothRows(of('exception'))),
    courses: [...new Set(courses)],
    everywhere: turned.everywhere,
    redefined: turned.redefined,
    placed: groups,
    branches: groups.filter((id) => after.has(id) && context.tree.has(id)),
    licences: await licencesOf(tx, bothRows(of('licence'))),
    seated: peopleOf('seat', 'seat word', 'seat line'),
    seats: [...of('licence'), ...of('seat limit'), ...of('seat word'), ...of('seat line'), ...of('seat')].length > 0,
    progressed: [...(await refoldMarks(tx, context, of('mark'))), ...peopleOf('certificate')],
    messages: [...of('message'), ...of('reminder'), ...of('member stream')].length > 0,
    rules: of('rule').length > 0,
    splits: [...of('split'), ...of('split member')].length > 0,
    sessions: peopleOf('leadership', 'person state'),
    unused,
  };
}

/** People whom a change made are ended; `deleteUnused` then takes those off the platform on whom nothing hangs. */
async function endAccounts(tx: Transaction, writer: ChangeWriter, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  await tx.execute(
    sql`update person_state set until_at = greatest(now(), from_at) where person_id = any(${ids(people)}) and until_at is null`,
  );
  await tx.execute(sql`insert into person_state (person_id, state) select id, 'ended' from unnest(${ids(people)}) id`);
  for (const id of people) writer.note('person', { before_row: id, person_id: id });
}
