import type { LicenceSheet } from '@gate-roster/contract';
import { soonestTroubleFirst } from './soonest-trouble.ts';

interface Asked {
  free?: number | null;
  inLine?: number;
  runsOut?: string;
  lastDay?: string;
}
const licence = (id: number, { free = 3, inLine = 0, runsOut, lastDay }: Asked): LicenceSheet =>
  ({
    id,
    lastDay: lastDay ?? null,
    groups: [{ free, inLine, forecast: runsOut ? { kind: 'runs out', day: runsOut } : { kind: 'lasts' } }],
  }) as never;
const order = (...list: LicenceSheet[]): number[] => soonestTroubleFirst(list).map(({ id }) => id);

test('first those for which people wait, then by the day on which seats run out or the licence ends, whichever is sooner', () => {
  expect(
    order(
      licence(1, {}),
      licence(2, { runsOut: '2027-03-01' }),
      licence(3, { lastDay: '2027-02-01' }),
      licence(4, { runsOut: '2027-01-15', lastDay: '2027-02-01' }),
      licence(5, { free: 0, inLine: 2, lastDay: '2028-01-01' }),
    ),
  ).toEqual([5, 4, 3, 2, 1]);
});

test('none free and nobody waiting is no trouble yet, nor is waiting where there is no limit; alike ones stay by number', () => {
  expect(
    order(licence(3, {}), licence(2, { free: null, inLine: 4 }), licence(1, { free: 0 }), licence(9, { free: -1, inLine: 1 })),
  ).toEqual([9, 1, 2, 3]);
});

test('a licence without groups comes by its last day', () => {
  const bare = { id: 7, lastDay: '2027-01-01', groups: [] } as never;
  expect(order(licence(1, {}), bare)).toEqual([7, 1]);
});
