import { expect, test } from '@playwright/test';
import { complaints, Hand, signedIn } from './people.ts';

/** Where no other test works. */
const fallowBay = 28;

test('who is late inside a course gets more time, several at once, in few acts; one is exempt from the sheet; what is coming says so', async ({
  page,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  const hand = new Hand();
  const dialog = page.getByRole('dialog');
  const soon = new Date(Date.now() + 21 * 86_400_000).toISOString().slice(0, 10);

  await test.step('two who are late get until a day', async () => {
    const late = JSON.stringify([
      { part: 'course', courses: [1], sets: [] },
      { part: 'lateness', of: ['overdue'] },
    ]);
    await page.goto(`/progress/${fallowBay}?view=course&course=1&filter=${encodeURIComponent(late)}`);
    const rows = page.locator('tbody tr[data-row]');
    await expect(rows.first()).toBeVisible();
    const boxes = rows.getByRole('checkbox');
    await hand.click(boxes.nth(0));
    await hand.click(boxes.nth(1));
    await hand.click(page.getByRole('button', { name: 'Course exception' }));
    await expect(dialog.getByRole('heading', { name: 'Course exception for 2 people' })).toBeVisible();
    await hand.typeDay(dialog.getByRole('textbox', { name: 'Due on' }), soon);
    await expect(dialog.locator('.card').first()).toBeVisible();
    await hand.click(dialog.getByRole('button', { name: 'Save' }));
    await expect(page.getByText('Exception saved.')).toBeVisible();
    expect(hand.acts).toBeLessThanOrEqual(6);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByText('Undone.')).toBeVisible();
  });

  await test.step('somebody is exempt, with the reason on the sheet', async () => {
    await page.goto(`/groups/${fallowBay}?person=757`);
    await page.getByRole('button', { name: 'Exception in Cold-water immersion' }).click();
    const form = page.locator('.exception');
    await form.locator('.v-select').click();
    await page.getByRole('option', { name: 'Exempt' }).click();
    await form.getByLabel('Reason').fill('At sea until spring');
    await form.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Exempt: At sea until spring')).toBeVisible();
  });

  await test.step('the days to come, with their people, and the way to the course', async () => {
    await page.goto(`/access/${fallowBay}`);
    await page.getByRole('button', { name: 'Coming up' }).click();
    await expect(page.getByText(/due in/u).first()).toBeVisible();
    await page
      .getByRole('button', { name: /^Who\? \d+ (person is|people are) due/u })
      .first()
      .click();
    await expect(page.getByRole('complementary').getByRole('listitem').first()).toBeVisible();
    await page
      .getByRole('link', { name: /^Show progress/u })
      .first()
      .click();
    await expect(page).toHaveURL(/view=course&course=\d+|course=\d+&view=course/u);
  });
  expect(trouble).toEqual([]);
});
