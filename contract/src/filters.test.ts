import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { filter, filterInAddress, filterPart, mostNamedPeople, mostParts, writeFilter } from './filters.ts';

const ids = fc.uniqueArray(fc.integer({ min: 1, max: 2 ** 40 }), { minLength: 1, maxLength: 6 });
const day = fc
  .date({ min: new Date('2000-01-01'), max: new Date('2099-12-31'), noInvalidDate: true })
  .map((date) => date.toISOString().slice(0, 10));
const span = { from: fc.option(day), until: fc.option(day) };
const some = <T extends string>(...of: T[]): fc.Arbitrary<T[]> => fc.subarray(of, { minLength: 1 });
const part = fc.oneof(
  fc.record({
    part: fc.constant('words' as const),
    text: fc.string({ minLength: 1, maxLength: 40 }).filter((text) => text.trim() === text),
  }),
  fc.record({ part: fc.constant('people' as const), how: fc.constantFrom('only' as const, 'without' as const), ids }),
  fc.record({
    part: fc.constant('groups' as const),
    how: fc.constantFrom('in' as const, 'not in' as const),
    ids,
    withSubgroups: fc.boolean(),
  }),
  fc.record({ part: fc.constant('tags' as const), how: fc.constantFrom('any' as const, 'all' as const, 'none' as const), ids }),
  fc.record({ part: fc.constant('state' as const), of: some('asking', 'active', 'paused', 'ended') }),
  fc.record({ part: fc.constant('came' as const), by: fc.subarray(['file', 'hand', 'join code', 'feed'] as const), ...span }),
  fc.record({ part: fc.constant('active' as const), how: fc.constantFrom('within' as const, 'before' as const), days: fc.nat(3650) }),
  fc.record({ part: fc.constant('status' as const), of: some('not begun', 'under way', 'done') }),
  fc.record({ part: fc.constant('lateness' as const), of: some('on time', 'due soon', 'overdue', 'done late') }),
  fc.record({ part: fc.constant('score' as const), from: fc.nat(100), to: fc.nat(100) }),
  fc.record({ part: fc.constant('done' as const), ...span }),
);
const refused = (text: string): boolean => !filterInAddress.safeParse(text).success;

describe('a filter in an address', () => {
  test('comes back as it was written', () => {
    fc.assert(
      fc.property(fc.array(part, { maxLength: mostParts }), (parts) => {
        expect(filterInAddress.parse(decodeURIComponent(encodeURIComponent(writeFilter(parts))))).toEqual(parts);
      }),
    );
  });

  test('that is left out is none', () => {
    expect([filterInAddress.parse(undefined), filterInAddress.parse(''), filterInAddress.parse('[]'), writeFilter([])]).toEqual([
      [],
      [],
      [],
      '',
    ]);
  });

  test('whatever else is given is refused, and never read as no filter, which would show everybody', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string({ minLength: 1 }), fc.json()),
        (text) => refused(text) || JSON.stringify(filterInAddress.parse(text)) === JSON.stringify(JSON.parse(text)),
      ),
    );
    for (const text of [
      'null',
      '{}',
      '0',
      '"tags"',
      '[null]',
      '[[]]',
      '[{"part":"nothing"}]',
      '[{"part":"tags","how":"any","ids":[1]}',
      'undefined',
    ])
      expect([text, refused(text)]).toEqual([text, true]);
  });
});

describe('the parts of a filter', () => {
  const list = (count: number): number[] => Array.from({ length: count }, (_, index) => index + 1);
  const isTaken = (value: unknown): boolean => filterPart.safeParse(value).success;

  test('have bounds, so that no link asks for more than a page can answer', () => {
    expect([isTaken({ part: 'tags', how: 'any', ids: list(200) }), isTaken({ part: 'tags', how: 'any', ids: list(201) })]).toEqual([
      true,
      false,
    ]);
    const people = (count: number): unknown => ({ part: 'people', how: 'only', ids: list(count) });
    expect([isTaken(people(mostNamedPeople)), isTaken(people(mostNamedPeople + 1)), isTaken(people(0))]).toEqual([true, false, false]);
    expect([
      isTaken({ part: 'score', from: 0, to: 100 }),
      isTaken({ part: 'score', from: -1, to: 50 }),
      isTaken({ part: 'score', from: 0, to: 101 }),
    ]).toEqual([true, false, false]);
    const parts = (count: number): unknown[] => Array.from({ length: count }, () => ({ part: 'signed in', is: true }));
    expect([filter.safeParse(parts(mostParts)).success, filter.safeParse(parts(mostParts + 1)).success]).toEqual([true, false]);
  });

  test('take no day that the calendar does not have, and nothing beside what they say', () => {
    for (const from of ['2026-02-30', '2026-13-01', '26-01-01', '2026-1-1', 'today'])
      expect([from, isTaken({ part: 'done', from, until: null })]).toEqual([from, false]);
    expect(isTaken({ part: 'done', from: '2024-02-29', until: null })).toBe(true);
    expect(isTaken({ part: 'exempt', is: true, not: true })).toBe(false);
  });

  test('that ask what is closed say of which course', () => {
    const closed = { part: 'access', of: ['blocked'] } as never;
    expect(filter.safeParse([closed]).success).toBe(false);
    expect(filter.safeParse([closed, { part: 'course', courses: [3], sets: [] }]).success).toBe(true);
  });
});
