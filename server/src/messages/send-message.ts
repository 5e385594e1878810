import type { Change } from '@gate-roster/contract';
import { type Conflict, may, noEffects, tidyName } from '@gate-roster/core';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, ids, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { filterReader, whoFits } from '../filters/conditions.ts';
import { notFound } from '../http/problem.ts';
import { ringForWork } from '../jobs/bell.ts';
import { announce } from '../live/announce.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { inGroups, oneOf, reachedBy, wayOfLetter, writtenTo } from './audience.ts';

type SendMessage = Extract<Change, { kind: 'send-message' }>;

/** Who writes more than this in an hour waits. */
const mostInHour = 100;

/** Writes to whole groups, to chosen people, or to those who fit a filter now. Letters follow when it has committed. */
export const planSendMessage: Planner<'send-message'> = async (context, change) => {
  const { db, actor, tree } = context;
  const { audience, values, groupId } = change;
  if (!tree.has(groupId) || !may(actor, 'writeMessages', { path: tree.path(groupId) })) throw notFound();
  await checkParts(context, change);
  const named = audience.to === 'groups' ? [...new Set(audience.groupIds)] : null;
  const toGroups = audience.to === 'groups' && audience.onlyNow === true ? null : named;
  // A message is its group's: whom it reaches are people of that branch.
  if (named?.some((id) => !tree.has(id) || !tree.isInBranch(id, groupId))) throw notFound();
  const people = await rows<{ id: number; way: 'guardian' | 'letter' | 'asked' | 'none'; letters: string; has_signed_in: boolean }>(
    db,
    sql`
    select p.id, ${wayOfLetter} as way, p.letters, p.signed_in_at is not null as has_signed_in from person p join personal_now n on n.person_id = p.id
    where ${await who(context, change)} order by p.id`,
  );
  if (audience.to === 'people' && people.length < new Set(audience.personIds).size) throw notFound();
  const effects = noEffects();
  effects.reached = people.map(({ id }) => id);
  const wanting = people.filter(({ letters }) => values.urgent || letters !== 'never');
  effects.byLetter = wanting.flatMap(({ id, way }) => (way === 'letter' || way === 'guardian' ? [id] : []));
  effects.letters = effects.byLetter.length;
  effects.guardians = wanting.flatMap(({ id, way }) => (way === 'guardian' ? [id] : []));
  effects.confirming = wanting.filter(({ way }) => way === 'asked').length;
  effects.conflicts = await conflictsOf(
    context,
    change,
    people.length,
    people.filter(({ way, has_signed_in }) => way === 'none' && !has_signed_in).map(({ id }) => id),
  );
  return {
    effects,
    groups: [...new Set([groupId, ...(named ?? [])])],
    summary: summaryOf({
      groups: (named ?? [groupId]).slice(0, 3),
      people: named === null ? effects.reached.slice(0, 3) : [],
      names: { before: '', after: tidyName(values.title) },
      counts: { people: people.length },
      fields: [values.kind],
    }),
    async write(tx, writer) {
      const { id } = await oneRow<{ id: number }>(tx, sql`insert into message default values returning id`);
      await writer.begin('message', [
        {
          message_id: id,
          kind: values.kind,
          title: tidyName(values.title),
          body: values.body,
          group_id: groupId,
          to_groups: toGroups,
          with_subgroups: audience.to === 'people' ? true : audience.withSubgroups,
          answers: values.answers,
          urgent: values.urgent,
          pinned_until: values.pinnedUntil,
          due_day: values.kind === 'message' ? null : values.dueDay,
          closes: values.kind !== 'message' && values.dueDay !== null && values.closes,
          activity_id: values.kind === 'task' ? values.activityId : null,
          own_words: values.kind === 'question' && values.ownWords,
          is_named: values.isNamed,
          tally: values.tally,
          tags: [...new Set(values.tags.map(tidyName))],
          file_ids: [...new Set(values.fileIds)],
          choices: values.kind === 'question' ? values.choices : null,
          several: values.several,
          made_by: actor.personId,
          sent_at: values.sendAt ?? new Date().toISOString(),
        },
      ]);
      // Chosen people are fixed when it is sent; of whole groups whoever is in them sees it.
      if (toGroups === null)
        await tx.execute(
          sql`insert into message_reader (message_id, person_id, is_chosen) select ${id}, p, true from unnest(${ids(effects.reached)}) p`,
        );
      if (values.kind === 'task' && values.activityId !== null)
        await doneByWork(
          tx,
          { messageId: id, toGroups, withSubgroups: audience.to === 'people' || audience.withSubgroups },
          values.activityId,
        );
      await ringForWork(tx);
      return { messages: true };
    },
  };
};

