import { addTo, type CourseEffect, type Effects, emptyWho, noEffects } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { ExceptedPair } from '../access/exceptions.ts';
import { endedGrants } from '../access/load-rules.ts';
import { exceptedPairs } from '../access/undo-exceptions.ts';
import { keptRows, type RowKind } from '../changes/kept-rows.ts';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { statementsFollow, statementsOfEnrolments } from '../standards/keep-statements.ts';
import { forgetPastDays } from '../progress/past-days.ts';
import { dropAddress } from '../accounts/one-time.ts';
import { actableAccount } from './account.ts';
import { joinColumns } from './join-columns.ts';
import { visiblePeople } from './members.ts';

/** Two accounts of one person become one: its groups, tags, powers and progress join; the other account ends. */
export const planMergePeople: Planner<'merge-people'> = async (context, { personId, goneId }) => {
  const { db, actor, tree } = context;
  for (const id of [personId, goneId]) await actableAccount(db, actor, tree, id);
  const [kept, gone] = [(await visiblePeople(context, [personId]))[0], (await visiblePeople(context, [goneId]))[0]];
  const effects = noEffects();
  if (personId === goneId || !kept || !gone) effects.conflicts.push({ code: 'in itself', blocks: true, count: 1 });
  if (goneId === actor.personId) effects.conflicts.push({ code: 'own account', blocks: true, count: 1 });
  const own = await saidOf(db, goneId);
  const joining = (gone?.memberships ?? []).filter((held) => !kept?.memberships.some(({ groupId }) => groupId === held.groupId));
  Object.assign(
    effects,
    await accessOfShift(context, {
      merged: { keptId: personId, goneId },
      // What was opened or blocked for the one alone is so for the other.
      grants: { end: [], begin: own.map(({ courseIds, grant }) => ({ courseIds, grant: { ...grant, at: { person: personId } } })) },
      people: { personIds: [personId], afterwards: (person) => ({ ...person, memberships: [...person.memberships, ...joining] }) },
    }),
  );
  effects.joins = joining.map(({ groupId }) => ({ groupId, who: { sets: [], persons: [personId], newcomers: [] }, people: 1 }));
  effects.changedPeople = [personId, goneId];
  Object.assign(effects, mergedEffects(effects, await exceptionsFollowing(db, personId, goneId), personId));
  const groups = [...new Set([...(kept?.memberships ?? []), ...(gone?.memberships ?? [])].map(({ groupId }) => groupId))];
  return {
    effects,
    groups,
    summary: summaryOf({ groups: groups.slice(0, 3), people: [personId, goneId], counts: { joining: joining.length } }),
    async write(tx, writer) {
      const excepted = await mergeAccounts(tx, writer, personId, goneId);
      return { people: [personId, goneId], sessions: [personId, goneId], excepted };
    },
  };
};

