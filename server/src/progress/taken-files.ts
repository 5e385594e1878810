import {
  type Answer,
  type FileName,
  type Received,
  mostRowsAtOnce,
  type RowKind,
  type Routes,
  type ScoreKind,
  type SentFile,
  type TakenView,
} from '@gate-roster/contract';
import type { Filter } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import type { Table } from '../http/table.ts';
import { makeFile } from '../print/make-file.ts';
import { type AskedDay, askedOn } from './asked-day.ts';
import { branchAbove } from './branch-above.ts';
import { groupMatrix, groupTable } from './group-table.ts';
import { insideTable } from './inside-course.ts';
import { learnersTable } from './learners.ts';
import { progressReport } from './report.ts';
import { besideTable, sideBySide } from './side-by-side.ts';

/* Views of progress as CSV, workbook, JSON and paper: all made of one table. */

/** Progress speaks of counted learners, by name. */
const learnersOnly = { counted: 'yes', countedOnly: true, fits: 'yes' } as const;
const mostSheets = 200;

interface Asked {
  view: TakenView;
  subgroups: 'yes' | 'no';
  filter: Filter;
  sort: string;
  day?: string | undefined;
  courseId?: number | undefined;
  groups?: string | undefined;
  count?: 'own' | 'common';
  rows?: RowKind;
  scores?: ScoreKind;
  levels?: number;
  unfold?: readonly number[];
  without?: readonly number[];
  by?: string;
  says?: string | undefined;
}

/** Who takes something away, and of which group. */
export interface Taking {
  deps: Pick<Deps, 'db' | 'pastDays' | 'columns'>;
  actor: SignedIn;
  groupId: number;
  /** A job is told how far the file is, 0 to 1, and may have any number of rows. Left out: somebody waits for the answer. */
  told?: (share: number) => Promise<void>;
}

/**
 * What is asked, once it is sure that the reader may see it and take it away.
 * @throws ProblemError `not-found`; `too-many-rows` where somebody waits.
 */
async function opened({ deps, actor, groupId, told }: Taking, asked: Asked) {
  const path = await pathTo(deps.db, actor, groupId, 'export');
  await pathTo(deps.db, actor, groupId, 'seeProgress');
  const beside = asked.view === 'beside' ? readGroups(asked.groups) : [];
  for (const id of beside) await pathTo(deps.db, actor, id, 'seeProgress');
  const at = await askedOn(deps, actor, asked.day);
  const table = await tableOf(at, groupId, asked, beside);
  if (!told && table.lines.length > mostRowsAtOnce) throw new ProblemError('too-many-rows');
  await told?.(0.4);
  return { at, day: at.reader.actor.today, group: path.at(-1)?.name ?? '', table };
}

const csvFile =
  (view: TakenView, name: string) =>
  async (taking: Taking, asked: Omit<Asked, 'view' | 'sort'> & { sort?: Asked['sort'] }): Promise<SentFile> => {
    const { day, table } = await opened(taking, { sort: 'name', ...asked, view });
    return {
      fileName: `${name}-${taking.groupId}-${day}.csv`,
      mimeType: 'text/csv',
      isPicture: false,
      content: Buffer.from(await makeFile('csv', table)),
    };
  };

/** A view as JSON, and the day of which it tells. */
export async function jsonOf(
  taking: Taking,
  asked: Received<Routes['progressJson']>['query'],
): Promise<{ fileName: string; answer: Answer<Routes['progressJson']> }> {
  const { day, group, table } = await opened(taking, asked);
  const { view, subgroups, filter, says = '' } = asked;
  const answer = {
    about: { group, subgroups: subgroups === 'yes', day, view, filter: [...filter], says, takenBy: nameOf(taking.actor) },
    columns: [...table.head],
    rows: table.lines.map((line) => Object.fromEntries(table.head.map((title, index) => [title, line[index] ?? null]))),
  };
  return { fileName: `${view}-${taking.groupId}-${day}.json`, answer };
}

