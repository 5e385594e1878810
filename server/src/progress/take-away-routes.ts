import type { RowKind, ScoreKind, TakenView } from '@gate-roster/contract';
import type { Filter } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { ProblemError } from '../http/problem.ts';
import type { Table } from '../http/table.ts';
import { makeFile } from '../print/make-file.ts';
import { type AskedDay, askedOn } from './asked-day.ts';
import { groupMatrix, groupTable } from './group-table.ts';
import { insideTable } from './inside-course.ts';
import { learnersTable } from './learners.ts';
import { progressReport } from './report.ts';
import { besideTable, sideBySide } from './side-by-side.ts';

/** Progress speaks of counted learners, by name. */
const learnersOnly = { counted: 'yes', countedOnly: true, fits: 'yes' } as const;
const mostSheets = 200;

interface Asked {
  view: TakenView;
  subgroups: 'yes' | 'no';
  filter: Filter;
  sort: 'name' | '-name' | '-active';
  day?: string | undefined;
  courseId?: number | undefined;
  groups?: string | undefined;
  count?: 'own' | 'common';
  rows?: RowKind;
  scores?: ScoreKind;
  unfold?: readonly number[];
  says?: string | undefined;
}

/** Views of progress as CSV, workbook, JSON and paper: all made of one table. */
export function takeAwayHandlers(deps: Deps): Handlers {
  const { db } = deps;

  /** What is asked, once it is sure that the reader may see it and take it away. */
  async function opened(actor: SignedIn, groupId: number, asked: Asked) {
    const path = await pathTo(db, actor, groupId, 'export');
    await pathTo(db, actor, groupId, 'seeProgress');
    const beside = asked.view === 'beside' ? readGroups(asked.groups) : [];
    for (const id of beside) await pathTo(db, actor, id, 'seeProgress');
    const at = await askedOn(deps, actor, asked.day);
    const day = at.reader.actor.today;
    return { at, day, group: path.at(-1)?.name ?? '', table: await tableOf(at, groupId, asked, beside) };
  }

  const csvFile =
    (view: TakenView, name: string) =>
    async (
      actor: SignedIn,
      groupId: number,
      asked: Omit<Asked, 'view' | 'sort'> & { sort?: Asked['sort'] },
      response: { setHeader: (name: string, value: string) => unknown },
    ) => {
      const { day, table } = await opened(actor, groupId, { sort: 'name', ...asked, view });
      response.setHeader('Content-Disposition', `attachment; filename="${name}-${groupId}-${day}.csv"`);
      return makeFile('csv', table);
    };
  const [groupsFile, learnersFile, courseFile] = [
    csvFile('groups', 'progress'),
    csvFile('learners', 'learners'),
    csvFile('course', 'course'),
  ];

  return {
    progressFile: ({ actor, params: { groupId }, query, response }) => groupsFile(actor, groupId, query, response),
    progressLearnersFile: ({ actor, params: { groupId }, query, response }) => learnersFile(actor, groupId, query, response),
    progressInsideFile: ({ actor, params: { groupId }, query, response }) => courseFile(actor, groupId, query, response),

    async progressWorkbook({ actor, params: { groupId }, query: { sheets, ...asked } }) {
      const { at, day, group, table } = await opened(actor, groupId, asked);
      const apart = sheets === 'groups' ? await sheetsOfGroups(at, groupId, asked) : [];
      const about: Table = {
        name: 'About',
        head: ['What', 'Value'],
        lines: [
          ['Group', group],
          ['With subgroups', asked.subgroups],
          ['As of', day],
          ['Filter', asked.filter.length === 0 ? 'none' : (asked.says ?? JSON.stringify(asked.filter))],
          ['Taken away by', nameOf(actor)],
        ],
      };
      return {
        fileName: `${asked.view}-${groupId}-${day}.xlsx`,
        mimeType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        isPicture: false,
        content: await makeFile('workbook', [table, ...apart, about]),
      };
    },

    async progressJson({ actor, params: { groupId }, query: asked, response }) {
      const { day, group, table } = await opened(actor, groupId, asked);
      response.setHeader('Content-Disposition', `attachment; filename="${asked.view}-${groupId}-${day}.json"`);
      const { view, subgroups, filter, says = '' } = asked;
      return {
        about: { group, subgroups: subgroups === 'yes', day, view, filter: [...filter], says, takenBy: nameOf(actor) },
        columns: [...table.head],
        rows: table.lines.map((line) => Object.fromEntries(table.head.map((title, index) => [title, line[index] ?? null]))),
      };
    },

    async progressPdf({ actor, params: { groupId }, query: { paper, ...asked } }) {
      const { at, day, group, table } = await opened(actor, groupId, asked);
      if (table.lines.length > mostOnPaper) throw new ProblemError('file-too-large');
      const report = await progressReport(at.db, at.reader, groupId, asked.subgroups === 'yes', asked.filter, asked);
      const filter = asked.filter.length === 0 ? null : (asked.says ?? JSON.stringify(asked.filter));
      return {
        fileName: `${asked.view}-${groupId}-${day}.pdf`,
        mimeType: 'application/pdf',
        isPicture: false,
        content: await makeFile('report', {
          group,
          day,
          filter,
          takenBy: nameOf(actor),
          table: asked.view === 'groups' ? groupMatrix(report) : table,
          report,
          paper,
        }),
      };
    },
  };
}

const mostOnPaper = 5000;

const nameOf = ({ givenName, familyName }: SignedIn): string => `${givenName} ${familyName}`;

async function tableOf(
  { db, reader }: AskedDay,
  groupId: number,
  { view, subgroups, filter, sort, courseId, count, rows: kind = 'groups', unfold = [], scores = 'mean' }: Asked,
  beside: readonly number[],
): Promise<Table> {
  const asked = { subgroups, filter, ...learnersOnly };
  switch (view) {
    case 'groups':
      return groupTable(await progressReport(db, reader, groupId, subgroups === 'yes', filter, { rows: kind, unfold, scores }));
    case 'learners':
      return learnersTable(db, reader, groupId, { ...asked, sort });
    case 'beside':
      return besideTable(await sideBySide(db, reader, groupId, beside, subgroups === 'yes', filter, { onCommonUnits: count === 'common' }));
    case 'course':
      return insideTable(db, reader, groupId, { ...asked, sort: 'name', ...(courseId === undefined ? {} : { courseId }) });
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
