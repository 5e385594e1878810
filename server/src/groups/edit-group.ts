import type { GroupValues, Some } from '@gate-roster/contract';
import { type Conflict, nameKey, noEffects, speakingBranch, tidyName } from '@gate-roster/core';
import { and, eq, isNull, ne, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, maybeRow, oneRow, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { ensureTags } from '../people/tagging.ts';
import { mayShapeIn, nameConflicts, takenNames } from './shape.ts';

/** What is kept of each value, beside tags and handouts which have rows of their own. */
const columnOf = {
  name: 'name',
  idNumber: 'id_number',
  description: 'description',
  colour: 'colour',
  pictureId: 'picture_id',
  contactId: 'contact_id',
  signInPrefix: 'sign_in_prefix',
  youngLearners: 'young_learners',
  firstDay: 'first_day',
  lastDay: 'last_day',
} as const satisfies Partial<Record<keyof GroupValues, string>>;

/** Changes what is said of a group: its name, days, contact, tags, handouts and so on. */
export const planEditGroup: Planner<'edit-group'> = async (context, change) => {
  const { tree, db } = context;
  const { groupId, values } = change;
  mayShapeIn(context, groupId);
  const node = tree.node(groupId);
  const current = await oneRow<
    Record<string, unknown> & { row_id: number; parent_id: number | null; id_issuer: number | null; picture_id: number | null }
  >(db, sql`select * from group_now where id = ${groupId}`);
  const columns = tidied(context, groupId, values, current.id_issuer);
  const changed = Object.fromEntries(Object.entries(columns).filter(([column, value]) => value !== current[column]));
  const after = tree.with(
    new Map([[groupId, { ...node, ...(values.name === undefined ? {} : { name: tidyName(values.name) }), ...daysOf(values) }]]),
  );
  const movesDays = 'first_day' in changed || 'last_day' in changed;
  const isOutOfOrder = (after.node(groupId).firstDay ?? '') > (after.node(groupId).lastDay ?? '9999');

  const effects = noEffects();
  if (movesDays && !isOutOfOrder) Object.assign(effects, await accessOfShift(context, { tree: after, branches: [groupId] }));
  effects.conflicts = [
    ...(values.name === undefined ? [] : nameConflicts(values.name)),
    ...takenNames(after, [groupId]),
    ...(await valueConflicts(context, groupId, values, columns)),
  ];
  if (isOutOfOrder) effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  if (Object.keys(changed).length === 0 && !values.tags && !values.handouts)
    effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      ...('name' in changed ? { names: { before: node.name, after: String(changed['name']) } } : {}),
      fields: (Object.keys(values) as (keyof GroupValues)[]).filter(
        (field) => !(field in columnOf) || columnOf[field as keyof typeof columnOf] in changed,
      ),
    }),
    async write(tx, writer) {
      if (Object.keys(changed).length > 0) await writer.replace('group', [{ rowId: current.row_id, values: changed }]);
      if (values.tags) await setTags(tx, writer, context, groupId, values.tags);
      if (values.handouts) await setHandouts(tx, writer, groupId, values.handouts);
      return movesDays ? { branches: [groupId] } : {};
    },
  };
};

function tidied(context: PlanContext, groupId: number, values: Some<GroupValues>, issuer: number | null): Record<string, unknown> {
  const text = (value: string | null): string | null => (value?.trim() ? value.trim() : null);
  const columns: Record<string, unknown> = {};
  for (const [field, column] of Object.entries(columnOf)) {
    const value = values[field as keyof typeof columnOf];
    if (value !== undefined) columns[column] = typeof value === 'string' ? text(value) : value;
  }
  if (values.name !== undefined) Object.assign(columns, { name: tidyName(values.name), name_key: nameKey(values.name) });
  if (values.signInPrefix) columns['sign_in_prefix'] = values.signInPrefix.trim().toLowerCase();
  // ID numbers are unique for whoever issues them: the platform, or the branch in whose name a leader speaks.
  if (values.idNumber !== undefined)
    columns['id_issuer'] =
      text(values.idNumber) === null
        ? null
        : (issuer ?? speakingBranch(context.actor, 'shapeGroups', { path: context.tree.path(groupId) }) ?? context.tree.path(groupId)[0]);
  return columns;
}

const daysOf = ({ firstDay, lastDay }: Some<GroupValues>): { firstDay?: string | null; lastDay?: string | null } => ({
  ...(firstDay === undefined ? {} : { firstDay }),
  ...(lastDay === undefined ? {} : { lastDay }),
});

