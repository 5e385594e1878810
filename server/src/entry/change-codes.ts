import type { JoinCodeValues, Some } from '@gate-roster/contract';
import { randomInt } from 'node:crypto';
import { chosenCodeProblem, type Conflict, joinCodeKey, makeJoinCode, noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, maybeRow, oneRow, type Queryable, type Transaction } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { type CodeRow, maybeCodeById, mayMakeCode } from './codes.ts';

/** Makes a code that opens one or more groups. */
export const planMakeCode: Planner<'make-code'> = async (context, { values }) => {
  const { actor, tree } = context;
  if (!mayMakeCode(actor, tree, values)) throw notFound();
  const effects = { ...noEffects(), conflicts: await conflictsOf(context, values, null) };
  return {
    effects,
    groups: values.groupIds,
    summary: summaryOf({ groups: values.groupIds.slice(0, 3), counts: { groups: values.groupIds.length, leads: values.powers ? 1 : 0 } }),
    async write(tx, writer) {
      await beginCode(tx, writer, { ...values, groupIds: values.groupIds.filter((id) => tree.has(id)) }, actor.personId);
      return { entry: true };
    },
  };
};

export async function beginCode(tx: Transaction, writer: ChangeWriter, values: JoinCodeValues, madeBy: number): Promise<void> {
  const { id } = await oneRow<{ id: number }>(tx, sql`insert into join_code default values returning id`);
  await writer.begin('join code', [{ code_id: id, made_by: madeBy, ...(await codeColumns(tx, values.chosen)), ...columnsOf(values) }]);
}

/** Changes what a code says, pauses it, or puts another in its place. */
export const planEditCode: Planner<'edit-code'> = async (context, { codeId, values: some, replace }) => {
  const { db, actor, tree } = context;
  const code = await maybeCodeById(db, codeId);
  if (!code || !mayMakeCode(actor, tree, { groupIds: code.group_ids, powers: code.powers })) throw notFound();
  const values = { ...valuesOf(code), ...given(some) };
  if (!mayMakeCode(actor, tree, values)) throw notFound();
  const conflicts = await conflictsOf(context, values, codeId);
  const fields = Object.keys(given(some)).filter(
    (field) => JSON.stringify(values[field as keyof JoinCodeValues]) !== JSON.stringify(valuesOf(code)[field as keyof JoinCodeValues]),
  );
  if (fields.length === 0 && !replace) conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects: { ...noEffects(), conflicts },
    groups: [...new Set([...code.group_ids, ...values.groupIds])],
    summary: summaryOf({
      groups: code.group_ids.slice(0, 3),
      fields: replace ? ['code'] : fields,
      counts: { paused: values.paused ? 1 : 0 },
    }),
    async write(tx, writer) {
      const isSame = !replace && values.chosen === (code.is_chosen ? code.code : null);
      const text = isSame
        ? { code: code.code, code_key: joinCodeKey(code.code), is_chosen: code.is_chosen }
        : await codeColumns(tx, replace && some.chosen === undefined ? null : values.chosen);
      await writer.replace('join code', [
        { rowId: code.row_id, values: { ...text, ...columnsOf({ ...values, groupIds: values.groupIds.filter((id) => tree.has(id)) }) } },
      ]);
      return { entry: true };
    },
  };
};

/** A code that is gone lets nobody in; who came in by it stays. */
export const planDeleteCode: Planner<'delete-code'> = async ({ db, actor, tree }, { codeId }) => {
  const code = await maybeCodeById(db, codeId);
  if (!code || !mayMakeCode(actor, tree, { groupIds: code.group_ids, powers: code.powers })) throw notFound();
  return {
    effects: noEffects(),
    groups: code.group_ids,
    summary: summaryOf({ groups: code.group_ids.slice(0, 3) }),
    async write(_tx, writer) {
      await writer.end('join code', [code.row_id]);
      return { entry: true };
    },
  };
};