/** What each route for files answers with. */
export const takenFiles: { [N in FileName]: (taking: Taking, asked: Received<Routes[N]>['query']) => Promise<SentFile> } = {
  progressFile: csvFile('groups', 'progress'),
  progressLearnersFile: csvFile('learners', 'learners'),
  progressInsideFile: csvFile('course', 'course'),

  async progressWorkbook(taking, { sheets, ...asked }) {
    const { at, day, group, table } = await opened(taking, asked);
    const apart = sheets === 'groups' ? await sheetsOfGroups(at, taking.groupId, asked) : [];
    const lines = apart.reduce((sum, each) => sum + each.lines.length, table.lines.length);
    if (!taking.told && lines > mostRowsAtOnce) throw new ProblemError('too-many-rows');
    await taking.told?.(0.5);
    const about: Table = {
      name: 'About',
      head: ['What', 'Value'],
      lines: [
        ['Group', group],
        ['With subgroups', asked.subgroups],
        ['As of', day],
        ['Filter', asked.filter.length === 0 ? 'none' : (asked.says ?? JSON.stringify(asked.filter))],
        ['Taken away by', nameOf(taking.actor)],
      ],
    };
    return {
      fileName: `${asked.view}-${taking.groupId}-${day}.xlsx`,
      mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      isPicture: false,
      content: await makeFile('workbook', [table, ...apart, about]),
    };
  },

  async progressJson(taking, asked) {
    const { fileName, answer } = await jsonOf(taking, asked);
    return { fileName, mimeType: 'application/json', isPicture: false, content: Buffer.from(JSON.stringify(answer)) };
  },

  async progressPdf(taking, { paper, ...asked }) {
    const { at, day, group, table } = await opened(taking, asked);
    if (table.lines.length > mostOnPaper) throw new ProblemError('file-too-large');
    const report = await progressReport(at.db, at.reader, taking.groupId, asked.subgroups === 'yes', asked.filter, asked);
    await taking.told?.(0.7);
    const filter = asked.filter.length === 0 ? null : (asked.says ?? JSON.stringify(asked.filter));
    return {
      fileName: `${asked.view}-${taking.groupId}-${day}.pdf`,
      mimeType: 'application/pdf',
      isPicture: false,
      content: await makeFile('report', {
        group,
        day,
        filter,
        takenBy: nameOf(taking.actor),
        table: asked.view === 'groups' ? groupMatrix(report) : table,
        report,
        above: await branchAbove(at.db, at.reader, taking.groupId, asked.filter),
        paper,
      }),
    };
  },
};

const mostOnPaper = 5000;

const nameOf = ({ givenName, familyName }: SignedIn): string => `${givenName} ${familyName}`;

async function tableOf({ db, reader }: AskedDay, groupId: number, asked: Asked, beside: readonly number[]): Promise<Table> {
  const { view, subgroups, filter, sort, courseId, count } = asked;
  const learners = { subgroups, filter, ...learnersOnly };
  switch (view) {
    case 'groups':
      return groupTable(await progressReport(db, reader, groupId, subgroups === 'yes', filter, asked));
    case 'learners':
      return learnersTable(db, reader, groupId, { ...learners, sort });
    case 'beside':
      return besideTable(await sideBySide(db, reader, groupId, beside, subgroups === 'yes', filter, { onCommonUnits: count === 'common' }));
    case 'course':
      return insideTable(db, reader, groupId, { ...learners, sort: 'name', ...(courseId === undefined ? {} : { courseId }) });
  }
}

/** The same view for each group of the scope that has learners of its own, alone; under their names, told apart where two are the same. */
async function sheetsOfGroups(at: AskedDay, groupId: number, asked: Asked): Promise<Table[]> {
  if (asked.subgroups === 'no' || asked.view === 'beside') return [];
  const groups = await rows<{ id: number; name: string }>(
    at.db,
    sql`
    select g.id, g.name from group_branch b join group_now g on g.id = b.group_id where b.ancestor_id = ${groupId} and exists (
      select 1 from membership_set_group x join membership_set s on s.id = x.set_id and s.counted > 0 where x.group_id = g.id)
    order by g.name collate people_order, g.id limit ${mostSheets}`,
  );
  const used = new Set<string>();
  const sheets: Table[] = [];
  for (const { id, name } of groups) {
    const table = await tableOf(at, id, { ...asked, subgroups: 'no' }, []);
    const short = name.slice(0, 24);
    const own = used.has(short) ? `${short} ${id}` : short;
    used.add(short);
    sheets.push({ ...table, name: own });
  }
  return sheets;
}

/** Groups as an address names them. @throws ProblemError `bad-request` when they are none. */
function readGroups(text: string | undefined): number[] {
  const found = (text ?? '').split(',').map(Number);
  if (!found.every((id) => Number.isSafeInteger(id) && id > 0)) throw new ProblemError('bad-request');
  return found.slice(0, 6);
}
