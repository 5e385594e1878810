import { filter, filterPart } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import * as words from '../words.ts';
import { filterCode } from './use-filter.ts';
import { choicesOf, inAccord, isWhole, newParts, offeredParts } from './new-parts.ts';

const names = {
  tags: [],
  skills: [{ id: 4, name: 'judging wind' }],
  lists: [],
  leaders: [],
  courses: [{ id: 3, name: 'VHF radio' }],
  courseSets: [],
  groups: new Map([[7, 'Shore crew']]),
};

test('every part that the contract knows can be added, has words, and is sent only when it is whole', () => {
  const known = filterPart.options.map(({ shape }) => [...shape.part.values][0]).sort();
  expect(Object.keys(newParts).sort()).toEqual(known);
  for (const name of offeredParts()) {
    const part: FilterPart = newParts[name];
    expect(words.filters.parts[name]).toMatch(/^[A-Z]/u);
    // What is whole is what the server takes, and the other way round.
    expect([name, isWhole(part)]).toEqual([name, filterPart.safeParse(part).success && name !== 'came' && name !== 'course']);
    expect(words.filters.chip(part, names)).not.toMatch(/undefined|null/u);
  }
  for (const [name, choices] of Object.entries(choicesOf))
    for (const choice of choices) {
      const part = { part: name, of: [choice] };
      expect(filterPart.safeParse(part).success).toBe(true);
      expect(words.filters.chip(part as FilterPart, names)).not.toMatch(/undefined/u);
    }
});

test('a chip says what it lets through, and names what is gone', () => {
  expect(words.filters.chip({ part: 'groups', how: 'not in', ids: [7], withSubgroups: true }, names)).toBe('Not in Shore crew');
  expect(words.filters.chip({ part: 'course', courses: [3, 99], sets: [] }, names)).toBe('VHF radio or a course that is gone');
  expect(words.filters.chip({ part: 'active', how: 'before', days: 30 }, names)).toBe('Not active for 30 days');
  expect(words.filters.chip({ part: 'tags', how: 'none', ids: [4] }, names)).toBe('Not tagged a tag that is gone');
  expect(words.filters.chip({ part: 'people', how: 'only', ids: [4, 5] }, names)).toBe('Only 2 chosen people');
  expect(words.filters.chip({ part: 'people', how: 'without', ids: [4] }, names)).toBe('Without 1 chosen person');
});

test('without a course named nobody can ask for whom it is blocked or not open', () => {
  const course: FilterPart = { part: 'course', courses: [3], sets: [] };
  const closed: FilterPart = { part: 'access', of: ['opens later', 'blocked'] };
  expect(inAccord([course, closed])).toEqual([course, closed]);
  expect(inAccord([closed, newParts.exempt])).toEqual([{ part: 'access', of: ['opens later'] }, newParts.exempt]);
  expect(inAccord([{ part: 'access', of: ['not open'] }])).toEqual([]);
  expect([filter.safeParse([course, closed]).success, filter.safeParse([closed]).success]).toEqual([true, false]);
});

test('a filter comes back from the address as it went in; what is no filter is none', () => {
  const parts: FilterPart[] = [newParts.exempt, { part: 'words', text: 'Ada & Bo=7' }];
  expect(filterCode.read(filterCode.write(parts))).toEqual(parts);
  expect([filterCode.write([]), filterCode.read('['), filterCode.read('{}'), filterCode.read('[1]')]).toEqual([
    '',
    undefined,
    undefined,
    undefined,
  ]);
  // Of another time: a part that there is not any more, one with a field more, one whose field is of another kind.
  for (const text of ['[{"part":"colour","ids":[1]}]', '[{"part":"exempt","is":true,"more":1}]', '[{"part":"tags","how":"any","ids":7}]'])
    expect(filterCode.read(text)).toBeUndefined();
  for (const name of offeredParts()) expect(filterCode.read(JSON.stringify([newParts[name]]))).toEqual([newParts[name]]);
});