/** What the one who goes has joins the one who stays; the account of the former ends. Without `withPowers` its leaderships end with it. */
export async function mergeAccounts(
  tx: Transaction,
  writer: ChangeWriter,
  personId: number,
  goneId: number,
  { withPowers = true }: { withPowers?: boolean } = {},
): Promise<ExceptedPair[]> {
  const join = (kind: JoinedKind): Promise<number[]> => joinRows(tx, writer, kind, personId, goneId);
  await join('membership');
  await join('person tag');
  if (withPowers) await join('leadership');
  else await endRows(tx, writer, 'leadership', goneId);
  await join('join request');
  await join('course request');
  await join('grant');
  const exceptions = await join('exception');
  await join('seat word');
  await join('split member');
  await joinColumns(tx, writer.changeId, { personId, goneId, withPowers });
  await joinPaidEntries(tx, personId, goneId);
  await joinMessages(tx, personId, goneId);
  await joinSeats(tx, personId, goneId);
  await joinDetails(tx, writer, personId, goneId);
  await joinProgress(tx, writer, personId, goneId);
  await statementsFollow(tx, personId, goneId);
  await forgetPastDays(tx);
  const state = await onlyOne(
    tx
      .select({ row_id: tables.personState.rowId })
      .from(tables.personState)
      .where(and(eq(tables.personState.personId, goneId), isNull(tables.personState.untilAt))),
  );
  await writer.replace('person state', [{ rowId: state.row_id, values: { state: 'ended' } }]);
  await dropAddress(tx, [goneId]);
  await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(goneId)}`);
  return (await exceptedPairs(tx, exceptions)).flatMap(({ courseId }) => [personId, goneId].map((id) => ({ personId: id, courseId })));
}

/** What is opened or blocked for somebody alone. */
const saidOf = async (db: Queryable, personId: number) =>
  endedGrants(
    db,
    (
      await db
        .select({ row_id: tables.grant.rowId })
        .from(tables.grant)
        .where(and(eq(tables.grant.personId, personId), isNull(tables.grant.untilAt)))
    ).map(({ row_id }) => row_id),
  );

type Following = { courseId: number; kind: string; isDone: boolean };

/** Exceptions that the one who stays gets from the other, and whether either is done with the course already. */
const exceptionsFollowing = (db: Queryable, personId: number, goneId: number): Promise<Following[]> =>
  rows<Following>(
    db,
    sql`
    select x.course_id as "courseId", x.kind,
      exists (select 1 from enrolment e where e.person_id in (${personId}, ${goneId}) and e.course_id = x.course_id and e.is_current and e.status = 'done' and not (e.person_id = ${goneId} and e.done_elsewhere)) as "isDone"
    from course_exception x where x.person_id = ${goneId} and x.until_at is null
      and not exists (select 1 from course_exception k where k.person_id = ${personId} and k.course_id = x.course_id and k.kind = x.kind and k.until_at is null) order by 1, 2`,
  );

function mergedEffects(effects: Effects, following: readonly Following[], personId: number): Pick<Effects, 'becomeDone' | 'excepted'> {
  const ofCourses = (courses: readonly number[]): CourseEffect[] =>
    [...new Set(courses)].map((courseId) => ({ courseId, day: null, who: { ...emptyWho(), persons: [personId] }, people: 1 }));
  const elsewhere = following.filter(({ kind }) => kind === 'done elsewhere');
  return {
    becomeDone: [...effects.becomeDone, ...ofCourses(elsewhere.flatMap(({ courseId, isDone }) => (isDone ? [] : [courseId])))],
    excepted: ofCourses(following.flatMap(({ courseId, kind }) => (kind === 'done elsewhere' ? [] : [courseId]))),
  };
}

/** What is the same of two people, by kind of row: where both have it, the one who stays keeps theirs. */
const sameFor = {
  membership: ['group_id'],
  'person tag': ['tag_id'],
  leadership: ['group_id'],
  'join request': ['group_id'],
  'course request': ['course_id'],
  grant: ['row_id'],
  exception: ['course_id', 'kind'],
  'seat word': ['licence_id'],
  'split member': ['split_id'],
} as const satisfies Partial<Record<RowKind, readonly string[]>>;
type JoinedKind = keyof typeof sameFor;

async function endRows(tx: Transaction, writer: ChangeWriter, kind: RowKind, personId: number): Promise<void> {
  const held = await rows<{ row_id: number }>(
    tx,
    sql`select row_id from ${sql.identifier(keptRows[kind].table)} where person_id = ${personId} and until_at is null`,
  );
  await writer.end(
    kind,
    held.map(({ row_id }) => row_id),
  );
}

/**
 * Rows of the one who goes end; the other begins those that it lacks, since the day they first stood.
 * @returns The rows that began.
 */
async function joinRows(tx: Transaction, writer: ChangeWriter, kind: JoinedKind, personId: number, goneId: number): Promise<number[]> {
  const table = sql.identifier(keptRows[kind].table);
  const same = sameFor[kind].map((column) => sql`k.${sql.identifier(column)} = o.${sql.identifier(column)}`);
  const since =
    kind === 'membership'
      ? sql` || jsonb_build_object('first_day', coalesce(o.first_day, (o.from_at at time zone (select time_zone from organisation))::date))`
      : sql``;
  const theirs = await rows<{ row_id: number; values: Record<string, unknown>; has: boolean }>(
    tx,
    sql`
    select o.row_id, to_jsonb(o) ${since} || jsonb_build_object('person_id', ${personId}::bigint) as values,
      exists (select 1 from ${table} k where k.person_id = ${personId} and ${sql.join(same, sql` and `)} and k.until_at is null) as has
    from ${table} o where o.person_id = ${goneId} and o.until_at is null ${kind === 'join request' || kind === 'course request' ? sql`and o.state = 'asking'` : sql``} order by o.row_id`,
  );
  await writer.end(
    kind,
    theirs.map(({ row_id }) => row_id),
  );
  return writer.begin(
    kind,
    theirs.filter(({ has }) => !has).map(({ values }) => values),
  );
}

/** What was written to the one who goes was written to the other, too. */
async function joinMessages(tx: Transaction, personId: number, goneId: number): Promise<void> {
  await tx.execute(sql`
    insert into message_reader (message_id, person_id, is_chosen, seen_at, done_at, choices, own_words)
    select message_id, ${personId}, is_chosen, seen_at, done_at, choices, own_words from message_reader where person_id = ${goneId}
    on conflict (message_id, person_id) do update set is_chosen = message_reader.is_chosen or excluded.is_chosen, seen_at = least(message_reader.seen_at, excluded.seen_at),
      done_at = coalesce(message_reader.done_at, excluded.done_at), choices = coalesce(message_reader.choices, excluded.choices),
      own_words = coalesce(message_reader.own_words, excluded.own_words)`);
}

/** What was paid, or is being paid, to come in moves along; where both are about to pay for one code, the one who stays does. */
async function joinPaidEntries(tx: Transaction, personId: number, goneId: number): Promise<void> {
  await tx.execute(sql`
    update paid_entry e set person_id = ${personId}, is_new = false where e.person_id = ${goneId}
      and not (e.state = 'paying' and exists (select 1 from paid_entry o where o.person_id = ${personId} and o.code_id = e.code_id and o.state = 'paying'))`);
}

/** Seats and places in line move along; where both have one of a kind, the other comes back. Undone, each is settled anew. */
async function joinSeats(tx: Transaction, personId: number, goneId: number): Promise<void> {
  await tx.execute(sql`
    with gone as (update seat set until_at = greatest(now(), from_at) where person_id = ${goneId} and until_at is null returning licence_id, group_id, got_at, change_id)
    insert into seat (licence_id, person_id, group_id, got_at, change_id) select licence_id, ${personId}, group_id, got_at, change_id from gone
    where not exists (select 1 from seat s where s.person_id = ${personId} and s.licence_id = gone.licence_id and s.until_at is null)`);
  await tx.execute(sql`
    update seat_line l set person_id = ${personId} where l.person_id = ${goneId} and l.until_at is null
      and not exists (select 1 from seat_line k where k.person_id = ${personId} and k.course_id = l.course_id and k.until_at is null)`);
}

/** What the one lacks (an address, a number) it takes from the other, which gives it up. */
async function joinDetails(tx: Transaction, writer: ChangeWriter, personId: number, goneId: number): Promise<void> {
  type Details = {
    row_id: number;
    person_id: number;
    email: string | null;
    confirmed_email: string | null;
    sign_in_name: string | null;
    id_number: string | null;
    id_issuer: number | null;
  };
  const both = await rows<Details>(
    tx,
    sql`select row_id, person_id, email, confirmed_email, sign_in_name, id_number, id_issuer from personal_now where person_id in (${personId}, ${goneId})`,
  );
  const kept = both.find(({ person_id }) => person_id === personId);
  const gone = both.find(({ person_id }) => person_id === goneId);
  if (!kept || !gone) return;
  const taken: Record<string, unknown> = {};
  if (kept.email === null && gone.email !== null) Object.assign(taken, { email: gone.email, confirmed_email: gone.confirmed_email });
  if (kept.sign_in_name === null && gone.sign_in_name !== null) taken['sign_in_name'] = gone.sign_in_name;
  if (kept.id_number === null && gone.id_number !== null) Object.assign(taken, { id_number: gone.id_number, id_issuer: gone.id_issuer });
  await writer.replace('personal', [
    { rowId: gone.row_id, values: { email: null, confirmed_email: null, sign_in_name: null, id_number: null, id_issuer: null } },
  ]);
  if (Object.keys(taken).length > 0) await writer.replace('personal', [{ rowId: kept.row_id, values: taken }]);
}

/**
 * Work moves along. Where both worked on a course, the further one counts on and the other is kept as an earlier round.
 * Enrolments are changed in place, so each notes what it was.
 */
async function joinProgress(tx: Transaction, writer: ChangeWriter, personId: number, goneId: number): Promise<void> {
  const all = await rows<{
    id: number;
    person_id: number;
    course_id: number;
    round: number;
    is_current: boolean;
    status: string;
    score: number | null;
  }>(
    tx,
    sql`select id, person_id, course_id, round, is_current, status, score from enrolment where person_id in (${personId}, ${goneId}) order by course_id, person_id = ${goneId}, round`,
  );
  const rank = { 'not begun': 0, 'under way': 1, done: 2 } as Record<string, number>;
  const byCourse = new Map<number, typeof all>();
  for (const each of all) addTo(byCourse, each.course_id, each);
  for (const list of byCourse.values()) {
    if (list.every(({ person_id }) => person_id === personId)) continue;
    const current = list
      .filter(({ is_current }) => is_current)
      .sort(
        (a, b) => (rank[b.status] ?? 0) - (rank[a.status] ?? 0) || (b.score ?? -1) - (a.score ?? -1) || (a.person_id === personId ? -1 : 1),
      )[0];
    const ordered = [...list.filter((each) => each !== current), ...(current ? [current] : [])];
    for (const each of list)
      writer.note('enrolment', {
        after_row: each.id,
        person_id: each.person_id,
        before: { person: each.person_id, round: each.round, current: each.is_current },
      });
    // Rounds are unique for a person and course: out of the way first, then into their order.
    await tx.execute(sql`update enrolment set round = -round, is_current = false where id in ${list.map(({ id }) => id)}`);
    for (const [index, each] of ordered.entries())
      await tx
        .update(tables.enrolment)
        .set({ personId, round: index + 1, isCurrent: each === current })
        .where(eq(tables.enrolment.id, each.id));
  }
  await workFollows(
    tx,
    all.map(({ id }) => id),
  );
}

/** What was handed in belongs to whom its enrolment does. */
const workFollows = (tx: Transaction, enrolmentIds: readonly number[]): Promise<unknown> =>
  tx.execute(
    sql`update work w set person_id = e.person_id from enrolment e where e.id = w.enrolment_id and w.person_id <> e.person_id and e.id = any(${ids(enrolmentIds)})`,
  );

/** Puts enrolments back as they were. */
export async function partProgress(tx: Transaction, list: readonly { after_row: number | null; before: unknown }[]): Promise<void> {
  const was = list.flatMap(({ after_row, before }) =>
    after_row === null ? [] : [{ id: after_row, ...(before as { person: number; round: number; current: boolean }) }],
  );
  if (was.length === 0) return;
  await tx.execute(sql`update enrolment set round = -round, is_current = false where id in ${was.map(({ id }) => id)}`);
  for (const { id, person, round, current } of was)
    await tx.update(tables.enrolment).set({ personId: person, round, isCurrent: current }).where(eq(tables.enrolment.id, id));
  const parted = was.map(({ id }) => id);
  await workFollows(tx, parted);
  await statementsOfEnrolments(tx, parted);
  await forgetPastDays(tx);
}
