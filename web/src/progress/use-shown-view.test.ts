import { plainView, type ShownView } from '@gate-roster/contract';
import { createMemoryHistory, createRouter } from 'vue-router';
import { atAddress } from '../testing/at-address.ts';
import { placeOf } from './shown-view.ts';
import { useShownView } from './use-shown-view.ts';

/** What a screen shows that is opened where a view was kept. */
async function openedFrom(view: ShownView): Promise<ShownView> {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/progress/:groupId', name: 'progress', component: () => null }],
  });
  const shown: ShownView[] = [];
  await atAddress(router.resolve(placeOf(3, view)).fullPath, () => {
    shown.push(useShownView().shown.value);
  });
  return shown[0] ?? plainView;
}

test('a kept view opens as it was kept, every part of it', async () => {
  const other: Omit<ShownView, 'view'> = {
    subgroups: 'no',
    filter: [{ part: 'lateness', of: ['overdue'] }],
    courseId: 7,
    groups: [4, 9],
    sort: '-7',
    rows: 'tags',
    scores: 'median',
    by: '-12',
    without: [2, 3],
    levels: 2,
    unfold: [5],
    count: 'common',
    day: '2026-03-31',
    from: '2026-01-01',
  };
  expect(Object.keys(other).sort()).toEqual(
    Object.keys(plainView)
      .filter((key) => key !== 'view')
      .sort(),
  );
  for (const view of ['groups', 'learners', 'course', 'beside'] as const)
    expect(await openedFrom({ ...other, view })).toEqual({ ...other, view });
  expect(await openedFrom(plainView)).toEqual(plainView);
  for (const [key, value] of Object.entries(other))
    expect(await openedFrom({ ...plainView, [key]: value })).toEqual({ ...plainView, [key]: value });
});

test('views that are no tables tell of today', async () => {
  expect(await openedFrom({ ...plainView, view: 'skills', day: '2026-03-31', from: '2026-01-01' })).toEqual({
    ...plainView,
    view: 'skills',
  });
});
