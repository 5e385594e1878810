import { plainView, routes, type ShownView, type TakenView } from '@gate-roster/contract';
import { filterCode } from '../filters/use-filter.ts';
import { filesToTake } from './files-to-take.ts';
import type { ReportQuery } from './shown-view.ts';

const filter: ShownView['filter'] = [{ part: 'signed in', is: true }];
const query: ReportQuery = { subgroups: 'yes', filter: filterCode.write(filter) };
const shown: ShownView = {
  ...plainView,
  filter,
  courseId: 12,
  sort: '-name',
  rows: 'tags',
  scores: 'median',
  levels: 2,
  unfold: [4, 5],
  without: [9],
  by: '-9',
};
const of = (view: TakenView, asked: ReportQuery = query, look: ShownView = shown) =>
  filesToTake(view, asked, look, [3, 7], ['Signed in', 'Tag: reserve']);
const all: TakenView[] = ['groups', 'learners', 'course', 'beside'];

test.each(all)('what is asked for a file of the view %s is what its route takes', (view) => {
  for (const each of [of(view), of(view, { subgroups: 'no', filter: '', day: '2026-03-01' }, { ...plainView, view: 'groups' })].flat()) {
    const { query: shape } = routes[each.route];
    const asked = Object.fromEntries(Object.entries(each.asked).map(([key, value]) => [key, String(value)]));
    const { success, error } = shape.safeParse(asked);
    expect({ title: each.title, success, problem: error?.issues }).toEqual({ title: each.title, success: true, problem: undefined });
  }
});

test('every view goes into a workbook, on both papers and as JSON; a table of rows is a CSV file too', () => {
  const endings = (view: TakenView): string[] => of(view).map(({ ending }) => ending);
  expect(endings('beside')).toEqual(['xlsx', 'pdf', 'pdf', 'json']);
  for (const view of ['groups', 'learners', 'course'] as const)
    expect(endings(view)).toEqual(['csv', 'xlsx', 'xlsx', 'pdf', 'pdf', 'json']);
  const csv = ['groups', 'learners', 'course'].map((view) => of(view as TakenView)[0]?.route);
  expect(csv).toEqual(['progressFile', 'progressLearnersFile', 'progressInsideFile']);
});

test('a sheet for each group is offered only with the groups below', () => {
  const sheets = (asked: ReportQuery): unknown[] => of('learners', asked).flatMap(({ asked: { sheets: each } }) => each ?? []);
  expect([sheets(query), sheets({ ...query, subgroups: 'no' })]).toEqual([['groups'], []]);
});

test('each file is asked for with what its view shows, and with nothing of another', () => {
  const workbook = (view: TakenView) => of(view).find(({ ending }) => ending === 'xlsx')?.asked;
  const said = { says: 'Signed in; Tag: reserve', ...query };
  expect(workbook('groups')).toEqual({
    ...said,
    view: 'groups',
    sort: '-name',
    rows: 'tags',
    scores: 'median',
    levels: 2,
    unfold: '4,5',
    without: '9',
    by: '-9',
  });
  expect(workbook('learners')).toEqual({ ...said, view: 'learners', sort: '-name' });
  expect(workbook('course')).toEqual({ ...said, view: 'course', sort: '-name', courseId: 12 });
  expect(workbook('beside')).toEqual({ ...said, view: 'beside', sort: '-name', groups: '3,7', count: 'own' });
});

test('a filter that takes many words is cut to what a file takes; without one nothing is said', () => {
  const long = filesToTake('learners', query, shown, [], Array<string>(400).fill('Tag: reserve'));
  expect(long.flatMap(({ asked: { says } }) => (says === undefined ? [] : [String(says).length]))).toEqual([2000, 2000, 2000, 2000, 2000]);
  const none = of('learners', { subgroups: 'yes', filter: '' }, { ...shown, filter: [] });
  expect(none.filter(({ asked }) => 'says' in asked)).toEqual([]);
});
