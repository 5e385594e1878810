import { presetOf, presets } from './powers.ts';
import { mayActOnAccount } from './whose-account.ts';

const leader = { personId: 1, role: 'none' as const, leaderships: [{ groupId: 3, powers: presets.head }] };
const account = (more: object) => ({ personId: 9, role: 'none' as const, leads: false, paths: [[1, 3, 7]], ...more });

test('an account is a leader’s to act on only when it lies wholly in their branch and has no power', () => {
  expect(mayActOnAccount(leader, account({}))).toBe(true);
  expect(
    mayActOnAccount(
      leader,
      account({
        paths: [
          [1, 3, 7],
          [1, 3, 8],
        ],
      }),
    ),
  ).toBe(true);
  expect(
    mayActOnAccount(
      leader,
      account({
        paths: [
          [1, 3, 7],
          [1, 2],
        ],
      }),
    ),
  ).toBe(false);
  expect(mayActOnAccount(leader, account({ paths: [] }))).toBe(false);
  expect(mayActOnAccount(leader, account({ leads: true }))).toBe(false);
  expect(mayActOnAccount(leader, account({ role: 'administrator' }))).toBe(false);
  expect(mayActOnAccount({ ...leader, leaderships: [{ groupId: 3, powers: presets.helper }] }, account({}))).toBe(false);
  expect(mayActOnAccount({ personId: 1, role: 'administrator', leaderships: [] }, account({ leads: true, paths: [] }))).toBe(true);
});

test('presets are known by their powers, whatever the order', () => {
  expect(presetOf(['decideEntry', 'seeProgress', 'helpSignIn'])).toBe('helper');
  expect(presetOf([...presets.head])).toBe('head');
  expect(presetOf(['seeProgress'])).toBeNull();
});
