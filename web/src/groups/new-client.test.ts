import { presets } from '@gate-roster/core';
import { clientChange, emptyClient } from './new-client.ts';

const typed = { ...emptyClient(3), name: 'Lantern Ferries' };

test('nothing is asked for before there is a name', () => {
  expect(clientChange(emptyClient(3))).toBeNull();
  expect(clientChange({ ...typed, parentId: null })).toBeNull();
});

test('a name alone is a group with a join code', () => {
  expect(clientChange(typed)).toEqual({
    kind: 'make-client',
    parentId: 3,
    name: 'Lantern Ferries',
    firstDay: null,
    lastDay: null,
    leader: null,
    opens: [],
    seats: { how: 'none' },
    code: true,
  });
});

test('a pasted leader, courses and sets, and seats by a licence of its own or a limit above', () => {
  const full = { ...typed, leader: 'Ada Lind ada@lantern.example', opens: ['course 4', 'set 2'], seats: '12', lastDay: '2027-06-30' };
  expect(clientChange(full)).toMatchObject({
    leader: { who: { givenName: 'Ada', familyName: 'Lind', email: 'ada@lantern.example' }, powers: presets.head },
    opens: [{ courseId: 4 }, { courseSetId: 2 }],
    seats: { how: 'own', seats: 12 },
    lastDay: '2027-06-30',
  });
  expect(clientChange({ ...full, licenceId: 9 })?.seats).toEqual({ how: 'limit', licenceId: 9, most: 12 });
  // Seats are of something.
  expect(clientChange({ ...full, opens: [] })?.seats).toEqual({ how: 'none' });
});
