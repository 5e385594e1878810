import { daysFromUnitToUnit, hasStopped, insideSums, placeIn, stoppedAfterDays, type WorkedActivity } from './inside-course.ts';

const activities = [
  { id: 11, unitId: 1 },
  { id: 12, unitId: 1 },
  { id: 21, unitId: 2 },
  { id: 31, unitId: 3 },
];
const worked = (...list: [id: number, day: string, finished?: boolean][]): WorkedActivity[] =>
  list.map(([activityId, lastDay, finished = true]) => ({ activityId, lastDay, finished }));

test('the place is the first unfinished activity of the open units, whatever was done behind it', () => {
  expect(placeIn(activities, [1, 2, 3], [])).toBe(11);
  expect(placeIn(activities, [1, 2, 3], worked([11, '2026-11-02'], [12, '2026-11-02', false], [31, '2026-11-03']))).toBe(12);
  expect(placeIn(activities, [2, 3], worked([21, '2026-11-02']))).toBe(31);
  expect(placeIn(activities, [1], worked([11, '2026-11-02'], [12, '2026-11-02']))).toBeNull();
  expect(placeIn(activities, [], [])).toBeNull();
});

test('stopped is who has done nothing for 14 days; who has not begun has not stopped', () => {
  expect(stoppedAfterDays).toBe(14);
  expect(hasStopped([], '2026-11-28')).toBe(false);
  expect(hasStopped(worked([11, '2026-11-14'], [12, '2026-10-01']), '2026-11-28')).toBe(true);
  expect(hasStopped(worked([11, '2026-11-15'], [12, '2026-10-01']), '2026-11-28')).toBe(false);
});

test('days from unit to unit count from the last activity of one to the last of the other', () => {
  const all = worked([11, '2026-11-01'], [12, '2026-11-05'], [21, '2026-11-16'], [31, '2026-11-04']);
  expect(daysFromUnitToUnit(activities, [1, 2], all)).toBe(11);
  expect(daysFromUnitToUnit(activities, [2, 3], all)).toBe(-12);
  expect(daysFromUnitToUnit(activities, [1, 2], all.slice(1))).toBeNull();
  expect(daysFromUnitToUnit(activities, [1, 2], worked([11, '2026-11-01'], [12, '2026-11-05'], [21, '2026-11-16', false]))).toBeNull();
});

test('sums count everybody once, stops those who are under way alone, and days from each unit to the next', () => {
  const long = worked([11, '2026-11-01'], [12, '2026-11-05'], [21, '2026-11-09']);
  const short = worked([11, '2026-11-01'], [12, '2026-11-01'], [21, '2026-11-03'], [31, '2026-11-03']);
  const learner = { status: 'under way' as const, exempt: false, openUnits: [1, 2, 3], worked: long };
  const learners = [
    learner,
    { ...learner, status: 'done' as const, worked: short },
    { ...learner, exempt: true },
    { ...learner, status: 'not begun' as const, worked: [] },
  ];
  expect(insideSums(learners, activities, '2026-11-28')).toEqual({
    figures: { all: 4, done: 1, underWay: 1, exempt: 1 },
    stops: [{ activityId: 31, people: 1 }],
    days: [
      { unitId: 1, people: 3, low: 3, median: 4, high: 4 },
      { unitId: 2, people: 1, low: 0, median: 0, high: 0 },
    ],
  });
  expect(insideSums([], [], '2026-11-28')).toEqual({ figures: { all: 0, done: 0, underWay: 0, exempt: 0 }, stops: [], days: [] });
});
