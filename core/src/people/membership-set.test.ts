import fc from 'fast-check';
import { heldOfKey, membershipSetKey } from './membership-set.ts';

test('a key says which groups and until when, in any order of them, and reads back', () => {
  const held = fc.uniqueArray(
    fc.record({ groupId: fc.integer({ min: 1, max: 99 }), lastDay: fc.constantFrom(null, '2026-12-31', '2027-06-30') }),
    { selector: ({ groupId }) => groupId },
  );
  fc.assert(
    fc.property(held, (list) => {
      const key = membershipSetKey(list);
      expect(membershipSetKey(list.toReversed())).toBe(key);
      expect(heldOfKey(key)).toEqual(list.toSorted((a, b) => a.groupId - b.groupId));
    }),
  );
  expect(membershipSetKey([])).toBe('');
});
