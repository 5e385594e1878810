import { jest } from '@jest/globals';
import { notice } from '../ui/notice.ts';

const call = jest.fn<(name: string, given: object) => Promise<{ ids: number[] }>>();
jest.unstable_mockModule('../api/call.ts', () => ({ call }));
const { chooseAll } = await import('./choose-all.ts');

test('all who match are chosen, and it is said when that is not everybody', async () => {
  call.mockResolvedValue({ ids: [4, 2] });
  const set = jest.fn();
  await chooseAll({ set }, 3, { sort: '-name' }, 2);
  expect(call).toHaveBeenCalledWith('allPeople', { params: { groupId: 3 }, query: { sort: '-name' } });
  expect(set).toHaveBeenCalledWith([4, 2]);
  expect(notice.isShown).toBe(false);
  await chooseAll({ set }, 3, {}, 12_345);
  expect([notice.isShown, notice.text.includes('first 2 of 12,345')]).toEqual([true, true]);
});
