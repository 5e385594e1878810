import { seldom } from './seldom.ts';

test('once for each key until the time has passed; what was forgotten for want of room is done again', () => {
  let now = 0;
  const isDue = seldom(1000, () => now);
  const at = (time: number, key: string): boolean => {
    now = time;
    return isDue(key);
  };
  expect([at(0, 'a'), at(1, 'b'), at(999, 'a'), at(1000, 'a'), at(1500, 'a'), at(2000, 'a')]).toEqual([
    true,
    true,
    false,
    true,
    false,
    true,
  ]);
  for (let n = 0; n < 10_000; n++) at(2001, `other ${n}`);
  expect([at(2002, 'a'), at(2002, 'other 9999')]).toEqual([true, false]);
});
