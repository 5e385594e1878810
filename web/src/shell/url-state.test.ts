import { createMemoryHistory, createRouter } from 'vue-router';
import { createApp, defineComponent, h } from 'vue';
import { idCode, idsCode, oneOf, textCode, useUrlState } from './url-state.ts';

test('each code reads what it writes, and nothing that makes no sense', () => {
  expect([idsCode.read(idsCode.write([3, 17])), idsCode.read('3,x'), idCode.read('12'), idCode.read('0x10')]).toEqual([
    [3, 17],
    undefined,
    12,
    undefined,
  ]);
  expect([oneOf(['a', 'b']).read('b'), oneOf(['a', 'b']).read('c')]).toEqual(['b', undefined]);
});

test('state is kept in the address: what changes together goes there together, and the first value is left out', async () => {
  const page = defineComponent(() => () => h('p'));
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/', component: page }] });
  await router.push('/?subgroups=no&search=ada');
  const app = createApp(page);
  app.use(router);
  await app.runWithContext(async () => {
    const search = useUrlState('search', '', textCode);
    const tags = useUrlState('tags', [], idsCode);
    expect([search.value, tags.value]).toEqual(['ada', []]);
    search.value = '';
    tags.value = [4, 9];
    expect([search.value, tags.value]).toEqual(['', [4, 9]]);
    await new Promise((resolve) => setTimeout(resolve, 0));
  });
  expect(router.currentRoute.value.query).toEqual({ subgroups: 'no', tags: '4,9' });
});
