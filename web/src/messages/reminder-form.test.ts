import type { ReminderRow } from '@gate-roster/contract';
import { reminderTexts } from '@gate-roster/core';
import { reminderChange, reminderForm } from './reminder-form.ts';

const row: ReminderRow = {
  occasion: 'before due',
  course: { id: 5, name: 'Rope work' },
  group: { id: 3, name: 'Gullhaven' },
  where: 'here',
  counts: true,
  days: 9,
  text: { subject: 'Soon', body: 'Go on.' },
  by: null,
};

test('what stands is what the form asks for, until something else is typed', () => {
  expect(reminderChange(3, 'before due', reminderForm('before due', row))).toEqual({
    kind: 'set-reminder',
    groupId: 3,
    courseId: 5,
    occasion: 'before due',
    values: { days: 9, text: { subject: 'Soon', body: 'Go on.' }, alsoPassed: true },
  });
});

test('a new one begins with the usual text; nobody, and as above, have neither text nor days', () => {
  const form = reminderForm('certificate ends', null);
  expect(form).toMatchObject({ days: 30, hasOwnText: false, ...reminderTexts['certificate ends'] });
  const valuesOf = (state: typeof form.state) => reminderChange(3, 'certificate ends', { ...form, state }).values;
  expect([valuesOf('remind'), valuesOf('nobody'), valuesOf('above')]).toEqual([{ days: 30, text: null, alsoPassed: true }, 'nobody', null]);
  expect(reminderForm('before due', { ...row, days: null, text: null }).state).toBe('nobody');
});

test.each([
  [7.6, 8],
  [-3, 0],
  [Number.NaN, 0],
  [9999, 365],
])('%d typed is %d days', (typed, days) => {
  const form = { ...reminderForm('after due', null), days: typed };
  expect(reminderChange(3, 'after due', form).values).toMatchObject({ days });
  expect(reminderChange(3, 'on due', form).values).toMatchObject({ days: 0 });
});
