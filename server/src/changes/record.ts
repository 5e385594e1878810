import type { LiveTopic } from '@gate-roster/contract';
import type { Day, SeatOutcome } from '@gate-roster/core';
import { and, eq, gt, sql } from 'drizzle-orm';
import type { ChangedAccess } from '../access/entitlement-rows.ts';
import { refreshEntitlements } from '../access/entitlements.ts';
import { refreshExceptions } from '../access/exceptions.ts';
import { inheritedCourses } from '../access/inherited-courses.ts';
import { dropOthersSignIns, dropSignIns } from '../accounts/sign-ins.ts';
import { ids, isAmong, oneRow, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { membersBelow, refreshBranches, setsInBranches } from '../groups/branches.ts';
import { wholeTree } from '../groups/queries.ts';
import { announceAll } from '../live/announce.ts';
import { deleteUnused } from '../people/delete-unused.ts';
import { dropEmptySets, refreshSets } from '../people/membership-sets.ts';
import { markLearnersOf } from '../progress/standings.ts';
import { refreshStatus, rescore, whoseStatus } from '../progress/status-after.ts';
import { noteForRules, type RuleEvent } from '../rules/note-events.ts';
import { settle, type Unsettled } from '../seats/settle.ts';
import type { Plan, Summary, Touched } from './plan.ts';
import type { LockMode } from './roster-lock.ts';
import { ChangeWriter, type Subject, type SubjectKind } from './writer.ts';

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
    /** The change that it undoes, and the acts of rules with it. */
    undoOf: readonly number[];
    summary: Summary;
    groups: readonly number[];
    /** The automatic rule that makes it, and how many acts of rules it follows from. */
    rule?: { id: number; depth: number } | undefined;
  },
  write: Plan['write'],
): Promise<number> {
  const { id: changeId } = await oneRow<{ id: number }>(
    tx,
    sql`
    insert into change_log (request_id, kind, actor_id, summary, undo_of, rule_id)
    values (${entry.requestId}, ${entry.kind}, ${by.personId}, ${JSON.stringify(entry.summary)}::jsonb, ${entry.undoOf[0] ?? null}::bigint, ${entry.rule?.id ?? null}::bigint) returning id`,
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
  // Leaders of the place where a group was are told too: afterwards it may be gone or elsewhere.
  const above = await parentsOf(tx, touched.placed ?? []);
  const { seats, count } = await bringUpToDate(tx, by.today, touched, [...groups], { changeId, undoOf: entry.undoOf, mode: entry.mode });
  if (seats) await noteSeats(tx, changeId, seats, touched.seats === true);
  await tx.execute(sql`insert into change_group (change_id, group_id) select ${changeId}, unnest(${ids(groups)})`);
  await noteForRules(tx, eventsOf(touched, subjects, [...groups]), {
    depth: entry.rule?.depth ?? 0,
    isQuiet: entry.undoOf.length > 0,
    changeId,
  });
  const toEach = (topic: LiveTopic, people: Iterable<number> = []) =>
    [...new Set(people)].map((personId) => ({ topics: [topic], groups: [], personId }));
  await announceAll(tx, [
    { topics: topicsOf(touched), groups: [...groups, ...above] },
    ...toEach('progress', touched.progressed),
    ...toEach('session', touched.sessions),
  ]);
  await touched.last?.();
  await count();
  return changeId;
}

/** Kinds of rows that say where somebody is and what they have. */
const aboutPeople: ReadonlySet<SubjectKind> = new Set(['membership', 'person tag', 'person state', 'person']);

/** What of a change may set automatic rules off. */
function eventsOf(touched: Touched, subjects: readonly Subject[], groups: readonly number[]): RuleEvent[] {
  const moved = new Set([
    ...(touched.people ?? []),
    ...subjects.flatMap(({ kind, person_id }) => (aboutPeople.has(kind) ? (person_id ?? []) : [])),
  ]);
  const isForAll = [...(touched.everywhere ?? []), ...(touched.redefined ?? [])].length > 0;
  const branches = [...new Set([...(touched.branches ?? []), ...(touched.placed ?? [])])];
  return [
    ...[...moved].map((personId) => ({ personId, what: 'people' as const })),
    ...[...new Set([...(touched.excepted ?? []).map(({ personId }) => personId), ...(touched.progressed ?? [])])].map((personId) => ({
      personId,
      what: 'progress' as const,
    })),
    ...branches.map((groupId) => ({ groupId, what: 'people' as const })),
    ...(isForAll
      ? [{ what: 'access' as const }]
      : (touched.courses ?? []).length > 0
        ? groups.map((groupId) => ({ groupId, what: 'access' as const }))
        : []),
  ];
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
  'course request',
  'invitation',
  'mark',
]);
const endsShared: ReadonlySet<SubjectKind> = new Set(['join request', 'course request', 'invitation', 'person state', 'personal', 'mark']);

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
  let changed: ChangedAccess[] = [];
  const { people = [], courses: here = [], everywhere = [], redefined = [], placed = [], branches = [], unused = [] } = touched;
  const courses = [...new Set([...here, ...everywhere, ...redefined])];
  const wasBelow = touched.isMove ? await ancestorsOf(tx, placed) : [];
  if (placed.length > 0) await refreshBranches(tx, placed);
  const concerned = new Set([...people, ...(await membersBelow(tx, branches))]);
  const turning = new Set(people);
  const inherited = touched.isMove
    ? await inheritedCourses(tx, await wholeTree(tx), [...wasBelow, ...(await ancestorsOf(tx, placed))])
    : null;
  if (inherited && people.length === 0) {
    // Where everybody is, and when, is what it was; only what the groups above them say is another.
    const sets = await dropEmptySets(tx, await setsInBranches(tx, placed));
    changed = (await refreshEntitlements(tx, { sets, persons: [], courses: inherited }, touched.entitlements)) ?? [];
    const owners = await ownersAmong(tx, concerned);
    changed = [...changed, ...((await refreshEntitlements(tx, { sets: [], persons: owners, courses: 'all' })) ?? [])];
  } else if (concerned.size > 0) {
    const refreshed = await refreshSets(tx, [...concerned], today);
    const { newSets, ownPeople } = refreshed;
    count = refreshed.count;
    for (const id of refreshed.moved) turning.add(id);
    // A group that comes back finds the sets of those who were in it, with nothing kept for them.
    const below = await setsInBranches(tx, [...branches, ...placed]);
    const sets = new Set([...newSets, ...(by.mode === 'alone' ? await dropEmptySets(tx, below) : below)]);
    changed = (await refreshEntitlements(tx, { sets: [...sets], persons: ownPeople, courses: 'all' })) ?? [];
  }
  // A statement at a group reaches nobody but its branch.
  const told = here.length > 0 ? await setsInBranches(tx, groups) : [];
  if (here.length > 0) changed = [...changed, ...((await refreshEntitlements(tx, { sets: told, persons: 'all', courses: here })) ?? [])];
  if (everywhere.length > 0)
    changed = [...changed, ...((await refreshEntitlements(tx, { sets: 'all', persons: 'all', courses: everywhere })) ?? [])];
  // A status follows from what is open: it can differ for who moved, and where access does.
  const otherwise = changed.filter(({ isOpenOtherwise }) => isOpenOtherwise);
  await refreshExceptions(tx, touched.excepted ?? [], today);
  if (redefined.length > 0) await rescore(tx, redefined);
  if (turning.size + otherwise.length + redefined.length > 0) {
    const { enrolments, how } = await whoseStatus(tx, turning, otherwise, redefined);
    await refreshStatus(tx, today, enrolments, how);
  }
  if (redefined.length > 0) await markLearnersOf(tx, redefined);
  const room = touched.seats === true || placed.length + branches.length > 0;
  const { seated = [], licences = [] } = touched;
  const isOtherwise = room || concerned.size + courses.length + seated.length + licences.length > 0;
  const seats =
    isOtherwise &&
    (await settle(tx, today, {
      ...by,
      people: [...new Set([...concerned, ...seated])],
      courses,
      licences,
      placed: [...placed, ...branches],
      room,
      fileRows: touched.fileRows,
    }));
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

