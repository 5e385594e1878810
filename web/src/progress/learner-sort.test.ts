import type { LearnerSortBy } from '@gate-roster/core';
import { addressWritten, atAddress } from '../testing/at-address.ts';
import { useLearnerSort } from './learner-sort.ts';

const name: LearnerSortBy = { by: 'name' };
const due: LearnerSortBy = { by: 'due' };
const course: LearnerSortBy = { by: 'course', id: 12 };

test('a heading that is pressed sorts by its column, pressed again from the other end, and the address says so', async () => {
  const router = await atAddress('/progress/3?view=learners&sort=-12', async () => {
    const { sort, directionOf, press } = useLearnerSort();
    const all = () => [name, due, course].map(directionOf);
    expect([sort.value, all()]).toEqual(['-12', ['none', 'none', 'descending']]);
    press(course);
    await addressWritten();
    expect([sort.value, all()]).toEqual(['12', ['none', 'none', 'ascending']]);
    press(due);
    await addressWritten();
    expect([sort.value, all()]).toEqual(['due', ['none', 'ascending', 'none']]);
    press({ by: 'active' });
    await addressWritten();
    expect([sort.value, directionOf({ by: 'active' })]).toEqual(['-active', 'descending']);
    press({ by: 'course', id: 1 });
    await addressWritten();
    expect([directionOf({ by: 'course', id: 1 }), directionOf(course)]).toEqual(['ascending', 'none']);
    press(name);
    await addressWritten();
    expect(all()).toEqual(['ascending', 'none', 'none']);
  });
  // By name is where one begins, so the address need not say it.
  expect(router.currentRoute.value.fullPath).toBe('/progress/3?view=learners');
});

test('an address that names no order is by name', async () => {
  await atAddress('/progress/3?sort=shoe-size', () => {
    const { sort, directionOf } = useLearnerSort();
    expect([sort.value, directionOf(name)]).toEqual(['name', 'ascending']);
  });
});
