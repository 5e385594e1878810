import { firstObstacle, type SignInFacts } from './first-obstacle.ts';

const today = '2026-11-25';
const fine: SignInFacts = {
  state: 'active',
  firstDay: null,
  lastDay: null,
  hasPassword: true,
  hasAddress: true,
  hasSignedIn: true,
  lastWrongAt: null,
  slowedUntil: null,
  bouncedAt: null,
  asking: null,
  groups: 1,
  restingGroups: [],
  course: null,
  waitsFor: null,
  coursesOpen: 3,
};
const at = '2026-11-25T09:02:00Z';

describe('the first thing that stops somebody', () => {
  test.each<[Partial<SignInFacts>, string, string]>([
    [{}, 'nothing', 'let in now'],
    [{ state: 'asking', asking: { group: 'Shore crew', since: at } }, 'asking', 'decide'],
    [{ state: 'paused', lastWrongAt: at }, 'paused', 'let work'],
    [{ state: 'ended' }, 'ended', 'let work'],
    [{ lastDay: '2026-11-24' }, 'ended', 'let work'],
    [{ firstDay: '2026-11-26' }, 'begins later', 'change days'],
    [{ firstDay: today, lastDay: today }, 'nothing', 'let in now'],
    [{ slowedUntil: at, lastWrongAt: at }, 'too many tries', 'let in now'],
    [{ lastWrongAt: at, groups: 0 }, 'wrong password', 'let in now'],
    [{ hasPassword: false, hasSignedIn: false }, 'never in', 'card'],
    [{ hasPassword: false, hasSignedIn: false, bouncedAt: at }, 'letter came back', 'change address'],
    [{ hasPassword: false }, 'no password', 'let in now'],
    [{ groups: 0 }, 'in no group', 'put in group'],
    [{ groups: 0, restingGroups: ['Old crew'] }, 'group rests', 'put in group'],
    [{ course: { name: 'VHF radio', open: false, opensOn: null, inLine: null } }, 'course not open', 'see why'],
    [{ course: { name: 'VHF radio', open: false, opensOn: '2027-01-04', inLine: null } }, 'course opens later', 'see why'],
    [{ course: { name: 'VHF radio', open: true, opensOn: null, inLine: null } }, 'nothing', 'let in now'],
    [{ course: { name: 'VHF radio', open: true, opensOn: null, inLine: 3 } }, 'in line', 'see seats'],
    [{ coursesOpen: 0, waitsFor: { name: 'VHF radio', inLine: 1 } }, 'in line', 'see seats'],
    [{ waitsFor: { name: 'VHF radio', inLine: 1 } }, 'in line', 'see seats'],
    [
      { course: { name: 'Knots', open: true, opensOn: null, inLine: null }, waitsFor: { name: 'VHF radio', inLine: 1 } },
      'nothing',
      'let in now',
    ],
    [{ coursesOpen: 0 }, 'nothing open', 'see why'],
  ])('with %j is %s, mended by %s', (facts, code, act) => {
    expect(firstObstacle({ ...fine, ...facts }, today)).toMatchObject({ code, act });
  });
});