/** Who of these people has windows of their own. */
const ownersAmong = async (tx: Transaction, people: ReadonlySet<number>): Promise<number[]> =>
  (
    await tx
      .select({ id: tables.person.id })
      .from(tables.person)
      .where(and(eq(tables.person.ownWindows, true), isAmong(tables.person.id, people)))
  ).map(({ id }) => id);

/** All groups above these. */
async function ancestorsOf(tx: Transaction, groups: readonly number[]): Promise<number[]> {
  const found = await tx
    .selectDistinct({ id: tables.groupBranch.ancestorId })
    .from(tables.groupBranch)
    .where(and(isAmong(tables.groupBranch.groupId, groups), gt(tables.groupBranch.depth, 0)));
  return found.map(({ id }) => id);
}

async function parentsOf(tx: Transaction, groups: readonly number[]): Promise<number[]> {
  if (groups.length === 0) return [];
  const found = await tx
    .selectDistinct({ id: tables.groupBranch.ancestorId })
    .from(tables.groupBranch)
    .where(and(isAmong(tables.groupBranch.groupId, groups), eq(tables.groupBranch.depth, 1)));
  return found.map(({ id }) => id);
}

function topicsOf({
  people = [],
  courses: here = [],
  everywhere = [],
  redefined = [],
  placed = [],
  branches = [],
  entry = false,
  messages = false,
  rules = false,
  progressed = [],
}: Touched): LiveTopic[] {
  const ways: LiveTopic[] = [
    ...(entry ? (['entry'] as const) : []),
    ...(messages ? (['messages'] as const) : []),
    ...(rules ? (['access'] as const) : []),
    ...(progressed.length > 0 ? (['progress'] as const) : []),
  ];
  const courses = [...here, ...everywhere, ...redefined];
  if (people.length + placed.length + branches.length > 0) return ['people', 'access', 'progress', 'groups', ...ways];
  return courses.length > 0 ? ['access', 'progress', 'groups', ...ways] : ['groups', 'people', ...ways];
}
