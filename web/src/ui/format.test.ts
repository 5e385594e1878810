import { dayOfDate, dayOfText, showDay } from './format.ts';

test('days come as they are written in files, as they are shown, and as they are typed', () => {
  const same = ['2026-11-03', ' 3 Nov 2026 ', '03 November 2026', '3/11/2026', '03.11.2026', showDay('2026-11-03')];
  expect(same.map(dayOfText)).toEqual(same.map(() => '2026-11-03'));
  expect(['', 'soon', '2026-11-31', '11/23/2026', '3 Nov', '2026-11-03T10:00'].map(dayOfText)).toEqual(Array(6).fill(null));
});

test('the day of a picker’s date is the one it shows, at midnight as well as just before', () => {
  expect([dayOfDate(new Date(2026, 0, 1)), dayOfDate(new Date(2026, 0, 1, 23, 59))]).toEqual(['2026-01-01', '2026-01-01']);
});