async function valueConflicts(
  context: PlanContext,
  groupId: number,
  values: Some<GroupValues>,
  columns: Record<string, unknown>,
): Promise<Conflict[]> {
  const { db, seen } = context;
  const conflicts: Conflict[] = [];
  if (columns['id_number'] != null) {
    const taken = await firstOf(
      db
        .select({ id: tables.groupNow.id })
        .from(tables.groupNow)
        .where(
          and(
            eq(tables.groupNow.idIssuer, columns['id_issuer'] as number),
            eq(tables.groupNow.idNumber, columns['id_number'] as string),
            ne(tables.groupNow.id, groupId),
          ),
        ),
    );
    if (taken) conflicts.push({ code: 'id number taken', blocks: true, count: 1 });
  }
  if (values.signInPrefix && !/^[a-z0-9]{1,12}$/u.test(values.signInPrefix.trim().toLowerCase()))
    conflicts.push({ code: 'prefix wrong', blocks: true, count: 1 });
  if (values.contactId) {
    const known = await maybeRow<{ groups: number[] }>(
      db,
      sql`
      select array(select group_id from membership where person_id = p.id and until_at is null union select group_id from leadership where person_id = p.id and until_at is null) as groups
      from person p where p.id = ${values.contactId}`,
    );
    if (!known || !(seen === null || known.groups.some(seen))) throw notFound();
  }
  const wrong = (values.handouts ?? []).filter(
    ({ url, uploadId }) => (url === null) === (uploadId === null) || (url !== null && !isWebLink(url)),
  );
  if (wrong.length > 0) conflicts.push({ code: 'link wrong', blocks: true, count: wrong.length });
  await checkUploads(
    context,
    groupId,
    [values.pictureId ?? null, ...(values.handouts ?? []).map(({ uploadId }) => uploadId)].flatMap((id) => id ?? []),
  );
  return conflicts;
}

const isWebLink = (text: string): boolean => URL.canParse(text) && ['http:', 'https:'].includes(new URL(text).protocol);

/** An upload belongs to whoever made it until it hangs on a group; nobody hangs up another group's. */
async function checkUploads({ db, actor }: PlanContext, groupId: number, uploads: readonly number[]): Promise<void> {
  for (const id of uploads) {
    const mine = await maybeRow(
      db,
      sql`
      select 1 from upload u where u.id = ${id} and (u.made_by = ${actor.personId}
        or exists (select 1 from group_now g where g.id = ${groupId} and g.picture_id = u.id)
        or exists (select 1 from handout h where h.group_id = ${groupId} and h.upload_id = u.id and h.until_at is null))`,
    );
    if (!mine) throw new ProblemError('not-found');
  }
}

async function setTags(
  tx: Transaction,
  writer: ChangeWriter,
  context: PlanContext,
  groupId: number,
  names: readonly string[],
): Promise<void> {
  const path = context.tree.path(groupId);
  const branch = speakingBranch(context.actor, 'shapeGroups', { path }) ?? path[0] ?? groupId;
  const wanted = new Set((await ensureTags(tx, writer, names, branch)).values());
  const standing = await tx
    .select({ row_id: tables.groupTag.rowId, tag_id: tables.groupTag.tagId })
    .from(tables.groupTag)
    .where(and(eq(tables.groupTag.groupId, groupId), isNull(tables.groupTag.untilAt)));
  await writer.end(
    'group tag',
    standing.filter(({ tag_id }) => !wanted.has(tag_id)).map(({ row_id }) => row_id),
  );
  await writer.begin(
    'group tag',
    [...wanted].filter((id) => !standing.some(({ tag_id }) => tag_id === id)).map((tag_id) => ({ group_id: groupId, tag_id })),
  );
}

async function setHandouts(tx: Transaction, writer: ChangeWriter, groupId: number, wanted: GroupValues['handouts']): Promise<void> {
  const standing = await tx
    .select({ row_id: tables.handout.rowId, title: tables.handout.title, url: tables.handout.url, upload_id: tables.handout.uploadId })
    .from(tables.handout)
    .where(and(eq(tables.handout.groupId, groupId), isNull(tables.handout.untilAt)));
  const same = (a: GroupValues['handouts'][number], b: (typeof standing)[number]): boolean =>
    a.title === b.title && a.url === b.url && a.uploadId === b.upload_id;
  await writer.end(
    'handout',
    standing.filter((old) => !wanted.some((each) => same(each, old))).map(({ row_id }) => row_id),
  );
  await writer.begin(
    'handout',
    wanted
      .filter((each) => !standing.some((old) => same(each, old)))
      .map(({ title, url, uploadId }) => ({ group_id: groupId, title, url, upload_id: uploadId })),
  );
}