/** @throws ProblemError `not-found` for files of others, and for an activity that asks for no work. */
async function checkParts({ db, actor }: PlanContext, { values }: SendMessage): Promise<void> {
  const fileIds = new Set(values.fileIds);
  const { files } = await oneRow<{ files: number }>(
    db,
    sql`select count(*)::int as files from upload where id = any(${ids(fileIds)}) and made_by = ${actor.personId}`,
  );
  if (files < fileIds.size) throw notFound();
  if (
    values.activityId !== null &&
    !(await firstOf(
      db
        .select({ id: tables.activityNow.id })
        .from(tables.activityNow)
        .where(and(eq(tables.activityNow.id, values.activityId), eq(tables.activityNow.finishedBy, 'marker'))),
    ))
  )
    throw notFound();
}

/** Who has handed it in already has done the task. */
async function doneByWork(tx: Queryable, message: Parameters<typeof reachedBy>[0], activityId: number): Promise<void> {
  await tx.execute(sql`
    insert into message_reader (message_id, person_id, done_at)
    select ${message.messageId}, p.id, max(v.handed_in_at) from person p join work w on w.person_id = p.id and w.activity_id = ${activityId} join work_version v on v.work_id = w.id and v.state <> 'draft'
    where ${reachedBy(message)} group by p.id
    on conflict (message_id, person_id) do update set done_at = excluded.done_at`);
}

/** Marks the tasks that ask for this work as done for the person who handed it in. */
export async function noteHandedIn(tx: Queryable, personId: number, activityId: number, today: string): Promise<void> {
  const tasks = await rows<{ group_id: number }>(
    tx,
    sql`
    with tasks as (
      select v.message_id, v.group_id from message_version v where v.until_at is null and v.activity_id = ${activityId} and v.sent_at <= now() and ${writtenTo(personId, today)}
    ), noted as (
      insert into message_reader (message_id, person_id, seen_at, done_at) select message_id, ${personId}, now(), now() from tasks
      on conflict (message_id, person_id) do update set done_at = coalesce(message_reader.done_at, now())
    )
    select group_id from tasks`,
  );
  if (tasks.length > 0) await announce(tx, { topics: ['messages'], groups: tasks.map(({ group_id }) => group_id) });
}

/** People `p` whom it is written to. */
async function who({ db, actor }: PlanContext, { audience, groupId }: SendMessage): Promise<SQL> {
  const inBranch = isCounted(groupId, true);
  if (audience.to === 'groups') return inGroups(audience.groupIds, audience.withSubgroups);
  if (audience.to === 'people') return sql`${inBranch} and ${oneOf(audience.personIds)}`;
  return whoFits(
    await filterReader(db, actor),
    isCounted(groupId, audience.withSubgroups),
    groupsOf(groupId, audience.withSubgroups),
    audience.filter,
  );
}

async function conflictsOf(
  { db, actor, today }: PlanContext,
  { values }: SendMessage,
  reached: number,
  noWay: readonly number[],
): Promise<Conflict[]> {
  const conflicts: Conflict[] = [];
  if (reached === 0) conflicts.push({ code: 'reaches nobody', blocks: true, count: 1 });
  if (noWay.length > 0) conflicts.push({ code: 'no way to reach', blocks: false, count: noWay.length, people: noWay });
  if (values.kind === 'question' && values.choices.length < (values.ownWords ? 0 : 2))
    conflicts.push({ code: 'too few choices', blocks: true, count: 1 });
  if (
    (values.kind !== 'message' && values.dueDay !== null && values.dueDay < today) ||
    (values.pinnedUntil !== null && values.pinnedUntil < today)
  )
    conflicts.push({ code: 'day is past', blocks: true, count: 1 });
  const { lately } = await oneRow<{ lately: number }>(
    db,
    sql`select count(*)::int as lately from message_version where made_by = ${actor.personId} and from_at > now() - interval '1 hour'`,
  );
  if (lately >= mostInHour) conflicts.push({ code: 'too many messages', blocks: true, count: 1 });
  return conflicts;
}

/** Takes a message off every page, and its letters that have not left; what has gone out cannot be called back. */
export const planWithdrawMessage: Planner<'withdraw-message'> = async ({ db, actor, tree }, { messageId }) => {
  const standing = await maybeRow<{ row_id: number; group_id: number; title: string; to_groups: number[] | null; kind: string }>(
    db,
    sql`select row_id, group_id, title, to_jsonb(to_groups) as to_groups, kind from message_version where message_id = ${messageId} and until_at is null`,
  );
  if (!standing || !tree.has(standing.group_id) || !may(actor, 'writeMessages', { path: tree.path(standing.group_id) })) throw notFound();
  return {
    effects: noEffects(),
    groups: [...new Set([standing.group_id, ...(standing.to_groups ?? [])])],
    summary: summaryOf({ groups: [standing.group_id], names: { before: '', after: standing.title }, fields: [standing.kind] }),
    async write(_, writer) {
      await writer.end('message', [standing.row_id]);
      return { messages: true };
    },
  };
};
