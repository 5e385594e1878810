import type { Change } from '@gate-roster/contract';
import { earlier, isBlocked, may, noEffects, type Power } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { mergeTouched, type Plan, type PlanContext, type Planner, summaryOf, type Touched } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, isAmong, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { mayShapeIn } from '../groups/shape.ts';
import { versionRows } from '../groups/move-groups.ts';
import { notFound } from '../http/problem.ts';
import { keptReminders, remindersInForce } from '../messages/reminders-due.ts';
import { effectOn } from '../people/members.ts';
import type { Otherwise } from '../seats/load-seats.ts';

type ClosePeriod = Extract<Change, { kind: 'close-period' }>;

/** Ends what a branch gives, lets nobody new in and says what becomes of its people: one change, undone as a whole. */
export const planClosePeriod: Planner<'close-period'> = async (context, change) => {
  const { db, actor, tree, today } = context;
  const { groupId, lastDay } = change;
  mayShapeIn(context, groupId);
  const path = tree.path(groupId);
  if (!powersOf(change).every((power) => may(actor, power, { path }))) throw notFound();
  const branch = tree.branch(groupId);
  const node = tree.node(groupId);
  const people = change.people.do === 'stay' ? [] : await onlyIn(db, branch);
  const into = change.people.do === 'move' ? change.people.intoId : null;
  if (into !== null && (!tree.has(into) || branch.includes(into) || !may(actor, 'managePeople', { path: tree.path(into) })))
    throw notFound();
  const words = change.seats ? await stillCharged(db, branch) : [];
  const effects = noEffects();
  if (lastDay !== null && node.firstDay !== null && lastDay < node.firstDay)
    effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  if (change.seats && (lastDay === null || lastDay >= today))
    effects.conflicts.push({ code: 'seats in use', blocks: true, count: words.length });
  const asking = change.asking === null ? [] : await askingIn(db, branch);
  const turnedAway: Plan | null =
    asking.length === 0
      ? null
      : await context.planOf({
          kind: 'decide-requests',
          requestIds: asking,
          decision: 'turn away',
          asPerson: null,
          word: change.asking?.word ?? null,
        });
  const lastOf = (day: string | null): string => earlier(day ?? '9999-12-31', lastDay ?? today);
  const isBefore = change.people.do === 'end';
  if (!isBlocked(effects)) {
    const after = lastDay === null ? tree : tree.with(new Map([[groupId, { ...node, lastDay }]]));
    Object.assign(
      effects,
      await accessOfShift(context, {
        tree: after,
        branches: [groupId],
        people: {
          personIds: people,
          afterwards: (person) => ({
            ...person,
            ...(isBefore ? { lastDay: lastOf(person.lastDay) } : {}),
            memberships: into === null ? person.memberships : [...person.memberships, { groupId: into, firstDay: null, lastDay: null }],
          }),
        },
        seats: words.length > 0 ? { words } : undefined,
      }),
    );
  }
  if (into !== null)
    effects.joins = effectOn(
      into,
      people.map((personId) => ({ personId })),
    );
  if (isBefore) effects.changedPeople = people;
  effects.letters = turnedAway?.effects.letters ?? 0;
  return {
    effects,
    groups: [...new Set([...branch, ...(into === null ? [] : [into])])],
    summary: summaryOf({ groups: [groupId], names: { before: lastDay ?? '', after: node.name }, counts: { people: people.length } }),
    async write(tx, writer) {
      if (lastDay !== null)
        await writer.replace(
          'group',
          (await versionRows(tx, [groupId])).map(({ row_id }) => ({ rowId: row_id, values: { last_day: lastDay } })),
        );
      await stopWaysIn(tx, writer, change, branch);
      if (change.reminders) await stopReminders(context, tx, writer, groupId);
      const away = (await turnedAway?.write(tx, writer)) ?? {};
      if (isBefore) await endAccounts(tx, writer, people, lastOf);
      if (into !== null)
        await writer.beginMemberships(
          people.map((personId) => ({ personId, groupId: into, firstDay: null, lastDay: null })),
          'hand',
        );
      await writer.begin(
        'seat word',
        words.map(({ personId, licenceId, word }) => ({ person_id: personId, licence_id: licenceId, word, made_by: actor.personId })),
      );
      const touched: Touched = {
        branches: [groupId],
        people,
        entry: true,
        rules: change.rules,
        messages: change.reminders,
        splits: true,
        seats: words.length > 0,
        seated: words.map(({ personId }) => personId),
      };
      return mergeTouched([away, touched]);
    },
  };
};

