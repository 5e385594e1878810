import { answersTo, dayOfMoment, joinCodeKey, type JoinGiven, tidyName } from '@gate-roster/core';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { setPassword } from '../accounts/one-time.ts';
import { recordChange } from '../changes/record.ts';
import { onceOutside, type OutsideRequest } from '../changes/outside-request.ts';
import { type LockMode, withRosterLock } from '../changes/roster-lock.ts';
import { type Summary, summaryOf, type Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, ids, isAmong, onlyOne, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { makePeople } from '../people/make-people.ts';
import { lockPeople } from '../people/membership-sets.ts';
import { letIn, useUp } from './let-in.ts';
import { closedBecause, maybeCode, type StandingCode } from './codes.ts';
import { beginEntry, openEntryOf } from './hold-place.ts';

export type JoinOutcome = 'in' | 'asking' | 'paying' | 'already';

/** Whoever comes: somebody with an account, or new, with what they gave and a password of their own. */
export type Joiner =
  | { personId: number; answers: Record<string, string> }
  | { given: JoinGiven; email: string | null; isConfirmed: boolean; passwordHash: string };

/**
 * Comes in by a code, or asks to. The code's use is counted in the same transaction, so that of any number at once exactly
 * as many get in as its limit says.
 * @throws ProblemError `code-over` when there is no such code, or it lets nobody in now.
 */
export async function joinByCode(
  { db, now }: Pick<Deps, 'db' | 'now'>,
  typed: string,
  joiner: Joiner,
  request: OutsideRequest,
  /** The price that was shown to them, with tax. */
  total: number | null = null,
): Promise<{ outcome: Joined; isReplay: boolean }> {
  // Giving powers needs the lock alone; joining shares it.
  const asked = await maybeCode(db, joinCodeKey(typed));
  const mode = asked?.powers === null ? 'shared' : 'alone';
  return withRosterLock(db, mode, (tx) =>
    onceOutside(tx, request, () => comeIn(tx, now(), typed, joiner, { requestId: request.requestId, mode }, total)),
  );
}

export interface Joined {
  outcome: JoinOutcome;
  personId: number;
  signInName: string | null;
  /** What has to be paid first. */
  entryId: string | null;
}

async function comeIn(
  tx: Transaction,
  now: Date,
  typed: string,
  joiner: Joiner,
  by: { requestId: string; mode: LockMode },
  total: number | null,
): Promise<Joined> {
  if ('personId' in joiner) await lockPeople(tx, [joiner.personId]);
  const code = await maybeCode(tx, joinCodeKey(typed));
  if (!code || (by.mode === 'shared' && code.powers !== null)) throw new ProblemError('code-over');
  const { time_zone } = await onlyOne(tx.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  const today = dayOfMoment(now, time_zone);
  const missing = 'personId' in joiner ? await missingGroups(tx, code, joiner.personId) : code.group_ids;
  if (missing.length === 0 && 'personId' in joiner)
    return { outcome: 'already', personId: joiner.personId, signInName: null, entryId: null };
  // Somebody who comes back to what they have not paid finds it.
  const open = 'personId' in joiner && code.price !== null ? await openEntryOf(tx, joiner.personId, code.id) : null;
  if (open !== null && 'personId' in joiner) return { outcome: 'paying', personId: joiner.personId, signInName: null, entryId: open };
  if (closedBecause(code, now)) throw new ProblemError('code-over');

  let came = { personId: 'personId' in joiner ? joiner.personId : 0, signInName: null as string | null };
  // A number that is somebody's already is for people to look at: it may be the same person.
  const pays = code.price !== null;
  const asks = !pays && (code.needs_decision || ('given' in joiner && (await isNumberKnown(tx, code, joiner.given.idNumber))));
  let entryId: string | null = null;
  await recordChange(tx, { personId: null, today }, { ...entryOf(code, asks, pays), ...by, groups: missing }, async (_tx, writer) => {
    if ('given' in joiner) came = await register(tx, writer, code, joiner, asks || pays);
    const answered = answersTo(code.asks.questions, 'given' in joiner ? joiner.given.answers : joiner.answers);
    if (pays) {
      const idNumber = 'given' in joiner && code.asks.idNumber !== 'no' ? joiner.given.idNumber.trim() || null : null;
      const who = { personId: came.personId, groupIds: missing, isNew: 'given' in joiner, answers: answered, idNumber, total };
      entryId = await beginEntry(tx, code, who, { now, today });
      return { people: who.isNew ? [came.personId] : [], entry: true, last: () => useUp(tx, code) };
    }
    const answers = JSON.stringify(answered);
    await tx.execute(
      sql`insert into join_code_use (code_id, person_id, at, answers) values (${code.id}, ${came.personId}, ${now.toISOString()}, ${answers}::jsonb)
          on conflict (code_id, person_id) do update set at = excluded.at, answers = excluded.answers`,
    );
    const touched = asks
      ? await ask(tx, writer, code, missing, came.personId, joiner)
      : await letIn(tx, writer, code, missing, came.personId, today);
    return { ...touched, last: () => useUp(tx, code) };
  });
  return { outcome: pays ? 'paying' : asks ? 'asking' : 'in', ...came, entryId };
}

function entryOf(code: StandingCode, asks: boolean, pays: boolean): { kind: string; undoOf: []; summary: Summary } {
  const counts = { people: 1, leads: code.powers ? 1 : 0, asks: asks ? 1 : 0, pays: pays ? 1 : 0 };
  return {
    kind: 'join-by-code',
    undoOf: [],
    summary: summaryOf({ groups: code.group_ids.slice(0, 3), counts }),
  };
}

/** Of a code's groups, those that somebody is not in (does not lead, has not asked for) yet. */
async function missingGroups(tx: Transaction, code: StandingCode, personId: number): Promise<number[]> {
  const table = sql.identifier(code.powers === null ? 'membership' : 'leadership');
  const held = await rows<{ group_id: number }>(
    tx,
    sql`
    select group_id from ${table} where person_id = ${personId} and until_at is null and group_id = any(${ids(code.group_ids)})
    union select group_id from join_request where person_id = ${personId} and until_at is null and state = 'asking' and group_id = any(${ids(code.group_ids)})`,
  );
  const has = new Set(held.map(({ group_id }) => group_id));
  return code.group_ids.filter((id) => !has.has(id));
}

async function isNumberKnown(tx: Transaction, code: StandingCode, idNumber: string): Promise<boolean> {
  if (idNumber.trim() === '' || code.asks.idNumber === 'no') return false;
  return (
    (await firstOf(
      tx
        .select({ rowId: tables.personalNow.rowId })
        .from(tables.personalNow)
        .where(and(eq(tables.personalNow.idIssuer, await issuerOf(tx, code)), eq(tables.personalNow.idNumber, idNumber.trim()))),
    )) !== null
  );
}

/** ID numbers of people who register are the platform's. */
async function issuerOf(tx: Transaction, code: StandingCode): Promise<number> {
  const { id } = await onlyOne(
    tx
      .select({ id: tables.groupBranch.ancestorId })
      .from(tables.groupBranch)
      .where(eq(tables.groupBranch.groupId, code.group_ids[0] ?? 0))
      .orderBy(desc(tables.groupBranch.depth))
      .limit(1),
  );
  return id;
}

async function register(
  tx: Transaction,
  writer: ChangeWriter,
  code: StandingCode,
  { given, email, isConfirmed, passwordHash }: Extract<Joiner, { given: JoinGiven }>,
  asks: boolean,
): Promise<{ personId: number; signInName: string }> {
  const idNumber = asks || code.asks.idNumber === 'no' ? null : given.idNumber.trim() || null;
  const [made] = await makePeople(
    tx,
    writer,
    [
      {
        givenName: tidyName(given.givenName),
        familyName: tidyName(given.familyName),
        email,
        isConfirmed,
        idNumber,
        groupId: code.powers === null ? (code.group_ids[0] ?? null) : null,
      },
    ],
    { issuer: await issuerOf(tx, code), byLeader: true, state: asks ? 'asking' : 'active' },
  );
  const personId = made?.id ?? 0;
  await setPassword(tx, personId, passwordHash, { isNew: true });
  if (!asks)
    await tx
      .update(tables.person)
      .set({ signedInAt: sql`now()`, activeAt: sql`now()` })
      .where(eq(tables.person.id, personId));
  return { personId, signInName: made?.signInName ?? '' };
}

async function ask(
  tx: Transaction,
  writer: ChangeWriter,
  code: StandingCode,
  groupIds: readonly number[],
  personId: number,
  joiner: Joiner,
): Promise<Touched> {
  const given = 'given' in joiner ? joiner.given : null;
  const answers = {
    ...(given?.answers ?? ('answers' in joiner ? joiner.answers : {})),
    ...(given?.idNumber.trim() ? { '#idNumber': given.idNumber.trim() } : {}),
  };
  // Whoever was turned away may ask again: the old answer makes room.
  const old = await tx
    .select({ row_id: tables.joinRequest.rowId })
    .from(tables.joinRequest)
    .where(
      and(eq(tables.joinRequest.personId, personId), isAmong(tables.joinRequest.groupId, groupIds), isNull(tables.joinRequest.untilAt)),
    );
  await writer.end(
    'join request',
    old.map(({ row_id }) => row_id),
  );
  await writer.begin(
    'join request',
    groupIds.map((groupId) => ({
      person_id: personId,
      code_id: code.id,
      group_id: groupId,
      answers,
      state: 'asking',
      asked_at: new Date().toISOString(),
    })),
  );
  return { people: given ? [personId] : [], entry: true };
}
