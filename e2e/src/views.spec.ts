import { expect, test } from '@playwright/test';
import { complaints, Hand, signedIn } from './people.ts';

const gullhaven = 3;

test('a view is kept, begins the day, is shared, opened signed out, and withdrawn', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}?filter=${encodeURIComponent('[{"part":"lateness","of":["overdue"]}]')}&by=learners&without=2`);
  const menu = page.getByRole('button', { name: /^Kept views/u });
  const hand = new Hand();
  await hand.click(menu);
  await hand.click(page.getByRole('button', { name: 'Keep this view…', exact: true }));
  await hand.type(page.getByLabel('Name', { exact: true }), 'Overdue at Gullhaven');
  await hand.click(page.getByRole('button', { name: 'Save' }));
  await expect(page.getByText('View kept.')).toBeVisible();
  expect(hand.acts).toBeLessThanOrEqual(4);

  await page.goto(`/progress/${gullhaven}?view=course`);
  await menu.click();
  await page.getByRole('button', { name: 'Begin here after signing in: Overdue at Gullhaven' }).click();
  await expect(page.getByText('You begin with this view from now on.')).toBeVisible();
  await page.goto('/');
  await expect(page).toHaveURL(/progress\/3\?filter=.*&by=learners&without=2$/u);
  await expect(page.getByRole('columnheader', { name: 'Learners' })).toHaveAttribute('aria-sort', 'descending');
  await expect(page.getByText('Overdue', { exact: false }).first()).toBeVisible();

  await menu.click();
  await page.getByRole('button', { name: 'Share a link…', exact: true }).click();
  await expect(page.getByText('Groups of fewer than 5 learners are added together.')).toBeVisible();
  await page.getByRole('button', { name: 'Make the link' }).click();
  const link = await page.locator('p.link').innerText();
  const outside = await (await browser.newContext()).newPage();
  await outside.goto(link);
  await expect(outside.getByRole('heading', { name: 'Gullhaven' })).toBeVisible();
  await expect(
    outside
      .getByText(/^Only: /u)
      .or(outside.getByText(/Only: /u))
      .first(),
  ).toBeVisible();
  await expect(outside.getByRole('row').nth(1)).toContainText('Gullhaven');
  await page.getByRole('button', { name: 'Close' }).click();

  await menu.click();
  await page.getByRole('button', { name: 'Links I have made…', exact: true }).click();
  const mine = page.getByRole('listitem').filter({ hasText: 'opened 1 time' });
  await mine.getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText('Link withdrawn. It shows nothing any more.')).toBeVisible();
  await outside.reload();
  await expect(outside.getByRole('alert')).toContainText('This link shows nothing any more.');
  await outside.context().close();
  await page.getByRole('button', { name: 'Close' }).click();
  await menu.click();
  await page.getByRole('button', { name: 'Send Overdue at Gullhaven by letter' }).click();
  await page.getByRole('combobox', { name: 'Leaders who get it' }).fill('Ottoline');
  await page.getByRole('option', { name: /^Ottoline Brandt/u }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Send by letter', exact: true }).click();
  await expect(page.getByText('The first letter goes tomorrow.')).toBeVisible();
  await menu.click();
  await page.getByRole('button', { name: 'Forget Overdue at Gullhaven' }).click();
  await expect(page.getByText('View forgotten.')).toBeVisible();
  expect(trouble).toEqual([]);
});

test('results from a file: its columns found, its lines checked, brought in and taken back', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto('/results');
  const lines = [
    'Login,Course,Done on,Score',
    'bao,Casualty care,2025-03-04,80',
    'nobody-here,Casualty care,2025-03-04,80',
    'bao,Casualty care,soon,80',
  ];
  await page
    .getByLabel('Choose a file (CSV or XLSX)…')
    .setInputFiles({ name: 'old.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\n')) });
  await expect(page.getByText('1 line counts, about 1 person. 2 lines are left out.')).toBeVisible();
  await expect(page.getByText('Line 3: nobody is found by this')).toBeVisible();
  await expect(page.getByText('Line 4: not a date')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 1 line' }).click();
  await expect(page.getByText('Results brought in.')).toBeVisible();
  await page.getByRole('button', { name: 'Take back old.csv' }).click();
  await expect(page.getByText('Taken back. What was done otherwise too stays done.')).toBeVisible();
  await expect(page.getByRole('listitem').filter({ hasText: 'old.csv' })).toContainText('taken back');
  expect(trouble).toEqual([]);
});
