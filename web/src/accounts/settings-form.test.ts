import { VueQueryPlugin } from '@tanstack/vue-query';
import { expect, test } from '@jest/globals';
import { createApp, effectScope, h } from 'vue';
import { z } from 'zod';
import { Failure } from '../api/call.ts';
import { notice } from '../ui/notice.ts';
import * as words from '../words.ts';
import { type SettingsForm, useSettingsForm } from './settings-form.ts';

const shape = z.strictObject({ name: z.string().trim().min(1), days: z.number().int().min(0) });
type Values = z.output<typeof shape>;
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 20));

/** A form over settings that are kept here. */
function opened(write: (values: Values) => Promise<unknown> = () => Promise.resolve()): { form: SettingsForm<Values>; written: Values[] } {
  let kept: Values = { name: 'Brightwater', days: 7 };
  const written: Values[] = [];
  const app = createApp(() => h('p'));
  app.use(VueQueryPlugin);
  const form = effectScope().run(() =>
    app.runWithContext(() =>
      useSettingsForm('settings of a test', {
        read: () => Promise.resolve(kept),
        write: async (values) => {
          await write(values);
          written.push(values);
          kept = values;
        },
        shape,
        wrong: 'A number of days is needed.',
        saved: 'Saved.',
      }),
    ),
  ) as SettingsForm<Values>;
  return { form, written };
}

test('what is typed is saved as a whole and tidied, and nothing of what was read is touched before', async () => {
  const { form, written } = opened();
  expect(form.values.value).toBeNull();
  await settled();
  expect(form.values.value).toEqual({ name: 'Brightwater', days: 7 });
  Object.assign(form.values.value ?? {}, { name: ' Brightwater East ', days: 14 });
  const saving = form.save();
  expect(form.isBusy.value).toBe(true);
  await saving;
  await settled();
  expect([written, form.isBusy.value, form.problem.value, notice.text]).toEqual([
    [{ name: 'Brightwater East', days: 14 }],
    false,
    null,
    'Saved.',
  ]);
  expect(form.values.value).toEqual({ name: 'Brightwater East', days: 14 });
});

test('what cannot be is not sent; what is refused stays as it was typed, with the reason', async () => {
  const { form, written } = opened(() => Promise.reject(new Failure('not-open')));
  await settled();
  Object.assign(form.values.value ?? {}, { days: 1.5 });
  await form.save();
  expect([written, form.problem.value, form.isBusy.value]).toEqual([[], 'A number of days is needed.', false]);
  Object.assign(form.values.value ?? {}, { days: 3 });
  await form.save();
  expect([written, form.problem.value, form.isBusy.value]).toEqual([[], words.failures['not-open'], false]);
  expect(form.values.value?.days).toBe(3);
});
