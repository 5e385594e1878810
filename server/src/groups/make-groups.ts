import { type GroupId, may, nameKey, noEffects, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Appointed, appoint, checkLeaders, newAccounts } from '../accounts/set-leaders.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { ids, rows } from '../database/connect.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { mayShapeIn, nameConflicts } from './shape.ts';

/** Makes groups in a group, with groups in them, and puts leaders in charge: one act builds a tree. */
export const planMakeGroups: Planner<'make-groups'> = async (context, change) => {
  const { tree, actor } = context;
  mayShapeIn(context, change.parentId);
  change.groups.forEach(({ within, like }, index) => {
    if (within !== null && within >= index)
      throw new ProblemError('bad-request', { where: [{ place: `body.change.groups.${index}`, what: 'Stands within a later group' }] });
    if (like !== null && !(tree.has(like) && may(actor, 'see', { path: tree.path(like) }))) throw notFound();
  });
  if (change.groups.some(({ leaders }) => leaders.length > 0) && !may(actor, 'appointLeaders', { path: tree.path(change.parentId) }))
    throw notFound();

  const effects = noEffects();
  effects.conflicts = [...change.groups.flatMap(({ name }) => nameConflicts(name)), ...clashes(context, change)];
  const appointed: Appointed[][] = [];
  for (const { leaders } of change.groups) {
    const checked = await checkLeaders(context, change.parentId, leaders);
    appointed.push(checked.appointed);
    effects.conflicts = [...effects.conflicts, ...checked.conflicts];
  }
  effects.groups.made = change.groups.length;
  effects.newPeople = newAccounts(context, appointed.flat());
  effects.letters = new Set(
    appointed.flat().flatMap(({ person, who }) => (person === null && 'email' in who ? [who.email.toLowerCase()] : [])),
  ).size;
  return {
    effects,
    groups: [change.parentId],
    summary: summaryOf({
      groups: [change.parentId],
      counts: { groups: change.groups.length, leaders: appointed.flat().length },
      names: { before: '', after: tidyName(change.groups[0]?.name ?? '') },
    }),
    async write(tx, writer) {
      const made = await rows<{ id: number }>(
        tx,
        sql`insert into groups (created_at) select now() from generate_series(1, ${change.groups.length}::int) returning id`,
      );
      const idAt = (index: number): GroupId => made[index]?.id ?? 0;
      const models = new Map(
        (
          await rows<{ id: number; values: Record<string, unknown> }>(
            tx,
            sql`
            select id, jsonb_build_object('description', description, 'colour', colour, 'young_learners', young_learners, 'sign_in_prefix', sign_in_prefix) as values
            from group_now where id = any(${ids(change.groups.flatMap(({ like }) => like ?? []))})`,
          )
        ).map(({ id, values }) => [id, values]),
      );
      await writer.begin(
        'group',
        change.groups.map(({ name, within, like }, index) => ({
          young_learners: false,
          ...(like === null ? {} : models.get(like)),
          group_id: idAt(index),
          parent_id: within === null ? change.parentId : idAt(within),
          name: tidyName(name),
          name_key: nameKey(name),
          state: 'active',
        })),
      );
      const tagged = change.groups.flatMap(({ like }, index) => (like === null ? [] : [{ group: idAt(index), like }]));
      await writer.begin(
        'group tag',
        await rows(
          tx,
          sql`select r."group" as group_id, t.tag_id from jsonb_to_recordset(${JSON.stringify(tagged)}::jsonb) as r("group" bigint, "like" bigint) join group_tag t on t.group_id = r."like" and t.until_at is null`,
        ),
      );
      const touched = await appoint(
        tx,
        writer,
        context,
        change.groups.map((_, index) => ({ groupId: idAt(index), leaders: appointed[index] ?? [] })),
      );
      return { ...touched, placed: made.map(({ id }) => id) };
    },
  };
};

/** Names that a sibling has, in the tree or among the new ones. */
function clashes(
  { tree }: PlanContext,
  change: Parameters<typeof planMakeGroups>[1],
): { code: 'name taken'; blocks: true; count: number }[] {
  const taken = new Set(tree.children(change.parentId).map(({ name }) => `/${nameKey(name)}`));
  let count = 0;
  for (const { name, within } of change.groups) {
    const key = `${within ?? ''}/${nameKey(name)}`;
    if (taken.has(key)) count++;
    taken.add(key);
  }
  return count > 0 ? [{ code: 'name taken', blocks: true, count }] : [];
}
