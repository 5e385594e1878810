import type { MatchingPeople } from '@gate-roster/contract';
import { jest } from '@jest/globals';
import { ref } from 'vue';
import { useSelection } from '../ui/selection.ts';

const call = jest.fn<(name: string, given: object) => Promise<{ ids: number[] }>>();
jest.unstable_mockModule('../api/call.ts', () => ({ call }));
const { chosenByNumber, numbersOf, useChosen } = await import('./chosen.ts');

const listed: Omit<MatchingPeople, 'but'> = {
  groupId: 3,
  subgroups: 'no',
  counted: 'yes',
  countedOnly: false,
  filter: [{ part: 'signed in', is: true }],
  fits: 'no',
};

test('people who were clicked are named; all whom the list shows are its filter, but for those who were left out', () => {
  const rows = ref([{ id: 5 }, { id: 6 }, { id: 7 }]);
  const selection = useSelection(rows, { total: () => 31_000 });
  const chosen = useChosen(selection, () => listed);
  selection.click(1, false);
  expect(chosen.value).toEqual({ people: [6], count: 1 });
  selection.setAll();
  expect(chosen.value).toEqual({ people: { ...listed, but: [] }, count: 31_000 });
  selection.click(0, false);
  expect(chosen.value).toEqual({ people: { ...listed, but: [5] }, count: 30_999 });
});

test('numbers are asked for only where they are not known', async () => {
  call.mockResolvedValue({ ids: [9, 4] });
  expect(await numbersOf(chosenByNumber([2, 1]))).toEqual([2, 1]);
  expect(call).not.toHaveBeenCalled();
  const people = { ...listed, but: [5] };
  expect(await numbersOf({ people, count: 2 })).toEqual([9, 4]);
  expect(call).toHaveBeenCalledWith('chosenNumbers', { body: people });
});
