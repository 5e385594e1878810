import { type Answer, type Routes, type SharedView, type ShownView, sharedViewNames, shownView } from '@gate-roster/contract';
import { type Filter, leastShown, may, rowsWithoutSmall } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { hashOf, makeToken } from '../accounts/tokens.ts';
import { type Database, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, whoFits } from '../filters/conditions.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import type { Cell, Table } from '../http/table.ts';
import { groupsOf, isCounted } from '../people/scope.ts';
import { askedOn } from './asked-day.ts';
import { groupMatrix } from './group-table.ts';
import { insideTable } from './inside-course.ts';
import { learnersTable } from './learners.ts';
import { progressReport, reportFigures } from './report.ts';
import { besideTable, sideBySide } from './side-by-side.ts';

/** A link is read in a browser by somebody in a hurry; more lines are taken away as a file. */
const mostLines = 5000;

/** What a link is read with. */
type Reading = Pick<Deps, 'db' | 'pastDays' | 'columns'>;
type Shared = ShownView & { view: (typeof sharedViewNames)[number] };

/**
 * What a link shows, as its maker sees it: the tables that are taken away as files. Learners whose names are hidden, and young ones, are left out of
 * what has names; without names, small groups stand together.
 */
async function sharedTable(deps: Reading, actor: SignedIn, groupId: number, shown: Shared, withNames: boolean): Promise<Table> {
  const withSubgroups = shown.subgroups === 'yes';
  const filter: Filter = withNames
    ? [...shown.filter, { part: 'name hidden', is: false }, { part: 'young learner', is: false }]
    : shown.filter;
  const { db, reader } = await askedOn(deps, actor, shown.day ?? undefined);
  const asked = { subgroups: shown.subgroups, filter, counted: 'yes', countedOnly: true, fits: 'yes' } as const;
  switch (shown.view) {
    case 'groups':
      return withNames
        ? groupMatrix(await progressReport(db, reader, groupId, withSubgroups, shown.filter, shown))
        : namelessTable(db, reader, groupId, withSubgroups, shown);
    case 'learners':
      return learnersTable(db, reader, groupId, { ...asked, sort: shown.sort });
    case 'course':
      return insideTable(db, reader, groupId, { ...asked, sort: 'name', ...(shown.courseId === null ? {} : { courseId: shown.courseId }) });
    case 'beside':
      return besideTable(
        await sideBySide(db, reader, groupId, shown.groups, withSubgroups, shown.filter, { onCommonUnits: shown.count === 'common' }),
      );
  }
}

/** The groups right below the scope, each row of at least five learners; a learner of two of them counts once in it. */
async function namelessTable(
  db: Database,
  reader: FilterReader,
  groupId: number,
  withSubgroups: boolean,
  { filter, without, by }: Shared,
): Promise<Table> {
  const report = await progressReport(db, reader, groupId, withSubgroups, filter, { without, by });
  const [scope, ...below] = report.rows.filter(({ depth }) => depth <= 1);
  if (!scope || scope.learners < leastShown) return { ...groupMatrix(report), lines: [] };
  const small = below.filter(({ learners }) => learners < leastShown);
  const peopleOf = async (id: number): Promise<number[]> => {
    const fitting = whoFits(reader, isCounted(id, withSubgroups), groupsOf(id, withSubgroups), filter);
    return (await rows<{ id: number }>(db, sql`select p.id from person p where ${fitting}`)).map((person) => person.id);
  };
  const people = new Map<number, number[]>();
  for (const { id } of small) people.set(id, await peopleOf(id));
  const together = rowsWithoutSmall(below.map(({ id, learners }) => ({ id, size: learners, people: people.get(id) ?? [] })));
  const list = await Promise.all(
    together.map(async (groups) => {
      const named = below.filter(({ id }) => groups.includes(id));
      const [first] = named;
      if (!first) throw new RangeError('a row of no groups');
      if (named.length === 1) return first;
      const within: Filter = [...filter, { part: 'groups', how: 'in', ids: groups, withSubgroups: true }];
      const figures = await reportFigures(db, reader, { groupId, withSubgroups, filter: within }, [groupId]);
      const cells = new Map(figures.byCourse.map(({ courseId, tally }) => [courseId, tally]));
      return {
        ...first,
        name: named.map(({ name }) => name).join(' and '),
        learners: figures.learners.get(groupId) ?? 0,
        total: figures.totals.get(groupId) ?? first.total,
        cells: report.courses.map(({ id }) => cells.get(id) ?? null),
        medians: null,
      };
    }),
  );
  return groupMatrix({ ...report, rows: [scope, ...list] });
}

/** May somebody still share what a group of this branch does? */
const maySee = (actor: SignedIn, path: readonly number[]): boolean =>
  may(actor, 'seeProgress', { path: [...path] }) && may(actor, 'export', { path: [...path] });

