import { type Answer, type KeptView, type Routes, type ShownView, shownView } from '@gate-roster/contract';
import { eq, sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, isAmong, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';
import type { Deps } from '../http/deps.ts';
import type { Cell } from '../http/table.ts';
import { askedOn } from './asked-day.ts';
import { groupMatrix } from './group-table.ts';
import { progressReport } from './report.ts';

interface Row {
  id: number;
  name: string;
  groupId: number;
  group: string;
  shown: unknown;
  forLeaders: boolean;
  isMine: boolean;
  isStart: boolean;
  frozenDay: string | null;
  /** Where the reader opens it: their own branch within, or around, the group it was kept for. */
  openAt: number;
}

/**
 * One's own views, and those that were kept for the leaders of a branch in which one leads: each opens them in their own branch. A view
 * whose group is gone is not among them.
 */
export const keptViews = (db: Queryable, actor: SignedIn): Promise<KeptView[]> =>
  viewsWhere(db, actor, sql`v.owner_id = ${actor.personId} or v.for_leaders`);

/** A view as somebody opens it whom it was sent to; null: they lead nowhere within or around its group. */
export const openedBy = async (db: Queryable, actor: SignedIn, viewId: number): Promise<KeptView | null> =>
  (await viewsWhere(db, actor, sql`v.id = ${viewId}`))[0] ?? null;

async function viewsWhere(db: Queryable, actor: SignedIn, which: SQL): Promise<KeptView[]> {
  const led = actor.leaderships.map(({ groupId }) => groupId);
  const isAdministrator = actor.role === 'administrator';
  const found = await rows<Row>(
    db,
    sql`
    select v.id, v.name, v.group_id as "groupId", g.name as "group", v.shown, v.for_leaders as "forLeaders", v.owner_id = ${actor.personId} as "isMine", v.frozen_day::text as "frozenDay",
      exists (select 1 from start_view s where s.view_id = v.id and s.person_id = ${actor.personId}) as "isStart", at.id as "openAt"
    from kept_view v join group_now g on g.id = v.group_id
    join lateral (
      select case when ${isAdministrator} or exists (select 1 from group_branch b where b.group_id = v.group_id and b.ancestor_id = any(${ids(led)})) then v.group_id
        else (select b.group_id from group_branch b where b.ancestor_id = v.group_id and b.group_id = any(${ids(led)}) order by b.depth, b.group_id limit 1) end as id
    ) at on at.id is not null
    where ${which}
    order by v.owner_id = ${actor.personId} desc, v.name, v.id`,
  );
  const names = new Map(
    (
      await db
        .select({ id: tables.groupNow.id, name: tables.groupNow.name })
        .from(tables.groupNow)
        .where(
          isAmong(
            tables.groupNow.id,
            found.map(({ openAt }) => openAt),
          ),
        )
    ).map(({ id, name }) => [id, name]),
  );
  return found.flatMap(({ groupId: _group, group: _name, openAt, shown, ...view }) => {
    // One that an older version kept, and that is none any more, is left out.
    const read = shownView.safeParse(shown);
    return read.success ? [{ ...view, shown: read.data, group: { id: openAt, name: names.get(openAt) ?? '' } }] : [];
  });
}

/** @returns Its number; a view of the owner's of that name is replaced. */
export async function keepView(
  deps: Pick<Deps, 'db' | 'pastDays' | 'columns'>,
  actor: SignedIn,
  groupId: number,
  { name, forLeaders, shown, frozen }: { name: string; forLeaders: boolean; shown: ShownView; frozen: boolean },
): Promise<number> {
  const at = frozen ? await askedOn(deps, actor, shown.day ?? undefined) : null;
  const table = at && groupMatrix(await progressReport(at.db, at.reader, groupId, shown.subgroups === 'yes', shown.filter, shown));
  const figures = table && JSON.stringify({ head: table.head, lines: table.lines });
  const { db } = deps;
  const { id } = await oneRow<{ id: number }>(
    db,
    sql`
    insert into kept_view (owner_id, group_id, name, shown, for_leaders, frozen, frozen_day)
    values (${actor.personId}, ${groupId}, ${name}, ${JSON.stringify(shown)}::jsonb, ${forLeaders}, ${figures}::jsonb, ${at?.reader.actor.today ?? null}::date)
    on conflict (owner_id, name) do update set group_id = excluded.group_id, shown = excluded.shown, for_leaders = excluded.for_leaders, frozen = excluded.frozen, frozen_day = excluded.frozen_day, made_at = now() returning id`,
  );
  // What speaks of a day that is past is the same each week.
  if (frozen || shown.day !== null) await db.delete(tables.reportLetter).where(eq(tables.reportLetter.viewId, id));
  return id;
}

/** @throws ProblemError `not-found` unless it is one's own, was kept as it stood, and one still sees the progress of its group. */
export async function keptTable(db: Queryable, actor: SignedIn, viewId: number): Promise<Answer<Routes['keptTable']>> {
  const view = await maybeRow<{
    title: string;
    groupId: number;
    day: string;
    shown: ShownView;
    frozen: { head: string[]; lines: Cell[][] };
  }>(
    db,
    sql`select name as title, group_id as "groupId", frozen_day::text as day, shown, frozen from kept_view where id = ${viewId} and owner_id = ${actor.personId} and frozen is not null`,
  );
  if (!view) throw notFound();
  const path = await pathTo(db, actor, view.groupId, 'seeProgress');
  return { title: view.title, day: view.day, group: path.at(-1)?.name ?? '', says: view.shown.filter.length, ...view.frozen };
}

/** @throws ProblemError `not-found` unless it is one's own. */
export async function dropView(db: Queryable, actor: SignedIn, viewId: number): Promise<void> {
  const gone = await db.execute(sql`delete from kept_view where id = ${viewId} and owner_id = ${actor.personId}`);
  if (gone.rowCount !== 1) throw notFound();
}

/** @throws ProblemError `not-found` when it is none of those that one may open. */
export async function startWith(db: Queryable, actor: SignedIn, viewId: number | null): Promise<void> {
  if (viewId === null) {
    await db.delete(tables.startView).where(eq(tables.startView.personId, actor.personId));
    return;
  }
  if (!(await keptViews(db, actor)).some(({ id }) => id === viewId)) throw notFound();
  await db
    .insert(tables.startView)
    .values({ personId: actor.personId, viewId })
    .onConflictDoUpdate({ target: tables.startView.personId, set: { viewId } });
}
