import { computed } from 'vue';
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
});