const given = <T>(some: Some<T>): Partial<T> =>
  Object.fromEntries(Object.entries(some).filter(([, value]) => value !== undefined)) as Partial<T>;

export const valuesOf = (code: CodeRow): JoinCodeValues => ({
  groupIds: code.group_ids,
  chosen: code.is_chosen ? code.code : null,
  note: code.note,
  tags: code.tags,
  powers: code.powers,
  firstAt: code.first_at && new Date(code.first_at).toISOString(),
  lastAt: code.last_at && new Date(code.last_at).toISOString(),
  useLimit: code.use_limit,
  emailEnding: code.email_ending,
  needsDecision: code.needs_decision,
  paused: code.paused,
  price: code.price,
  asks: code.asks,
});

function columnsOf(values: JoinCodeValues): Record<string, unknown> {
  return {
    group_id: values.groupIds[0],
    group_ids: [...new Set(values.groupIds)],
    note: values.note || null,
    tags: values.tags,
    powers: values.powers,
    first_at: values.firstAt,
    last_at: values.lastAt,
    use_limit: values.useLimit,
    email_ending: values.emailEnding?.replace(/^[@.]+/u, '').toLowerCase() || null,
    needs_decision: values.needsDecision,
    paused: values.paused,
    price: values.price ?? null,
    asks: values.asks,
  };
}

async function codeColumns(tx: Transaction, chosen: string | null): Promise<{ code: string; code_key: string; is_chosen: boolean }> {
  if (chosen !== null) return { code: chosen.trim().toUpperCase(), code_key: joinCodeKey(chosen), is_chosen: true };
  for (;;) {
    const code = makeJoinCode((limit) => randomInt(limit));
    if (!(await isTaken(tx, joinCodeKey(code), null))) return { code, code_key: joinCodeKey(code), is_chosen: false };
  }
}

const isTaken = async (db: Queryable, key: string, but: number | null): Promise<boolean> =>
  (await maybeRow(
    db,
    sql`select 1 from join_code_version where code_key = ${key} and until_at is null and code_id is distinct from ${but}`,
  )) !== null;

async function conflictsOf({ db, actor }: PlanContext, values: JoinCodeValues, codeId: number | null): Promise<Conflict[]> {
  const conflicts: Conflict[] = [];
  const stop = (code: Conflict['code']): number => conflicts.push({ code, blocks: true, count: 1 });
  if (values.chosen !== null) {
    const problem = chosenCodeProblem(values.chosen, values);
    if (problem) stop(`code ${problem}`);
    else if (await isTaken(db, joinCodeKey(values.chosen), codeId)) stop('code taken');
  }
  if (values.firstAt && values.lastAt && values.lastAt < values.firstAt) stop('moments out of order');
  if (values.emailEnding && !/^[@.]*[\p{L}\p{N}-]+(\.[\p{L}\p{N}-]+)+$/u.test(values.emailEnding)) stop('ending wrong');
  if (values.asks.questions.some(({ kind, choices }) => kind === 'choice' && choices.length < 2)) stop('choices missing');
  // Whoever holds such a code leads: an administrator alone may leave it open.
  if (values.powers !== null && !values.paused && actor.role !== 'administrator') {
    if (values.lastAt === null) stop('leaders code needs an end');
    if (values.useLimit === null) stop('leaders code needs a limit');
    if (!values.needsDecision) stop('leaders code needs a decision');
  }
  // Who has paid is in: nobody decides after it, and nobody buys powers.
  if (values.price != null && (values.needsDecision || values.powers !== null)) stop('price and decision');
  const isYoung = await maybeRow(
    db,
    sql`select 1 from group_branch b join group_now g on g.id = b.ancestor_id where b.group_id = any(${ids(values.groupIds)}) and g.young_learners`,
  );
  // Of young learners no address is asked, so none can be wanted.
  if (isYoung && (values.asks.email !== 'no' || values.emailEnding !== null || values.powers !== null)) stop('young learners');
  return conflicts;
}
