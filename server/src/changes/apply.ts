import { createHash } from 'node:crypto';
import type { Answer, LiveTopic, Look, Routes } from '@gate-roster/contract';
import {
  type Change,
  type CourseEffect,
  type Day,
  digestText,
  type Effects,
  isBlocked,
  type SeatOutcome,
  type Who,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { refreshEntitlements } from '../access/entitlements.ts';
import { planGrantAccess } from '../access/grant-access.ts';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { dropOthersSignIns, dropSignIns } from '../accounts/one-time.ts';
import { seenGroups } from '../accounts/reach.ts';
import { planHandOver } from '../accounts/hand-over.ts';
import { planSetLeaders } from '../accounts/set-leaders.ts';
import { planMakeCourses } from '../courses/make-courses.ts';
import { ids, maybeRow, oneRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { planBringInRoster } from '../entry/bring-in-roster.ts';
import { planDeleteCode, planEditCode, planMakeCode } from '../entry/change-codes.ts';
import { planDecideRequests } from '../entry/decide-requests.ts';
import { planInvitePeople, planSendInvitationsAgain, planTakeBackInvitation } from '../entry/change-invitations.ts';
import { refreshBranches } from '../groups/branches.ts';
import { planDeleteGroups } from '../groups/delete-groups.ts';
import { planEditGroup } from '../groups/edit-group.ts';
import { planMakeGroups } from '../groups/make-groups.ts';
import { planMoveGroups } from '../groups/move-groups.ts';
import { groupsInBranches, wholeTree } from '../groups/queries.ts';
import { planSetGroupState } from '../groups/set-group-state.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { planEditLetter } from '../letters/edit-letter.ts';
import { announce } from '../live/announce.ts';
import { planEditPerson } from '../people/edit-person.ts';
import { planErasePerson } from '../people/erase-person.ts';
import { planAddMembers, planMoveMembers, planRemoveMembers } from '../people/members.ts';
import { lockPeople, refreshSets } from '../people/membership-sets.ts';
import { planMergePeople } from '../people/merge-people.ts';
import { onlyGroups, seenPerson } from '../people/scope.ts';
import { planSetPersonState } from '../people/set-person-state.ts';
import { planEditTag, planMergeTags, planTagPeople } from '../people/tags.ts';
import { planEditLicence, planLimitSeats, planMakeLicence } from '../seats/change-licences.ts';
import { refreshStatus } from '../progress/status-after.ts';
import { lockLicences, settle, type Unsettled } from '../seats/settle.ts';
import { type LockMode, withRosterLock } from './roster-lock.ts';
import type { Plan, PlanContext, Planner, Summary, Touched } from './plan.ts';
import { deleteUnused, planUndo } from './undo.ts';
import { ChangeWriter, type Subject, type SubjectKind } from './writer.ts';

const planners: { [K in Change['kind']]: Planner<K> } = {
  'bring-in-roster': planBringInRoster,
  'grant-access': planGrantAccess,
  'add-members': planAddMembers,
  'remove-members': planRemoveMembers,
  'move-members': planMoveMembers,
  'make-groups': planMakeGroups,
  'edit-group': planEditGroup,
  'move-groups': planMoveGroups,
  'set-group-state': planSetGroupState,
  'delete-groups': planDeleteGroups,
  'tag-people': planTagPeople,
  'edit-tag': planEditTag,
  'merge-tags': planMergeTags,
  'edit-person': planEditPerson,
  'set-person-state': planSetPersonState,
  'merge-people': planMergePeople,
  'erase-person': planErasePerson,
  'set-leaders': planSetLeaders,
  'hand-over': planHandOver,
  'take-back-invitation': planTakeBackInvitation,
  'invite-people': planInvitePeople,
  'send-invitations-again': planSendInvitationsAgain,
  'make-code': planMakeCode,
  'edit-code': planEditCode,
  'delete-code': planDeleteCode,
  'decide-requests': planDecideRequests,
  'edit-letter': planEditLetter,
  'make-courses': planMakeCourses,
  'make-licence': planMakeLicence,
  'edit-licence': planEditLicence,
  'limit-seats': planLimitSeats,
  undo: planUndo,
};

/** Works a change out without doing it. */
export async function planChange(
  db: Queryable,
  actor: SignedIn,
  change: Change,
  publicUrl: string,
  told?: PlanContext['told'],
): Promise<Plan> {
  const own =
    actor.role === 'administrator'
      ? null
      : await groupsInBranches(
          db,
          actor.leaderships.map(({ groupId }) => groupId),
        );
  const seen = own && ((groupId: number) => own.has(groupId));
  const context: PlanContext = { db, actor, today: actor.today, tree: await wholeTree(db), seen, publicUrl, told };
  return (planners[change.kind] as Planner<Change['kind']>)(context, change);
}

/**
 * Applies a change whose effects were seen.
 * The same request id twice is one change; the second call gets the first one's answer.
 * @throws ProblemError `effects-differ` with the new look when the digest no longer fits; `blocked` when something stands in the way.
 */
export async function applyChange(
  { db, settings, now }: Pick<Deps, 'db' | 'settings' | 'now'>,
  actorId: number,
  change: Change,
  seen: { digest: string; requestId: string; told?: PlanContext['told'] },
): Promise<Answer<Routes['apply']>> {
  const apply = (mode: LockMode): Promise<Answer<Routes['apply']>> =>
    withRosterLock(db, mode, async (tx) => {
      // Who acts, and which day it is, is asked under the lock: both may be minutes old behind a file.
      const actor = await maybeActor(tx, actorId, now());
      if (!actor) throw new ProblemError('not-signed-in');
      return applyIn(tx, actor, change, { ...seen, publicUrl: settings.publicUrl, mode });
    });
  const mode = lockFor(change);
  if (mode === 'alone') return apply(mode);
  return apply(mode).catch((error: unknown) => {
    if (error instanceof NotOnlyAdding) return apply('alone');
    throw error;
  });
}

/** A change that looked as if it only added does more, and has to be alone. */
class NotOnlyAdding extends Error {}

const mostAtOnce = 20;

/** How a change holds the lock, as far as it can be told from what is asked; its plan may say that it has to be alone. */
function lockFor(change: Change): LockMode {
  switch (change.kind) {
    case 'add-members':
      return change.personIds.length <= mostAtOnce ? 'shared' : 'alone';
    case 'decide-requests':
      return change.decision === 'let in' && change.asPerson === null && change.requestIds.length <= mostAtOnce ? 'shared' : 'alone';
    case 'bring-in-roster':
      return change.mode === 'replace' ? 'alone' : change.fileId === undefined && change.rows.length <= mostAtOnce ? 'shared' : 'long';
    default:
      return 'alone';
  }
}

async function applyIn(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  {
    digest,
    requestId,
    publicUrl,
    told,
    mode,
  }: { digest: string; requestId: string; publicUrl: string; told?: PlanContext['told']; mode: LockMode },
): Promise<Answer<Routes['apply']>> {
  const earlier = await maybeRow<{ id: number; kind: string; actor_id: number | null; counts: { gained?: number; newPeople?: number } }>(
    tx,
    sql`
      select id, kind, actor_id, summary -> 'counts' as counts from change_log where request_id = ${requestId}`,
  );
  if (earlier) {
    if (earlier.actor_id !== actor.personId || earlier.kind !== change.kind) throw new ProblemError('request-id-reused');
    return { changeId: earlier.id, gained: earlier.counts.gained ?? 0, newPeople: earlier.counts.newPeople ?? 0 };
  }
  if (change.kind === 'add-members') await lockPeople(tx, change.personIds);
  let plan = await planChange(tx, actor, change, publicUrl, told);
  if (mode !== 'alone') {
    if (plan.onlyAdds !== true) throw new NotOnlyAdding();
    // Others may take seats in this moment: where seats are a matter, they are counted again with the licences locked.
    if (plan.effects.seats.needed > 0 && (await lockLicences(tx))) plan = await planChange(tx, actor, change, publicUrl, told);
  }
  const seen = await lookOf(tx, actor, plan.effects);
  if (isBlocked(plan.effects)) throw new ProblemError('blocked', { look: seen });
  if (seen.digest !== digest) throw new ProblemError('effects-differ', { look: seen });
  return write(tx, actor, change, plan, seen, { requestId, mode });
}

async function write(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  plan: Plan,
  seen: Look,
  { requestId, mode }: { requestId: string; mode: LockMode },
): Promise<Answer<Routes['apply']>> {
  const summary = { ...plan.summary, counts: { ...plan.summary.counts, gained: seen.gaining, lost: seen.losing } };
  const changeId = await recordChange(
    tx,
    actor,
    { requestId, mode, kind: change.kind, undoOf: change.kind === 'undo' ? change.changeId : null, summary, groups: plan.groups },
    plan.write,
  );
  return { changeId, gained: seen.gaining, newPeople: seen.newPeople };
}

/**
 * Writes a change with everything that follows from it: its subjects, what is derived, the log, and word to those it concerns.
 * The transaction holds the roster lock, in the mode that is given.
 */
export async function recordChange(
  tx: Transaction,
  by: { personId: number | null; today: Day },
  entry: {
    requestId: string;
    mode: LockMode;
    kind: string;
    undoOf: number | null;
    summary: Summary;
    groups: readonly number[];
  },
  write: Plan['write'],
): Promise<number> {
  const { id: changeId } = await oneRow<{ id: number }>(
    tx,
    sql`
    insert into change_log (request_id, kind, actor_id, summary, undo_of)
    values (${entry.requestId}, ${entry.kind}, ${by.personId}, ${JSON.stringify(entry.summary)}::jsonb, ${entry.undoOf}) returning id`,
  );
  const writer = new ChangeWriter(tx, changeId);
  const touched = await write(tx, writer);
  const subjects = await writer.finish();
  if (entry.mode !== 'alone') checkOnlyAdds(entry.kind, subjects);
  // Who begins to lead, or comes into a group of others, is no longer only theirs who could make a card or link for the account.
  await dropSignIns(
    tx,
    subjects.flatMap(({ kind, after_row, person_id }) => (kind === 'leadership' && after_row !== null ? (person_id ?? []) : [])),
    { butNew: true },
  );
  await dropOthersSignIns(
    tx,
    subjects.flatMap(({ kind, after_row }) => (kind === 'membership' ? (after_row ?? []) : [])),
  );
  const groups = new Set([...entry.groups, ...subjects.flatMap(({ group_id }) => group_id ?? [])]);
  // Who leads where a group was hears of it too: afterwards it may be gone or elsewhere.
  const above = (
    await rows<{ id: number }>(
      tx,
      sql`select distinct ancestor_id as id from group_branch where group_id = any(${ids(touched.placed ?? [])}) and depth = 1`,
    )
  ).map(({ id }) => id);
  const { seats, count } = await bringUpToDate(tx, by.today, touched, [...groups], { changeId, undoOf: entry.undoOf, mode: entry.mode });
  if (seats) await noteSeats(tx, changeId, seats, touched.seats === true);
  await tx.execute(sql`insert into change_group (change_id, group_id) select ${changeId}, unnest(${ids(groups)})`);
  await announce(tx, { topics: topicsOf(touched), groups: [...groups, ...above] });
  for (const personId of new Set(touched.sessions)) await announce(tx, { topics: ['session'], groups: [], personId });
  await touched.last?.();
  await count();
  return changeId;
}

/** Kinds of rows that may begin while others change the roster too; a request or invitation that is answered also ends. */
const beginsShared: ReadonlySet<SubjectKind> = new Set([
  'membership',
  'person',
  'personal',
  'person state',
  'person tag',
  'tag',
  'join request',
  'invitation',
]);
const endsShared: ReadonlySet<SubjectKind> = new Set(['join request', 'invitation', 'person state', 'personal']);

/** @throws Error when a change that shares the lock did more than add: that is a mistake of ours, and nothing is written. */
function checkOnlyAdds(kind: string, subjects: readonly Subject[]): void {
  const wrong = subjects.find(
    (subject) => !beginsShared.has(subject.kind) || (subject.before_row !== null && !endsShared.has(subject.kind)),
  );
  if (wrong) throw new Error(`${kind} shares the roster lock and wrote a row of the kind ${wrong.kind}`);
}

/** Everything that is derived, in the same transaction. */
async function bringUpToDate(
  tx: Transaction,
  today: Day,
  touched: Touched,
  groups: readonly number[],
  by: Pick<Unsettled, 'changeId' | 'undoOf' | 'mode'>,
): Promise<{ seats: SeatOutcome | null; count: () => Promise<void> }> {
  let count = (): Promise<void> => Promise.resolve();
  const { people = [], courses = [], placed = [], branches = [], unused = [] } = touched;
  if (placed.length > 0) await refreshBranches(tx, placed);
  const below = await rows<{ person_id: number }>(
    tx,
    sql`
    select distinct m.person_id from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = any(${ids(branches)}) and m.until_at is null`,
  );
  const concerned = new Set([...people, ...below.map(({ person_id }) => person_id)]);
  if (concerned.size > 0) {
    const refreshed = await refreshSets(tx, [...concerned], today);
    const { newSets, ownPeople } = refreshed;
    count = refreshed.count;
    // A group that comes back finds the sets of those who were in it, with nothing kept for them.
    const sets = await setsOf(tx, [...branches, ...placed]);
    await refreshEntitlements(tx, { sets: [...new Set([...newSets, ...sets])], persons: ownPeople, courses: 'all' });
  }
  // A statement at a group reaches nobody but its branch.
  const told = courses.length > 0 ? await setsOf(tx, groups) : [];
  if (courses.length > 0) await refreshEntitlements(tx, { sets: told, persons: 'all', courses });
  const sets = [...told, ...(await setsOf(tx, [...branches, ...placed]))];
  if (concerned.size + sets.length + courses.length > 0)
    await refreshStatus(
      tx,
      today,
      sql`(p.id = any(${ids(concerned)}) or p.set_id = any(${ids(sets)}) or (p.own_windows and e.course_id = any(${ids(courses)})))`,
    );
  const room = touched.seats === true || placed.length + branches.length > 0;
  const isOtherwise = room || concerned.size + courses.length > 0;
  const seats = isOtherwise && (await settle(tx, today, { ...by, people: [...concerned], courses, room, fileRows: touched.fileRows }));
  await deleteUnused(tx, unused);
  return { seats: seats || null, count };
}

/** The log tells what became of seats, too; not of a seat that went on to somebody in line, who may be anybody. */
async function noteSeats(
  tx: Transaction,
  changeId: number,
  { begin, end, queue, unqueue }: SeatOutcome,
  isAboutSeats: boolean,
): Promise<void> {
  const waited = new Set(unqueue.map(({ key, courseId }) => `${key}/${courseId}`));
  const given = begin.filter(({ key, courseId }) => isAboutSeats || !waited.has(`${key}/${courseId}`));
  const counts = { seatsGiven: given.length, seatsBack: end.length, inLine: queue.length };
  if (given.length + end.length + queue.length > 0)
    await tx.execute(
      sql`update change_log set summary = jsonb_set(summary, '{counts}', (summary -> 'counts') || ${JSON.stringify(counts)}::jsonb) where id = ${changeId}`,
    );
}

async function setsOf(tx: Transaction, branches: readonly number[]): Promise<number[]> {
  const found = await rows<{ set_id: number }>(
    tx,
    sql`select distinct set_id from set_in_branch where ancestor_id = any(${ids(branches)})`,
  );
  return found.map(({ set_id }) => set_id);
}

function topicsOf({ people = [], courses = [], placed = [], branches = [], entry = false }: Touched): LiveTopic[] {
  const ways: LiveTopic[] = entry ? ['entry'] : [];
  if (people.length + placed.length + branches.length > 0) return ['people', 'access', 'progress', 'groups', ...ways];
  return courses.length > 0 ? ['access', 'progress', 'groups', ...ways] : ['groups', 'people', ...ways];
}

/** Counted people for whom the windows of these sets speak. */
export async function peopleOfSets(db: Queryable, sets: readonly number[]): Promise<number[]> {
  if (sets.length === 0) return [];
  return (
    await rows<{ id: number }>(db, sql`select id from person where set_id = any(${ids(sets)}) and counted and not own_windows order by id`)
  ).map(({ id }) => id);
}

/** Effects as they go over the wire: numbers, names of courses and groups, and the digest that stands for them. */
export async function lookOf(db: Queryable, actor: SignedIn, effects: Effects): Promise<Look> {
  const losing = [...effects.loses.map(({ who }) => who), ...effects.leaves.map(({ who }) => who), ...effects.joins.map(({ who }) => who)];
  const setsOfLosers = [...new Set(losing.flatMap(({ sets }) => sets))];
  const bySet = new Map<number, number[]>(setsOfLosers.map((set) => [set, []]));
  for (const { id, set_id } of await rows<{ id: number; set_id: number }>(
    db,
    sql`select id, set_id from person where set_id = any(${ids(setsOfLosers)}) and counted and not own_windows`,
  ))
    bySet.get(set_id)?.push(id);
  const text = digestText(effects, (sets) => sets.flatMap((set) => bySet.get(set) ?? []));

  const courseIds = [...effects.gains, ...effects.loses, ...effects.still, ...effects.becomeDone, ...effects.noLongerDone].map(
    ({ courseId }) => courseId,
  );
  const groupIds = [...effects.joins, ...effects.leaves].map(({ groupId }) => groupId);
  const courses = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from course where id = any(${ids(courseIds)})`)).map(
      ({ id, name }) => [id, name],
    ),
  );
  const groups = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`
    select g.id, case when p.parent_id is null then '' else p.name || ' › ' end || g.name as name from group_now g left join group_now p on p.id = g.parent_id where g.id = any(${ids(groupIds)})`,
      )
    )
      .concat(effects.newGroups)
      .map(({ id, name }) => [id, name]),
  );
  const named = ({ courseId, day, people }: CourseEffect): Look['gains'][number] => ({
    courseId,
    course: courses.get(courseId) ?? '',
    day,
    people,
  });
  const onGroup = ({ groupId, people }: Effects['joins'][number]): Look['joins'][number] => ({
    groupId,
    group: groups.get(groupId) ?? '',
    people,
  });
  return {
    digest: createHash('sha256').update(text).digest('base64url'),
    gains: effects.gains.map(named),
    loses: effects.loses.map(named),
    still: effects.still.map(named),
    becomeDone: effects.becomeDone.map(named),
    noLongerDone: effects.noLongerDone.map(named),
    gaining: await distinctPeople(db, effects, effects.gains),
    losing: await distinctPeople(db, effects, effects.loses),
    joins: effects.joins.map(onGroup),
    leaves: effects.leaves.map(onGroup),
    newPeople: effects.newPeople,
    changedPeople: effects.changedPeople.length,
    takenBack: effects.takenBack.length,
    rows: effects.rows,
    rowCounts: effects.rowCounts,
    conflicts: await Promise.all(
      effects.conflicts.map(async ({ code, blocks, count, people = [], groups: about = [], names = [] }) => ({
        code,
        blocks,
        count,
        about: [...names.slice(0, namedAtMost), ...(await namesAbout(db, actor, people, about))],
      })),
    ),
    groups: effects.groups,
    seats: {
      day: effects.seats.day,
      needed: effects.seats.needed,
      free: effects.seats.free,
      fromLine: new Set(effects.seats.fromLine).size,
      ended: effects.seats.ended.length,
      moved: effects.seats.moved.length,
      inLine: new Set(effects.seats.line.map(({ key }) => key)).size,
      rows: effects.seats.line.flatMap(({ row }) => (row > 0 ? [row] : [])).slice(0, rowsShown),
    },
    letters: effects.letters,
    confirming: effects.confirming,
  };
}

const namedAtMost = 4;
/** Rows that would stand in line are worth naming so far. */
const rowsShown = 10_000;

/** Some names of what a conflict is about, as far as the actor may know them. */
async function namesAbout(db: Queryable, actor: SignedIn, people: readonly number[], groups: readonly number[]): Promise<string[]> {
  if (people.length + groups.length === 0) return [];
  const own = await seenGroups(db, actor);
  const found = await rows<{ name: string }>(
    db,
    sql`
    (select n.given_name || ' ' || n.family_name as name from personal_now n join person p on p.id = n.person_id
      where p.erased_at is null and p.id = any(${ids(people)}) and ${seenPerson(actor, sql`p.id`)} order by n.family_name collate people_order limit ${namedAtMost})
    union all (select name from group_now where id = any(${ids(groups)}) and ${onlyGroups(sql`id`, own)} order by name collate people_order limit ${namedAtMost})`,
  );
  return found.map(({ name }) => name).slice(0, namedAtMost);
}

async function distinctPeople(db: Queryable, effects: Effects, list: readonly { who: Who }[]): Promise<number> {
  const distinct = <K extends keyof Who>(part: K): number[] => [...new Set(list.flatMap(({ who }) => who[part]))];
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`select coalesce(sum(counted_alike), 0)::int as people from membership_set where id = any(${ids(distinct('sets'))})`,
  );
  return people + distinct('persons').length + distinct('newcomers').reduce((sum, index) => sum + (effects.newcomers[index] ?? 0), 0);
}
