import { branchesWith, may, nameKey, noEffects, speakingBranch, tidyName } from '@gate-roster/core';
import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { branchTops } from '../accounts/reach.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, ids, maybeRow, planFor, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { groupsOf } from './scope.ts';
import { beginTags, ensureTags, tagRows } from './tagging.ts';

interface CountedTag {
  id: number;
  name: string;
  colour: string | null;
  people: number;
  isOwn: boolean;
}

/** Tags (`t`) that a reader may know of: of their branches, and of the groups above them. */
export function seenTags(actor: SignedIn): SQL {
  const tops = branchTops(actor);
  return tops === null
    ? sql`true`
    : sql`t.branch_id in (select ancestor_id from group_branch where group_id = any(${ids(tops)}) union select group_id from group_branch where ancestor_id = any(${ids(tops)}))`;
}

/** Tags that people of a branch have, and those that the reader may give; how many people have each. */
export async function tagsOfBranch(db: Queryable, actor: SignedIn, groupId: number): Promise<CountedTag[]> {
  const manages = branchesWith(actor, 'managePeople');
  const isOwn =
    manages === null ? sql`true` : sql`t.branch_id in (select group_id from group_branch where ancestor_id = any(${ids(manages)}))`;
  return rows<CountedTag>(
    db,
    sql`
    select t.id, t.name, t.colour, coalesce(n.people, 0) as people, ${isOwn} as "isOwn"
    from tag_now t left join lateral (select count(distinct pt.person_id)::int as people from person_tag pt where pt.tag_id = t.id and pt.until_at is null
      and exists (select 1 from membership m where m.person_id = pt.person_id and m.until_at is null and m.group_id in (${groupsOf(groupId, true)}))) n on true
    where ${seenTags(actor)} and (n.people > 0 or ${isOwn}) order by t.name collate people_order`,
  );
}

/** Gives many people tags, and takes others from them. */
export const planTagPeople: Planner<'tag-people'> = async (context, change) => {
  const { db, actor, tree } = context;
  if (!tree.has(change.groupId) || !may(actor, 'managePeople', { path: tree.path(change.groupId) })) throw notFound();
  const personIds = await managedPeople(context, change.personIds);
  const removing = await rows<{ id: number }>(
    db,
    sql`select id from tag_now t where id = any(${ids(change.remove)}) and ${seenTags(actor)}`,
  );
  if (removing.length < new Set(change.remove).size) throw notFound();
  const path = tree.path(change.groupId);
  const branch = speakingBranch(actor, 'managePeople', { path }) ?? path[0] ?? change.groupId;
  const effects = noEffects();
  effects.changedPeople = await peopleWhoChange(context, personIds, change, branch);
  if (effects.changedPeople.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    onlyAdds: change.remove.length === 0,
    groups: [change.groupId],
    summary: summaryOf({
      groups: [change.groupId],
      people: effects.changedPeople.slice(0, 3),
      counts: { people: effects.changedPeople.length, added: change.add.length, removed: change.remove.length },
      names: { before: '', after: change.add.map(tidyName).join(', ') },
    }),
    async write(tx, writer) {
      await writer.end('person tag', await tagRows(tx, personIds, change.remove));
      const tags = await ensureTags(tx, writer, change.add, branch);
      await beginTags(
        tx,
        writer,
        personIds.flatMap((personId) => [...tags.values()].map((tagId) => ({ personId, tagId }))),
      );
      return {};
    },
  };
};

/**
 * People who are in groups where the actor manages people, now or later; of an administrator all there are.
 * @throws ProblemError `not-found` when one of them is not.
 */
async function managedPeople({ db, actor, today }: PlanContext, wanted: readonly number[]): Promise<number[]> {
  const tops = branchesWith(actor, 'managePeople');
  const isManaged =
    tops === null
      ? sql`true`
      : sql`exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and coalesce(m.last_day >= ${today}, true)
          and m.group_id in (select group_id from group_branch where ancestor_id = any(${ids(tops)})))`;
  const people = await rows<{ id: number }>(
    db,
    sql`
    select p.id from person p where p.id = any(${ids(wanted)}) and ${isManaged}
      and exists (select 1 from person_state s where s.person_id = p.id and s.until_at is null) order by p.id`,
    planFor(wanted.length),
  );
  if (people.length < new Set(wanted).size) throw notFound();
  return people.map(({ id }) => id);
}