/** Powers that the parts of a close ask for; each by itself is a change of the same power. */
function powersOf(change: ClosePeriod): Power[] {
  return [
    'shapeGroups',
    ...(change.codes || change.invitations || change.rules || change.people.do !== 'stay' ? (['managePeople'] as const) : []),
    ...(change.asking === null ? [] : (['decideEntry'] as const)),
    ...(change.reminders ? (['writeMessages'] as const) : []),
    ...(change.splits ? (['openCourses'] as const) : []),
    ...(change.seats ? (['handOutSeats'] as const) : []),
  ];
}

/** People of a branch who are in no group outside it, lead none, and have no role on the platform. */
export async function onlyIn(db: Queryable, branch: readonly number[]): Promise<number[]> {
  const found = await rows<{ id: number }>(
    db,
    sql`
    select distinct m.person_id as id from membership m join person p on p.id = m.person_id and p.role = 'none' and p.erased_at is null
    join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'active'
    where m.until_at is null and m.group_id = any(${ids(branch)})
      and not exists (select 1 from membership o where o.person_id = m.person_id and o.until_at is null and o.group_id <> all(${ids(branch)}))
      and not exists (select 1 from leadership l where l.person_id = m.person_id and l.until_at is null) order by 1`,
  );
  return found.map(({ id }) => id);
}

/** Seats charged in a branch, as they would be taken back. */
const stillCharged = async (db: Queryable, branch: readonly number[]): Promise<NonNullable<Otherwise['words']>[number][]> =>
  (
    await rows<{ personId: number; licenceId: number }>(
      db,
      sql`
      select s.person_id as "personId", s.licence_id as "licenceId" from seat s join licence_now l on l.licence_id = s.licence_id and l.on_leaving <> 'comes back'
      where s.until_at is null and s.group_id = any(${ids(branch)})
        and not exists (select 1 from seat_word w where w.person_id = s.person_id and w.licence_id = s.licence_id and w.until_at is null) order by 1, 2`,
    )
  ).map((held) => ({ ...held, word: 'taken back' as const }));

const askingIn = async (db: Queryable, branch: readonly number[]): Promise<number[]> =>
  (
    await rows<{ id: number }>(
      db,
      sql`select row_id as id from join_request where until_at is null and state = 'asking' and group_id = any(${ids(branch)}) order by 1`,
    )
  ).map(({ id }) => id);

async function stopWaysIn(tx: Transaction, writer: ChangeWriter, change: ClosePeriod, branch: readonly number[]): Promise<void> {
  const inBranch = sql`until_at is null and group_id = any(${ids(branch)})`;
  const rowsOf = async (table: string, more = sql`true`): Promise<number[]> =>
    (await rows<{ row_id: number }>(tx, sql`select row_id from ${sql.identifier(table)} where ${inBranch} and ${more}`)).map(
      ({ row_id }) => row_id,
    );
  const put = (list: readonly number[], values: Record<string, unknown>) => list.map((rowId) => ({ rowId, values }));
  if (change.codes) {
    const codes = await rows<{ row_id: number; others: number[] }>(
      tx,
      sql`select row_id, array(select g from unnest(group_ids) g where g <> all(${ids(branch)})) as others from join_code_version where until_at is null and group_ids && ${ids(branch)} and not paused`,
    );
    await writer.replace(
      'join code',
      codes.map(({ row_id, others }) => ({
        rowId: row_id,
        values: others.length === 0 ? { paused: true } : { group_ids: others.map(Number), group_id: Number(others[0]) },
      })),
    );
  }
  if (change.invitations) await writer.end('invitation', await rowsOf('invitation'));
  if (change.rules) await writer.replace('rule', put(await rowsOf('rule_version', sql`is_on`), { is_on: false, on_since: null }));
  if (change.splits)
    await writer.replace('split', put(await rowsOf('split_version', sql`runs_until > now()`), { runs_from: null, runs_until: null }));
}

/** What the branch says of reminders ends, and its top says that nobody is reminded of what still counts there. */
async function stopReminders({ tree, actor }: PlanContext, tx: Transaction, writer: ChangeWriter, groupId: number): Promise<void> {
  const inForce = await remindersInForce(tx, tree, groupId);
  const own = (await keptReminders(tx)).filter((each) => tree.has(each.groupId) && tree.isInBranch(each.groupId, groupId));
  await writer.end(
    'reminder',
    own.flatMap(({ rowId }) => rowId ?? []),
  );
  await writer.begin(
    'reminder',
    [...inForce].map((occasion) => ({ group_id: groupId, occasion, made_by: actor.personId })),
  );
}

async function endAccounts(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly number[],
  lastOf: (day: string | null) => string,
): Promise<void> {
  const standing = await tx
    .select({ row_id: tables.personState.rowId, last_day: tables.personState.lastDay })
    .from(tables.personState)
    .where(and(isNull(tables.personState.untilAt), isAmong(tables.personState.personId, people)));
  await writer.replace(
    'person state',
    standing.map(({ row_id, last_day }) => ({ rowId: row_id, values: { last_day: lastOf(last_day) } })),
  );
}
