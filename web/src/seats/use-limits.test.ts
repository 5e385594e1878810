import type { LicenceSheet } from '@gate-roster/contract';
import { nextTick, shallowRef } from 'vue';
import { useLimits } from './use-limits.ts';

const sheet = (id: number, most: (number | null)[]): LicenceSheet =>
  ({ id, groups: most.map((each, at) => ({ id: 10 + at, most: each })) }) as never;
const limitsOf = (licence: LicenceSheet) => {
  const at = shallowRef<LicenceSheet | undefined>(licence);
  return { at, limits: useLimits(at) };
};

test('limits that were typed are one change; what is as it was is not in it', () => {
  const { limits } = limitsOf(sheet(4, [5, null, 7]));
  expect(limits.change.value).toBeNull();
  limits.put(10, '8');
  limits.put(11, '3');
  limits.put(12, '7');
  expect(limits.change.value).toEqual({
    kind: 'limit-seats',
    licenceId: 4,
    limits: [
      { groupId: 10, most: 8 },
      { groupId: 11, most: 3 },
    ],
  });
  limits.put(10, '5');
  limits.put(11, '');
  expect(limits.change.value).toBeNull();
});

test('nothing typed means no limit, none at all is a limit, and what is no whole number is not taken', () => {
  const { at, limits } = limitsOf(sheet(4, [5]));
  const [group] = at.value?.groups ?? [];
  if (!group) throw new Error('no group');
  for (const [typed, shown] of [
    ['0', 0],
    ['-1', 0],
    ['2.5', 0],
    ['two', 0],
    [' ', null],
    [null, null],
    [' 9 ', 9],
  ] as const) {
    limits.put(10, typed);
    expect(limits.at(group)).toBe(shown);
  }
});

test('another licence begins with nothing typed; the same one, read again, keeps it', async () => {
  const { at, limits } = limitsOf(sheet(4, [5]));
  limits.put(10, '8');
  at.value = sheet(4, [6]);
  await nextTick();
  expect(limits.change.value).toMatchObject({ limits: [{ groupId: 10, most: 8 }] });
  at.value = sheet(9, [6]);
  await nextTick();
  expect(limits.change.value).toBeNull();
});
