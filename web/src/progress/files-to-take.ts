import type { FileName, ShownView, TakenView } from '@gate-roster/contract';
import * as words from '../words.ts';
import type { ReportQuery } from './shown-view.ts';

/** A file that can be taken away: by which route, and what it is asked. */
export interface TakenFile {
  title: string;
  route: FileName;
  asked: Record<string, string | number>;
  ending: string;
}

/** The filter is written in a file in so many letters. */
const mostSaid = 2000;

/**
 * What is shown as files of each kind.
 * @param groups Those that stand side by side.
 * @param says The filter in words.
 */
export function filesToTake(
  view: TakenView,
  query: ReportQuery,
  { filter, courseId, sort, rows, scores, levels, unfold, without, by, count }: ShownView,
  groups: readonly number[],
  says: readonly string[],
): TakenFile[] {
  const w = words.progress;
  const asRows = view === 'groups' ? { rows, scores, levels, unfold: unfold.join(), without: without.join(), by } : {};
  const asked = {
    ...query,
    ...asRows,
    view,
    sort,
    ...(view === 'beside' ? { groups: groups.join(), count } : {}),
    ...(view === 'course' && courseId !== null ? { courseId } : {}),
    ...(filter.length === 0 ? {} : { says: says.join('; ').slice(0, mostSaid) }),
  };
  const csv = {
    groups: { route: 'progressFile', asked: { ...query, ...asRows } },
    learners: { route: 'progressLearnersFile', asked: { ...query, sort } },
    course: { route: 'progressInsideFile', asked: { ...query, ...(courseId === null ? {} : { courseId }) } },
    beside: null,
  }[view] as Pick<TakenFile, 'route' | 'asked'> | null;
  const paper = (size: 'A4' | 'Letter'): TakenFile => ({
    title: w.asPaper[size],
    route: 'progressPdf',
    asked: { ...asked, paper: size },
    ending: 'pdf',
  });
  const workbook = { route: 'progressWorkbook', ending: 'xlsx' } as const;
  const hasSheets = view !== 'beside' && query.subgroups === 'yes';
  return [
    ...(csv ? [{ title: w.asCsv, ending: 'csv', ...csv }] : []),
    { title: w.asWorkbook, ...workbook, asked },
    ...(hasSheets ? [{ title: w.asSheets, ...workbook, asked: { ...asked, sheets: 'groups' } }] : []),
    paper('A4'),
    paper('Letter'),
    { title: w.asJson, route: 'progressJson', asked, ending: 'json' },
  ];
}
