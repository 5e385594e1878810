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

  it('has everything once all are chosen, what is fetched later too, but for what is left out', () => {
    const rows = shallowRef([{ id: 1 }, { id: 2 }, { id: 3 }, { id: 4 }]);
    const selection = useSelection(rows, { total: () => 9 });
    selection.click(3, false);
    selection.setAll();
    rows.value = [...rows.value, { id: 5 }];
    const seen = () => [rows.value.filter(({ id }) => selection.has(id)).length, selection.count.value, [...selection.leftOut.value]];
    expect([...seen(), selection.isAll.value]).toEqual([5, 9, [], true]);
    selection.click(1, false);
    selection.click(3, false);
    expect(seen()).toEqual([3, 7, [2, 4]]);
    // A range takes back what was left out in it.
    selection.click(0, true);
    expect(seen()).toEqual([5, 9, []]);
    selection.click(0, false);
    selection.set([3]);
    expect([...seen(), selection.isAll.value, [...selection.chosen.value]]).toEqual([1, 1, [], false, [3]]);
  });

  it('counts nobody below none when the list shrinks', () => {
    const total = shallowRef(3);
    const rows = shallowRef([{ id: 1 }, { id: 2 }]);
    const selection = useSelection(rows, { total: () => total.value });
    selection.setAll();
    selection.click(0, false);
    selection.click(1, false);
    total.value = 1;
    expect(selection.count.value).toBe(0);
    selection.clear();
    expect([selection.isAll.value, selection.count.value]).toEqual([false, 0]);
  });

  it('keeps what is chosen while the list is of the same, and begins afresh where it is of something else', async () => {
    const address = shallowRef({ filter: ['reserve'], person: 0 });
    const rows = shallowRef([{ id: 1 }, { id: 2 }, { id: 3 }]);
    const selection = useSelection(rows, { of: () => [address.value.filter] });
    selection.click(0, false);
    selection.click(2, false);
    address.value = { filter: ['reserve'], person: 2 };
    await nextTick();
    expect([...selection.chosen.value]).toEqual([1, 3]);
    selection.setAll();
    address.value = { filter: ['reserve', 'coastal'], person: 2 };
    await nextTick();
    expect([selection.isAll.value, selection.count.value]).toEqual([false, 0]);
  });
});
