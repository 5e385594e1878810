import { createMemoryHistory, createRouter } from 'vue-router';
import { createApp, defineComponent, h } from 'vue';
import { areas } from './areas.ts';
import { keptQuery, type Scope, useScope } from './scope.ts';

/* From area to area and from group to group the scope goes along, and only what belongs there. */

/** A page at an address of the real areas. */
async function at(address: string): Promise<{ scope: Scope; path: () => string; settled: () => Promise<void> }> {
  const page = defineComponent(() => () => h('p'));
  const router = createRouter({ history: createMemoryHistory(), routes: areas.map(({ name, path }) => ({ name, path, component: page })) });
  await router.push(address);
  const app = createApp(page).use(router);
  let moved: Promise<void> = Promise.resolve();
  router.beforeEach(() => {
    moved = new Promise((resolve) => router.afterEach(() => resolve()));
  });
  return {
    scope: app.runWithContext(useScope),
    path: () => decodeURIComponent(router.currentRoute.value.fullPath),
    settled: async () => {
      await new Promise((resolve) => setTimeout(resolve));
      await moved;
    },
  };
}

test('what stays from area to area is whether subgroups are in it, and the filter', () => {
  expect(keptQuery({ subgroups: 'no', filter: '[1]', view: 'course', sort: '-7', person: '3' })).toEqual({
    subgroups: 'no',
    filter: '[1]',
  });
  expect(keptQuery({ subgroups: 'yes', filter: ['[1]', '[2]'] })).toEqual({});
});

test('another group keeps the area, its part and its view; sorting and what was open are left behind', async () => {
  const { scope, path, settled } = await at('/progress/3?view=learners&sort=-7&filter=[1]&subgroups=no&person=9');
  expect([scope.groupId.value, scope.withSubgroups.value, scope.query.value]).toEqual([3, false, { subgroups: 'no' }]);
  scope.goTo(12);
  await settled();
  expect(path()).toBe('/progress/12?subgroups=no&filter=[1]&view=learners');
  expect(scope.groupId.value).toBe(12);

  const inParts = await at('/ways-in/3/codes');
  inParts.scope.goTo(4);
  await inParts.settled();
  expect(inParts.path()).toBe('/ways-in/4/codes');
});

test('subgroups are left out and taken in again without losing the rest of the address', async () => {
  const { scope, path, settled } = await at('/groups/3?filter=[1]&person=9');
  scope.setSubgroups(false);
  await settled();
  expect(path()).toBe('/groups/3?filter=[1]&person=9&subgroups=no');
  scope.setSubgroups(true);
  await settled();
  expect(path()).toBe('/groups/3?filter=[1]&person=9');
});

test('a link to another area is of the same group and the same filter', async () => {
  const { scope } = await at('/access/3/sets/5?filter=[1]&view=grid');
  expect(scope.linkTo('progress')).toEqual({ name: 'progress', params: { groupId: 3 }, query: { filter: '[1]' } });
  expect(scope.linkTo('ways-in', 'asking')).toEqual({ name: 'ways-in', params: { groupId: 3, part: 'asking' }, query: { filter: '[1]' } });
});
