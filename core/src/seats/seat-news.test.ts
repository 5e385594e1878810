import { seatNews } from './seat-news.ts';
import type { SeatPerson } from './licence.ts';
import type { SeatOutcome } from './settle-seats.ts';

const person = (key: number, more: Partial<SeatPerson> = {}): SeatPerson => ({
  key,
  groups: [3],
  seats: [],
  begun: new Set(),
  needs: [{ courseId: 7, ways: [{ licenceId: 1, groupId: 3 }] }],
  places: new Map(),
  words: new Map(),
  fileRow: 0,
  ...more,
});
const nothing: SeatOutcome = { begin: [], move: [], end: [], queue: [], unqueue: [] };
const seat = { id: 50, licenceId: 1, groupId: 3 };

it('tells who waited that they have a seat; who comes and gets one at once is told nothing', () => {
  const begin = [1, 2].map((key) => ({ key, courseId: 7, licenceId: 1, groupId: 3 }));
  expect(seatNews([person(1, { places: new Map([[7, 4]]) }), person(2)], { ...nothing, begin })).toEqual([
    { key: 1, courseId: 7, what: 'got' },
  ]);
});

it('tells who waited for two courses of one licence of both, since its one seat serves both', () => {
  const needs = [7, 8].map((courseId) => ({ courseId, ways: [{ licenceId: 1, groupId: 3 }] }));
  const waits = person(1, {
    needs,
    places: new Map([
      [7, 4],
      [8, 5],
    ]),
  });
  const begin = [{ key: 1, courseId: 7, licenceId: 1, groupId: 3 }];
  expect(seatNews([waits], { ...nothing, begin }).map(({ courseId, what }) => [courseId, what])).toEqual([
    [7, 'got'],
    [8, 'got'],
  ]);
});

it('tells who loses a seat that they still need, not who needs none any more or gets another', () => {
  const end = [{ seatId: 50, key: 1 }];
  const holder = person(1, { seats: [seat] });
  expect(seatNews([holder], { ...nothing, end })).toEqual([{ key: 1, courseId: 7, what: 'lost' }]);
  expect(seatNews([{ ...holder, needs: [] }], { ...nothing, end })).toEqual([]);
  const two = person(1, {
    seats: [seat],
    needs: [
      {
        courseId: 7,
        ways: [
          { licenceId: 1, groupId: 3 },
          { licenceId: 2, groupId: 3 },
        ],
      },
    ],
  });
  expect(seatNews([two], { ...nothing, end, begin: [{ key: 1, courseId: 7, licenceId: 2, groupId: 3 }] })).toEqual([]);
  // Its licence is over, so nothing can pay: the seat is gone all the same.
  expect(seatNews([{ ...holder, needs: [{ courseId: 7, ways: [] }] }], { ...nothing, end })).toEqual([
    { key: 1, courseId: 7, what: 'lost' },
  ]);
});
