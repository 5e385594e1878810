import { computed, nextTick, shallowRef } from 'vue';
import { useSelection } from './selection.ts';

const list = (count: number) => useSelection(computed(() => Array.from({ length: count }, (_, index) => ({ id: 100 + index }))));
const ids = (selection: ReturnType<typeof list>): number[] => [...selection.chosen.value].sort((a, b) => a - b);

describe('useSelection', () => {
  it('chooses and leaves one by one', () => {
    const selection = list(5);
    selection.click(1, false);
    selection.click(3, false);
    selection.click(1, false);
    expect(ids(selection)).toEqual([103]);
  });

  it('takes a range from the last click, in either direction, and adds to what is chosen', () => {
    const selection = list(9);
    selection.click(0, false);
    selection.click(6, false);
    selection.click(4, true);
    expect(ids(selection)).toEqual([100, 104, 105, 106]);
    selection.click(8, true);
    expect(selection.count.value).toBe(6);
  });

  it('begins a fresh range after it was cleared', () => {
    const selection = list(9);
    selection.click(2, false);
    selection.clear();
    selection.click(5, true);
    expect(ids(selection)).toEqual([105]);
  });

  it('keeps what has not been fetched, and in a whole list leaves out what is gone', async () => {
    const rows = shallowRef([{ id: 'kite' }, { id: 'gull' }, { id: 'tern' }]);
    const [paged, whole] = [useSelection(rows), useSelection(rows, { isWhole: true })];
    for (const selection of [paged, whole]) selection.set(['gull', 'tern']);
    rows.value = [{ id: 'kite' }, { id: 'tern' }];
    await nextTick();
    expect([[...paged.chosen.value], [...whole.chosen.value]]).toEqual([['gull', 'tern'], ['tern']]);
  });
});
