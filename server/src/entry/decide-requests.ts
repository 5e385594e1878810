import { addTo, type Conflict, type GroupEffect, may, noEffects, type Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, rows, type Transaction } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { writeLetters } from '../letters/write-letters.ts';
import { actableAccount } from '../people/account.ts';
import { mergeAccounts } from '../people/merge-people.ts';
import { beginAccount, letIn } from './let-in.ts';

interface Asking {
  row_id: number;
  person_id: number;
  group_id: number;
  code_id: number;
  powers: Power[] | null;
  tags: string[];
  state: string;
  email: string | null;
  given_name: string;
  id_number: string | null;
}

/** Lets people in who ask, as themselves or as somebody known, or turns them away with a word. */
export const planDecideRequests: Planner<'decide-requests'> = async (context, change) => {
  const { db } = context;
  const asking = await standing(context, change.requestIds);
  const isLetIn = change.decision === 'let in';
  const askers = [...new Set(asking.map(({ person_id }) => person_id))];
  const conflicts: Conflict[] = [];
  const decided = new Set(change.requestIds).size - asking.length;
  if (decided > 0) conflicts.push({ code: 'decided since', blocks: asking.length === 0, count: decided });
  const known = change.asPerson;
  if (known !== null) {
    // An account that is known itself is merged by an act of its own.
    if (!isLetIn || askers.length !== 1 || asking.some(({ state }) => state !== 'asking')) throw notFound();
    await actableAccount(db, context.actor, context.tree, known);
  }
  const effects = { ...noEffects(), conflicts };
  if (isLetIn) {
    Object.assign(effects, await gainsOf(context, asking, known));
    effects.joins = joinsOf(asking.filter(joinsGroup), known);
  }
  effects.changedPeople = [...new Set([...askers, ...(known === null ? [] : [known])])].sort((a, b) => a - b);
  const written = [...new Map(asking.filter(({ email }) => email !== null).map((each) => [each.person_id, each])).values()];
  effects.letters = written.length;
  const groups = [...new Set(asking.map(({ group_id }) => group_id))];
  return {
    effects,
    groups,
    onlyAdds: isLetIn && known === null && asking.every(({ powers }) => powers === null),
    summary: summaryOf({
      groups: groups.slice(0, 3),
      people: askers.slice(0, 3),
      counts: { people: askers.length, as: known === null ? 0 : 1 },
      fields: [change.decision],
    }),
    async write(tx, writer) {
      await writer.replace(
        'join request',
        asking.map(({ row_id }) => ({
          rowId: row_id,
          values: { state: isLetIn ? 'let in' : 'turned away', word: change.word || null, decided_by: context.actor.personId },
        })),
      );
      if (isLetIn) await letThemIn(tx, writer, context, asking, known);
      else await endAskers(tx, writer, askers);
      await writeLetters(
        tx,
        context.publicUrl,
        isLetIn ? 'let in' : 'turned away',
        written.map((each) => ({
          personId: each.person_id,
          address: each.email ?? '',
          groupId: each.group_id,
          values: { name: each.given_name, words: change.word ?? '', link: `${context.publicUrl}/sign-in` },
        })),
      );
      return { people: effects.changedPeople, sessions: effects.changedPeople, entry: true };
    },
  };
};

/** Requests that still ask. @throws ProblemError `not-found` unless the actor decides about every one. */
async function standing({ db, actor, tree }: PlanContext, requestIds: readonly number[]): Promise<Asking[]> {
  const all = await rows<Asking & { stands: boolean }>(
    db,
    sql`
    select r.row_id, r.person_id, r.group_id, r.code_id, v.powers, coalesce(v.tags, '{}') as tags, s.state, n.email, n.given_name, r.answers ->> '#idNumber' as id_number,
      r.until_at is null and r.state = 'asking' as stands
    from join_request r join person_state s on s.person_id = r.person_id and s.until_at is null join personal_now n on n.person_id = r.person_id
    left join lateral (select powers, tags from join_code_version where code_id = r.code_id order by until_at is null desc, row_id desc limit 1) v on true
    where r.row_id = any(${ids(requestIds)}) order by r.row_id`,
  );
  const mayDecide = ({ group_id, powers }: Asking): boolean => {
    const needed: Power[] = ['decideEntry', ...(powers === null ? [] : (['appointLeaders', ...powers] as Power[]))];
    return tree.has(group_id) && needed.every((power) => may(actor, power, { path: tree.path(group_id) }));
  };
  if (all.length === 0 || !all.every(mayDecide)) throw notFound();
  return all.filter(({ stands }) => stands);
}

/** Who is let in by a leader's code leads the group, and is no member of it. */
const joinsGroup = ({ powers }: Asking): boolean => powers === null;

/** What those let in gain: by the groups they join, and by an account that works, which opens what is open to everyone. */
async function gainsOf(context: PlanContext, asking: readonly Asking[], known: number | null): Promise<object> {
  const joining = new Map<number, number[]>();
  for (const { person_id, group_id } of asking.filter(joinsGroup)) addTo(joining, known ?? person_id, group_id);
  return accessOfShift(context, {
    people: {
      personIds: known === null ? [...new Set(asking.map(({ person_id }) => person_id))] : [known],
      afterwards: (person) => ({
        ...person,
        active: true,
        memberships: [
          ...person.memberships,
          ...(joining.get(person.personId) ?? [])
            .filter((id) => !person.memberships.some(({ groupId }) => groupId === id))
            .map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
        ],
      }),
    },
  });
}

function joinsOf(asking: readonly Asking[], known: number | null): GroupEffect[] {
  const byGroup = new Map<number, number[]>();
  for (const { group_id, person_id } of asking) addTo(byGroup, group_id, known ?? person_id);
  return [...byGroup].map(([groupId, persons]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: persons.length }));
}

async function letThemIn(
  tx: Transaction,
  writer: ChangeWriter,
  context: PlanContext,
  asking: readonly Asking[],
  known: number | null,
): Promise<void> {
  const byPerson = new Map<number, Asking[]>();
  for (const each of asking) addTo(byPerson, each.person_id, each);
  for (const [personId, requests] of byPerson) {
    if (known !== null) await mergeAccounts(tx, writer, known, personId);
    else if (requests[0]?.state === 'asking') await beginAccount(tx, writer, context, requests[0]);
    for (const codeId of new Set(requests.map(({ code_id }) => code_id))) {
      const ofCode = requests.filter(({ code_id }) => code_id === codeId);
      await letIn(
        tx,
        writer,
        { id: codeId, powers: ofCode[0]?.powers ?? null, tags: ofCode[0]?.tags ?? [] },
        ofCode.map(({ group_id }) => group_id),
        known ?? personId,
        context.today,
      );
    }
  }
}

/** An account that was made by asking, and is let in nowhere, ends. */
async function endAskers(tx: Transaction, writer: ChangeWriter, askers: readonly number[]): Promise<void> {
  const over = await rows<{ row_id: number }>(
    tx,
    sql`
    select s.row_id from person_state s where s.person_id = any(${ids(askers)}) and s.until_at is null and s.state = 'asking'
      and not exists (select 1 from join_request r where r.person_id = s.person_id and r.until_at is null and r.state = 'asking')`,
  );
  await writer.replace(
    'person state',
    over.map(({ row_id }) => ({ rowId: row_id, values: { state: 'ended' } })),
  );
}
