import { afterEach, expect, test } from '@jest/globals';
import { tellMomentsIn } from '../ui/format.ts';
import { lengthChoices, lengths, untilWhen } from './until-when.ts';

afterEach(() => {
  tellMomentsIn('UTC');
});
const now = Date.parse('2026-12-02T17:20:31.500Z');

test('a length ends on a whole minute, and never before it is over', () => {
  expect([untilWhen(0.5, '', now), untilWhen(1, '', now), untilWhen(24, '', now)]).toEqual([
    '2026-12-02T17:51:00.000Z',
    '2026-12-02T18:21:00.000Z',
    '2026-12-03T17:21:00.000Z',
  ]);
  const whole = Date.parse('2026-12-02T17:20:00Z');
  expect(untilWhen(2, 'not looked at', whole)).toBe('2026-12-02T19:20:00.000Z');
  // Looked at twice within a minute it is the same change.
  expect(untilWhen(4, '', now + 20_000)).toBe(untilWhen(4, '', now));
});

test('a moment is typed in the time of the platform', () => {
  expect(untilWhen(null, '', now)).toBeNull();
  tellMomentsIn('Pacific/Auckland');
  expect(untilWhen(null, '2026-12-03T18:00', now)).toBe('2026-12-03T05:00:00.000Z');
});

test('each length of the menu is said in words of its own', () => {
  expect(lengthChoices.map(({ value }) => value)).toEqual([...lengths]);
  expect(new Set(lengthChoices.map(({ title }) => title)).size).toBe(lengths.length);
});