async function peopleWhoChange(
  { db }: PlanContext,
  personIds: readonly number[],
  change: { add: string[]; remove: number[] },
  branch: number,
): Promise<number[]> {
  const keys = [...new Set(change.add.map(nameKey))];
  const found = await rows<{ id: number }>(
    db,
    sql`
    select p as id from unnest(${ids(personIds)}) p where
      exists (select 1 from person_tag x where x.person_id = p and x.until_at is null and x.tag_id = any(${ids(change.remove)}))
      or exists (select 1 from jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb) k where not exists (
        select 1 from person_tag x join tag_now t on t.id = x.tag_id join group_branch b on b.ancestor_id = t.branch_id and b.group_id = ${branch}
        where x.person_id = p and x.until_at is null and t.name_key = k))
    order by 1`,
  );
  return found.map(({ id }) => id);
}

interface TagRow {
  id: number;
  row_id: number;
  branch_id: number;
  name: string;
  name_key: string;
  colour: string | null;
}

/** @throws ProblemError `not-found` unless the tag belongs to a branch in which the actor manages people. */
async function ownTag({ db, actor, tree }: PlanContext, tagId: number): Promise<TagRow> {
  const tag = await maybeRow<TagRow>(db, sql`select * from tag_now where id = ${tagId}`);
  if (!tag || !tree.has(tag.branch_id) || !may(actor, 'managePeople', { path: tree.path(tag.branch_id) })) throw notFound();
  return tag;
}

export const planEditTag: Planner<'edit-tag'> = async (context, change) => {
  const tag = await ownTag(context, change.tagId);
  const name = tidyName(change.name);
  const effects = noEffects();
  const taken = await firstOf(
    context.db
      .select({ id: tables.tagNow.id })
      .from(tables.tagNow)
      .where(and(eq(tables.tagNow.branchId, tag.branch_id), eq(tables.tagNow.nameKey, nameKey(name)), ne(tables.tagNow.id, tag.id))),
  );
  if (name === '') effects.conflicts.push({ code: 'name missing', blocks: true, count: 1 });
  if (taken) effects.conflicts.push({ code: 'name taken', blocks: true, count: 1 });
  if (name === tag.name && change.colour === tag.colour) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: [tag.branch_id],
    summary: summaryOf({ groups: [tag.branch_id], names: { before: tag.name, after: name } }),
    async write(_tx, writer) {
      await writer.replace('tag', [{ rowId: tag.row_id, values: { name, name_key: nameKey(name), colour: change.colour } }]);
      return {};
    },
  };
};

/** Everybody and every group that has one of the others has this tag afterwards; the others are gone. */
export const planMergeTags: Planner<'merge-tags'> = async (context, change) => {
  const { db } = context;
  const kept = await ownTag(context, change.tagId);
  const gone: TagRow[] = [];
  for (const id of new Set(change.gone)) gone.push(await ownTag(context, id));
  const effects = noEffects();
  const goneIds = gone.map(({ id }) => id);
  if (goneIds.includes(kept.id)) effects.conflicts.push({ code: 'in itself', blocks: true, count: 1 });
  const having = await rows<{ row_id: number; person_id: number; has: boolean }>(
    db,
    sql`
    select x.row_id, x.person_id, exists (select 1 from person_tag k where k.person_id = x.person_id and k.tag_id = ${kept.id} and k.until_at is null) as has
    from person_tag x where x.tag_id = any(${ids(goneIds)}) and x.until_at is null order by x.row_id`,
  );
  effects.changedPeople = [...new Set(having.map(({ person_id }) => person_id))].sort((a, b) => a - b);
  return {
    effects,
    groups: [...new Set([kept, ...gone].map(({ branch_id }) => branch_id))],
    summary: summaryOf({
      groups: [kept.branch_id],
      counts: { people: effects.changedPeople.length },
      names: { before: gone.map(({ name }) => name).join(', '), after: kept.name },
    }),
    async write(tx, writer) {
      await writer.end(
        'person tag',
        having.map(({ row_id }) => row_id),
      );
      const missing = new Set(having.filter(({ has }) => !has).map(({ person_id }) => person_id));
      await writer.begin(
        'person tag',
        [...missing].map((person_id) => ({ person_id, tag_id: kept.id })),
      );
      const onGroups = await rows<{ row_id: number; group_id: number; has: boolean }>(
        tx,
        sql`
        select x.row_id, x.group_id, exists (select 1 from group_tag k where k.group_id = x.group_id and k.tag_id = ${kept.id} and k.until_at is null) as has
        from group_tag x where x.tag_id = any(${ids(goneIds)}) and x.until_at is null`,
      );
      await writer.end(
        'group tag',
        onGroups.map(({ row_id }) => row_id),
      );
      await writer.begin(
        'group tag',
        [...new Set(onGroups.filter(({ has }) => !has).map(({ group_id }) => group_id))].map((group_id) => ({ group_id, tag_id: kept.id })),
      );
      await writer.end(
        'tag',
        gone.map(({ row_id }) => row_id),
      );
      return {};
    },
  };
};
