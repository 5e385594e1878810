import { lateness, standing } from './status.ts';

const activities = [
  { id: 1, unitId: 10, scored: false },
  { id: 2, unitId: 10, scored: true },
  { id: 3, unitId: 11, scored: true },
];
const rule = { activities: null, passScore: null };
const done = (activityId: number, score: number | null = null) => ({ activityId, finished: true, score });

describe('standing', () => {
  it('is done when all activities of the open units are, and no others', () => {
    expect(standing(activities, [10], [done(1), done(2, 80)], rule)).toEqual({
      status: 'done',
      score: 80,
      finishedActivities: 2,
      neededActivities: 2,
    });
    expect(standing(activities, [10, 11], [done(1), done(2, 80)], rule).status).toBe('under way');
    expect(standing(activities, [10], [], rule)).toMatchObject({ status: 'not begun', score: null });
  });

  it('asks for the pass score and for named activities', () => {
    expect(standing(activities, [10], [done(1), done(2, 49)], { ...rule, passScore: 50 }).status).toBe('under way');
    expect(standing(activities, [10], [done(3, 90)], { activities: [3], passScore: null }).status).toBe('done');
  });

  it('never counts a missing score as 0, nor calls nothing done', () => {
    expect(standing(activities, [10, 11], [done(2), done(3, 60)], rule).score).toBe(60);
    expect(standing([], [10], [], rule).status).toBe('not begun');
  });
});

test.each([
  ['2026-03-10', null, '2026-03-11', 'overdue'],
  ['2026-03-10', null, '2026-03-10', 'due soon'],
  ['2026-03-10', null, '2026-03-03', 'due soon'],
  ['2026-03-10', null, '2026-03-02', 'on time'],
  ['2026-03-10', '2026-03-11', '2026-04-01', 'done late'],
  ['2026-03-10', '2026-03-10', '2026-04-01', 'on time'],
  [null, null, '2026-03-02', 'on time'],
] as const)('due %s, done %s, on %s: %s', (due, doneDay, today, expected) => {
  expect(lateness(due, doneDay, today)).toBe(expected);
});
