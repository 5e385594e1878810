import { coursePixels, headsOf, slotsOf } from './grid-slots.ts';
import type { ShownSet } from './shown-grid.ts';

const set = (name: string, courses: number[], isFolded = false): ShownSet => ({
  name,
  isFolded,
  columns: courses.map((id) => ({ course: { id, name: `Course ${id}`, set: name, units: [] } as never, index: id })),
});

test('a folded set is one narrow column; courses are numbered on over the sets that are open', () => {
  const slots = slotsOf([set('A', [1, 2]), set('B', [3, 4, 5], true), set('C', [6])]);
  expect(slots.map(({ place }) => place)).toEqual([0, 1, -1, 2]);
  expect(slots.filter(({ pixels }) => pixels === coursePixels)).toHaveLength(3);
  expect(slots[2]?.column).toBeNull();
});

test('a set heads as many columns as are drawn of it', () => {
  const slots = slotsOf([set('A', [1, 2]), set('B', [3, 4, 5])]);
  expect(headsOf(slots).map((head) => [head.set.name, head.span])).toEqual([
    ['A', 2],
    ['B', 3],
  ]);
  expect(headsOf(slots.slice(1, 3)).map((head) => [head.set.name, head.span])).toEqual([
    ['A', 1],
    ['B', 1],
  ]);
  expect(headsOf([])).toEqual([]);
});
