import { type Actor, branchesWith, may, speakingBranch } from './may.ts';
import { presets } from './powers.ts';

const head: Actor = {
  personId: 1,
  role: 'none',
  leaderships: [
    { groupId: 3, powers: presets.head },
    { groupId: 5, powers: presets.helper },
  ],
};
const administrator: Actor = { personId: 2, role: 'administrator', leaderships: [] };
const learner: Actor = { personId: 3, role: 'none', leaderships: [] };

describe('may', () => {
  it('gives a leader their powers in their branch, and nothing beside or above it', () => {
    expect(may(head, 'managePeople', { path: [1, 3, 4] })).toBe(true);
    expect(may(head, 'managePeople', { path: [1, 5] })).toBe(false);
    expect(may(head, 'see', { path: [1, 5] })).toBe(true);
    expect(may(head, 'see', { path: [1, 2] })).toBe(false);
    expect(may(head, 'see', { path: [1] })).toBe(false);
    expect(may(head, 'administer', { path: [1, 3] })).toBe(false);
  });
  it('gives an administrator everything and a learner nothing', () => {
    expect(may(administrator, 'administer', { path: [1] })).toBe(true);
    expect(may(learner, 'see', { path: [1] })).toBe(false);
  });
  it('speaks in the name of the nearest branch that gives the power', () => {
    expect(
      speakingBranch(
        {
          ...head,
          leaderships: [
            { groupId: 1, powers: ['openCourses'] },
            { groupId: 3, powers: ['see' as never] },
          ],
        },
        'openCourses',
        { path: [1, 3, 4] },
      ),
    ).toBe(1);
    expect(speakingBranch(administrator, 'openCourses', { path: [1, 3] })).toBeNull();
    expect(branchesWith(head, 'managePeople')).toEqual([3]);
    expect(branchesWith(administrator, 'see')).toBeNull();
  });
});
