import { expect, test } from '@playwright/test';
import { complaints, Hand, signedIn } from './people.ts';

const partnerCrews = 38;

test('five courses for a crew, two of them in part, from January, under a licence with a limit of 40: at most 15 acts', async ({
  page,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/access/${partnerCrews}`);
  const hand = new Hand();
  const crew = 'Harbour crew';
  const cell = (course: string) => page.getByRole('gridcell', { name: new RegExp(`^${course} for ${crew}:`, 'u') });
  const button = (name: string | RegExp) => page.getByRole('button', { name });
  const panel = page.locator('aside.panel');

  await test.step('the range is drafted, and what all five say is set once', async () => {
    await hand.click(cell('Casualty care'));
    await hand.click(cell('Boat handling 2'), { modifiers: ['Shift'] });
    await hand.click(button('Open courses'));
    await hand.click(button('Dates, due day and licence for all 5 at once'));
    await hand.typeDay(panel.getByRole('textbox', { name: 'First day' }), '2027-01-04');
    await hand.click(panel.locator('.v-select').filter({ hasText: 'none needed' }));
    await hand.click(page.getByRole('option', { name: /^Partners: boat handling/u }));
  });
  await test.step('two of them open in part', async () => {
    for (const course of ['VHF radio', 'Throw-line basics']) {
      await hand.click(button(`Dates, units, due day and licence of ${course} for ${crew}`));
      await hand.click(panel.getByRole('group', { name: 'All units' }).getByRole('checkbox').last());
    }
    // Only the course that the licence covers is paid by it.
    await expect(panel.getByText('paid by Partners: boat handling')).toHaveCount(1);
    await expect(panel.getByText(/from 4 Jan 2027, \d+ of \d+ units/u)).toHaveCount(2);
  });
  await hand.click(button('Apply'));
  await expect(page.getByText('Applied.')).toBeVisible();
  await test.step('the limit', async () => {
    await hand.click(page.getByRole('link', { name: 'Seats' }));
    await hand.type(page.getByLabel(`Seat limit of ${crew}`), '40');
    await hand.click(button('Apply'));
    await expect(page.getByText('Limits saved.')).toBeVisible();
  });
  expect(hand.acts).toBeLessThanOrEqual(15);
  await page.goto(`/access/${partnerCrews}`);
  await expect(cell('Boat handling 1')).toHaveAccessibleName(/4 Jan/u);
  expect(trouble).toEqual([]);
});
