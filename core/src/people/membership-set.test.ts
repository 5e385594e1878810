import fc from 'fast-check';
import { type AccountWorks, ofSetKey, membershipSetKey } from './membership-set.ts';

test('a key says which groups and until when, and how long the account works, in any order of them, and reads back', () => {
  const held = fc.uniqueArray(
    fc.record({ groupId: fc.integer({ min: 1, max: 99 }), lastDay: fc.constantFrom(null, '2026-12-31', '2027-06-30') }),
    { selector: ({ groupId }) => groupId },
  );
  fc.assert(
    fc.property(held, fc.constantFrom<AccountWorks>('off', { lastDay: null }, { lastDay: '2027-01-31' }), (list, account) => {
      const key = membershipSetKey(list, account);
      expect(membershipSetKey(list.toReversed(), account)).toBe(key);
      expect(ofSetKey(key)).toEqual({ held: list.toSorted((a, b) => a.groupId - b.groupId), account });
    }),
  );
  expect(membershipSetKey([])).toBe('');
});
