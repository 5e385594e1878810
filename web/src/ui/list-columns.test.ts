import { expect, test } from '@jest/globals';
import { type ListColumn, shownColumns, sortAfter, sortedAs } from './list-columns.ts';

const name: ListColumn = { key: 'name', title: 'Name', sorts: ['name', '-name'] };
const active: ListColumn = { key: 'active', title: 'Last active', sorts: ['-active'], roomFrom: 640 };
const tags: ListColumn = { key: 'tags', title: 'Tags', roomFrom: 760 };

test('a click on a heading brings its first order, and then the next one; a list is said to be sorted by one column alone', () => {
  const clicks = [name, name, active, active, name];
  let sort = 'name';
  const seen = clicks.map((column) => {
    sort = sortAfter(column, sort);
    return [sort, ...[name, active, tags].map((each) => sortedAs(each, sort))];
  });
  expect(seen).toEqual([
    ['-name', 'descending', 'none', 'none'],
    ['name', 'ascending', 'none', 'none'],
    ['-active', 'none', 'descending', 'none'],
    ['-active', 'none', 'descending', 'none'],
    ['name', 'ascending', 'none', 'none'],
  ]);
  expect(sortAfter(tags, 'name')).toBe('name');
});

test('columns leave as the room does, and all are there until it is known', () => {
  const keys = (pixels: number): string =>
    shownColumns([name, active, tags], pixels)
      .map(({ key }) => key)
      .join();
  expect([0, 1000, 759, 640, 639].map(keys)).toEqual(['name,active,tags', 'name,active,tags', 'name,active', 'name,active', 'name']);
});