/** @returns The new link's number and key; the key is not kept. @throws ProblemError `not-found`, `too-large`. */
export async function shareView(
  deps: Reading,
  actor: SignedIn,
  groupId: number,
  asked: { title: string; shown: Shared; says: readonly string[]; withNames: boolean; frozen: boolean; lastDay: string },
): Promise<{ id: number; key: string }> {
  const { db } = deps;
  const tree = await wholeTree(db);
  for (const id of [groupId, ...asked.shown.groups]) if (!tree.has(id) || !maySee(actor, tree.path(id))) throw notFound();
  const table = await sharedTable(deps, actor, groupId, asked.shown, asked.withNames);
  if (table.lines.length > mostLines) throw new ProblemError('too-large');
  const { token, hash } = makeToken();
  const frozen = asked.frozen ? JSON.stringify({ head: table.head, lines: table.lines }) : null;
  const { id } = await oneRow<{ id: number }>(
    db,
    sql`
    insert into shared_view (hash, made_by, group_id, title, shown, says, with_names, frozen, frozen_day, last_day)
    values (${hash}, ${actor.personId}, ${groupId}, ${asked.title}, ${JSON.stringify(asked.shown)}::jsonb, ${JSON.stringify(asked.says)}::jsonb, ${asked.withNames}, ${frozen}::jsonb,
      ${asked.frozen ? (asked.shown.day ?? actor.today) : null}::date, ${asked.lastDay}) returning id`,
  );
  return { id, key: token };
}

interface Row {
  id: number;
  title: string;
  groupId: number;
  group: string | null;
  shown: unknown;
  says: string[];
  withNames: boolean;
  frozen: { head: string[]; lines: Cell[][] } | null;
  frozenDay: string | null;
  lastDay: string;
  madeBy: number;
  madeAt: string;
  opened: number;
  openedAt: string | null;
  withdrawnAt: string | null;
}

const columns = sql`v.id, v.title, v.group_id as "groupId", (select name from group_now g where g.id = v.group_id) as "group", v.shown, v.says, v.with_names as "withNames",
  v.frozen_day::text as "frozenDay", v.last_day::text as "lastDay", v.made_by as "madeBy", v.made_at as "madeAt", v.opened, v.opened_at as "openedAt", v.withdrawn_at as "withdrawnAt"`;
const newestShown = 200;

/** Links that one has made; an administrator reads everybody's. */
export async function sharedViews(db: Queryable, actor: SignedIn): Promise<SharedView[]> {
  const found = await rows<Omit<Row, 'frozen'>>(
    db,
    sql`select ${columns} from shared_view v where ${actor.role === 'administrator'} or v.made_by = ${actor.personId} order by v.id desc limit ${newestShown}`,
  );
  return found.map(({ id, title, groupId, group, shown, withNames, frozenDay, lastDay, madeAt, opened, openedAt, withdrawnAt }) => ({
    id,
    title,
    group: { id: groupId, name: group ?? '' },
    view: readShown(shown)?.view ?? 'groups',
    withNames,
    frozen: frozenDay !== null,
    lastDay,
    madeAt: iso(madeAt),
    opened,
    openedAt: openedAt === null ? null : iso(openedAt),
    state: withdrawnAt !== null ? 'withdrawn' : lastDay < actor.today || group === null ? 'over' : 'open',
  }));
}

const readShown = (shown: unknown): Shared | null => {
  const read = shownView.safeParse(shown);
  const view = sharedViewNames.find((name) => read.success && name === read.data.view);
  return read.success && view ? { ...read.data, view } : null;
};

/** @throws ProblemError `not-found` unless it is one's own, or one is an administrator. */
export async function endSharedView(db: Queryable, actor: SignedIn, viewId: number): Promise<void> {
  const ended = await db.execute(sql`
    update shared_view set withdrawn_at = now() where id = ${viewId} and withdrawn_at is null and (${actor.role === 'administrator'} or made_by = ${actor.personId})`);
  if (ended.rowCount !== 1) throw notFound();
}

/**
 * What a link shows to whoever has it. Nothing else can be reached from it.
 * @throws ProblemError `link-over` when it is guessed, withdrawn, past its last day, or its maker may not share it any more.
 */
export async function openSharedView(deps: Reading, key: string, now: Date): Promise<Answer<Routes['openSharedView']>> {
  const { db } = deps;
  const over = (): ProblemError => new ProblemError('link-over');
  const view = await maybeRow<Row>(db, sql`select ${columns}, v.frozen from shared_view v where v.hash = ${hashOf(key)}`);
  if (view?.withdrawnAt !== null || view.group === null) throw over();
  const maker = await maybeActor(db, view.madeBy, now);
  const tree = await wholeTree(db);
  const shown = readShown(view.shown);
  if (!maker || !shown || view.lastDay < maker.today) throw over();
  if (![view.groupId, ...shown.groups].every((id) => tree.has(id) && maySee(maker, tree.path(id)))) throw over();
  const { head, lines } = view.frozen ?? (await sharedTable(deps, maker, view.groupId, shown, view.withNames));
  await db.execute(sql`update shared_view set opened = opened + 1, opened_at = now() where id = ${view.id}`);
  return {
    title: view.title,
    organisation: maker.organisation,
    group: view.group,
    says: view.says,
    day: view.frozenDay ?? shown.day ?? maker.today,
    frozen: view.frozen !== null,
    lastDay: view.lastDay,
    isNarrowed: shown.view === 'groups' ? !view.withNames : true,
    head: [...head],
    lines: lines.slice(0, mostLines).map((line) => [...line]),
  };
}
