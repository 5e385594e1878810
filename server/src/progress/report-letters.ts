import type { KeptView, LetterReader, ShownView, ViewLetter } from '@gate-roster/contract';
import { shownView } from '@gate-roster/contract';
import { addDays, addMonths, completion, type Day, dayOfMoment, may, meanScore, notBegun, type Tally } from '@gate-roster/core';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { seenGroups } from '../accounts/reach.ts';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { type Database, firstOf, ids, iso, maybeRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { filterReader } from '../filters/conditions.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { lookNowAndThen } from '../jobs/bell.ts';
import { writeLetters } from '../letters/write-letters.ts';
import { onlyGroups } from '../people/scope.ts';
import { openedBy } from './kept-views.ts';
import { progressReport } from './report.ts';

/* A kept view by letter, every week or month: to chosen leaders, each with the figures of their own branch. */

/** After so many months in which nobody has opened it, it stops. */
const unopenedMonths = 3;
const everyMilliseconds = 5 * 60_000;
const mostRows = 12;

/** What a letter is when it is read. */
interface Row {
  id: number;
  every: ViewLetter['every'];
  nextDay: Day;
  openedAt: string | null;
  stoppedAt: string | null;
}

/** Leaders who may be written to about a view: those who see progress in its branch or above it, as far as the asker knows of them. */
async function leadersOf(db: Queryable, actor: SignedIn, groupId: number): Promise<LetterReader[]> {
  const own = await seenGroups(db, actor);
  return rows<LetterReader>(
    db,
    sql`
    select distinct on (n.family_name collate people_order, n.given_name collate people_order, l.person_id) l.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, g.name as "group", n.confirmed_email is not null as "hasAddress"
    from leadership l join group_now g on g.id = l.group_id join personal_now n on n.person_id = l.person_id
    where l.until_at is null and ${onlyGroups(sql`l.group_id`, own)} and 'seeProgress' = any(l.powers) and coalesce(l.first_day <= current_date, true) and coalesce(l.last_day >= current_date, true)
      and (exists (select 1 from group_branch b where b.group_id = l.group_id and b.ancestor_id = ${groupId}) or exists (select 1 from group_branch b where b.group_id = ${groupId} and b.ancestor_id = l.group_id))
    order by n.family_name collate people_order, n.given_name collate people_order, l.person_id, g.id`,
  );
}

/** @throws ProblemError `not-found` unless the view is the reader's own and tells of today. */
async function ownView(db: Queryable, actor: SignedIn, viewId: number): Promise<{ groupId: number; shown: ShownView }> {
  const view = found(
    await maybeRow<{ groupId: number; shown: unknown }>(
      db,
      sql`select group_id as "groupId", shown from kept_view where id = ${viewId} and owner_id = ${actor.personId} and frozen is null`,
    ),
  );
  const shown = shownView.parse(view.shown);
  // What tells of a past day is the same each week.
  if (shown.day !== null) throw notFound();
  if (!(await isSeenBy(db, actor, view.groupId))) throw notFound();
  return { groupId: view.groupId, shown };
}

async function isSeenBy(db: Queryable, actor: SignedIn, groupId: number): Promise<boolean> {
  const tree = await wholeTree(db);
  return tree.has(groupId) && may(actor, 'seeProgress', { path: tree.path(groupId) });
}

export async function viewLetter(
  db: Queryable,
  actor: SignedIn,
  viewId: number,
): Promise<{ letter: ViewLetter | null; leaders: LetterReader[] }> {
  const { groupId } = await ownView(db, actor, viewId);
  const row = await maybeRow<Row & { readers: number[] }>(
    db,
    sql`
    select l.id, l.every, l.next_day as "nextDay", l.opened_at as "openedAt", l.stopped_at as "stoppedAt",
      (select coalesce(jsonb_agg(r.person_id order by r.person_id), '[]') from report_letter_reader r where r.letter_id = l.id) as readers
    from report_letter l where l.view_id = ${viewId}`,
  );
  const seen = await leadersOf(db, actor, groupId);
  return {
    letter: row && { ...row, openedAt: row.openedAt && iso(row.openedAt), isStopped: row.stoppedAt !== null },
    // Oneself too: a leader of this branch, or an administrator.
    leaders: seen.some(({ id }) => id === actor.personId)
      ? seen
      : [
          {
            id: actor.personId,
            name: `${actor.givenName} ${actor.familyName}`,
            group: '',
            hasAddress: await hasAddress(db, actor.personId),
          },
          ...seen,
        ],
  };
}

const hasAddress = async (db: Queryable, personId: number): Promise<boolean> =>
  (await firstOf(
    db
      .select({ rowId: tables.personalNow.rowId })
      .from(tables.personalNow)
      .where(and(eq(tables.personalNow.personId, personId), isNotNull(tables.personalNow.confirmedEmail))),
  )) !== null;

/** Sends a view by letter from the next day on, or otherwise than before. @throws ProblemError `bad-request` for somebody who is no such leader. */
export async function sendViewByLetter(
  db: Database,
  actor: SignedIn,
  viewId: number,
  { every, readers }: { every: ViewLetter['every']; readers: readonly number[] },
): Promise<void> {
  const { leaders } = await viewLetter(db, actor, viewId);
  if (readers.some((id) => !leaders.some((leader) => leader.id === id)))
    throw new ProblemError('bad-request', { where: [{ place: 'body.readers', what: 'Leaders who see progress here' }] });
  await db.transaction(async (tx) => {
    const [row] = await rows<{ id: number }>(
      tx,
      sql`
      insert into report_letter (view_id, every, next_day, asked_at) values (${viewId}, ${every}, ${addDays(actor.today, 1)}, now())
      on conflict (view_id) do update set every = excluded.every, next_day = least(report_letter.next_day, excluded.next_day), asked_at = now(), stopped_at = null returning id`,
    );
    const letterId = row?.id ?? 0;
    await tx.delete(tables.reportLetterReader).where(eq(tables.reportLetterReader.letterId, letterId));
    await tx.execute(sql`insert into report_letter_reader (letter_id, person_id) select ${letterId}, unnest(${ids(new Set(readers))})`);
  });
}

export async function endViewLetter(db: Queryable, actor: SignedIn, viewId: number): Promise<void> {
  await ownView(db, actor, viewId);
  await db.delete(tables.reportLetter).where(eq(tables.reportLetter.viewId, viewId));
}

/** The link of a letter leads a reader to the view in their own branch; that somebody opens it keeps the letters coming. */
export async function openLetter(db: Queryable, actor: SignedIn, letterId: number): Promise<KeptView> {
  const letter = found(
    await maybeRow<{ viewId: number }>(
      db,
      sql`
      select l.view_id as "viewId" from report_letter l join report_letter_reader r on r.letter_id = l.id and r.person_id = ${actor.personId} where l.id = ${letterId}`,
    ),
  );
  const view = found(await openedBy(db, actor, letter.viewId));
  await db
    .update(tables.reportLetter)
    .set({ openedAt: sql`now()` })
    .where(eq(tables.reportLetter.id, letterId));
  return view;
}

/** Looks for letters that are due, now and then. @returns How to stop. */
export function startReportLetters(
  deps: Pick<Deps, 'db' | 'now' | 'columns' | 'log' | 'settings'>,
  databaseUrl: string,
): () => Promise<void> {
  return lookNowAndThen(databaseUrl, deps.log, everyMilliseconds, () => sendReportLetters(deps, deps.now()));
}

interface Due extends Pick<Row, 'id' | 'every' | 'nextDay'> {
  viewId: number;
  name: string;
  ownerId: number;
  since: string;
}

/** Writes the letters that are due. Each process may look; the day is moved on in the transaction that writes them, so each goes once. */
export async function sendReportLetters(deps: Pick<Deps, 'db' | 'columns' | 'settings'>, now: Date): Promise<void> {
  const { db } = deps;
  const { publicUrl } = deps.settings;
  const site = await firstOf(db.select({ zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return;
  const today = dayOfMoment(now, site.zone);
  const due = await rows<Due>(
    db,
    sql`
    select l.id, l.every, l.next_day as "nextDay", l.view_id as "viewId", v.name, v.owner_id as "ownerId", greatest(l.opened_at, l.asked_at) as since
    from report_letter l join kept_view v on v.id = l.view_id where l.stopped_at is null and l.next_day <= ${today} order by l.id`,
  );
  for (const letter of due) {
    const isUnopened = dayOfMoment(new Date(letter.since), site.zone) <= addMonths(today, -unopenedMonths);
    const list = isUnopened ? [] : await lettersOf(deps, letter, now);
    await db.transaction(async (tx) => {
      const moved = await tx.execute(sql`
        update report_letter set next_day = ${nextDay(letter.every, today)}, stopped_at = ${isUnopened ? now.toISOString() : null}::timestamptz
        where id = ${letter.id} and next_day = ${letter.nextDay} and stopped_at is null`);
      if (moved.rowCount !== 1) return;
      if (isUnopened) await sayStopped(tx, letter, publicUrl);
      else await writeLetters(tx, publicUrl, 'report', list);
    });
  }
}

const nextDay = (every: ViewLetter['every'], today: Day): Day => (every === 'week' ? addDays(today, 7) : addMonths(today, 1));

async function lettersOf({ db, columns, settings }: Pick<Deps, 'db' | 'columns' | 'settings'>, { id, viewId, name }: Due, now: Date) {
  const readers = await rows<{ id: number; givenName: string; address: string }>(
    db,
    sql`
    select r.person_id as id, n.given_name as "givenName", n.confirmed_email::text as address from report_letter_reader r join personal_now n on n.person_id = r.person_id and n.confirmed_email is not null where r.letter_id = ${id} order by r.person_id`,
  );
  const letters = [];
  for (const reader of readers) {
    const actor = await maybeActor(db, reader.id, now);
    const view = actor && (await openedBy(db, actor, viewId));
    // A leader who may not see it any more gets none.
    if (!actor || !view || !(await isSeenBy(db, actor, view.group.id))) continue;
    const withSubgroups = view.shown.subgroups === 'yes';
    const report = await progressReport(
      db,
      await filterReader(db, actor, columns),
      view.group.id,
      withSubgroups,
      view.shown.filter,
      view.shown,
    );
    const [whole, ...rest] = report.rows;
    const lines = [
      `${whole?.name ?? view.group.name}: ${report.learners} of ${report.ofAll} learners`,
      ...figures(report.total),
      ...(view.shown.filter.length > 0 ? ['Under the filter of the view.'] : []),
      '',
      ...rest
        .filter(({ depth, learners }) => depth === 1 && learners > 0)
        .slice(0, mostRows)
        .map((row) => `${row.name}: ${inOneLine(row.total)}`),
    ];
    letters.push({
      personId: reader.id,
      address: reader.address,
      groupId: view.group.id,
      values: {
        name: reader.givenName,
        title: `${name}: ${view.group.name}`,
        words: lines.join('\n').trim(),
        link: `${settings.publicUrl}/report/${id}`,
      },
    });
  }
  return letters;
}

const percent = (rate: number | null): string => (rate === null ? '–' : `${Math.round(rate * 100)}%`);

const figures = (total: Tally): string[] => [
  `${percent(completion(total))} done: ${total.done} of ${total.all - total.exempt} courses`,
  `${total.underWay} under way, ${notBegun(total)} not begun`,
  `${total.overdue} overdue`,
  ...(meanScore(total) === null ? [] : [`Mean score ${Math.round(meanScore(total) ?? 0)}`]),
];

const inOneLine = (total: Tally): string => `${percent(completion(total))} done, ${total.overdue} overdue`;

/** Its owner hears that nobody opens it, once. */
async function sayStopped(tx: Transaction, { name, ownerId, viewId }: Due, publicUrl: string): Promise<void> {
  const owner = await maybeRow<{ givenName: string; address: string; groupId: number }>(
    tx,
    sql`
    select n.given_name as "givenName", n.confirmed_email::text as address, v.group_id as "groupId" from personal_now n join kept_view v on v.id = ${viewId}
    where n.person_id = ${ownerId} and n.confirmed_email is not null`,
  );
  if (!owner) return;
  const words = `Nobody has opened “${name}” from its letters for ${unopenedMonths} months, so it is not sent any more. You can start it again under Kept views.`;
  const values = { name: owner.givenName, title: `“${name}” is not sent any more`, words, link: `${publicUrl}/progress/${owner.groupId}` };
  await writeLetters(tx, publicUrl, 'report', [{ personId: ownerId, address: owner.address, groupId: owner.groupId, values }]);
}
