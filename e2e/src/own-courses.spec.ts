import { expect, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

const gullhaven = 3;

test('a leader makes a course of the branch and opens it; a learner reads it, sees why it is open, and ticks it off', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  const panel = page.locator('aside.panel');
  const button = (name: string) => page.getByRole('button', { name, exact: true });

  await test.step('made from lines, filled with words and a link, opened for the branch', async () => {
    await page.goto(`/access/${gullhaven}/courses`);
    await button('New course of Gullhaven').click();
    await panel.getByLabel('One course per line').fill('Winch drill\n  On the slip\n    Read the drill');
    await panel.getByRole('button', { name: 'Add 1 course' }).click();
    await page.getByRole('link', { name: 'Winch drill' }).click();
    await expect(page.getByText('It can be opened only in Gullhaven and below.').first()).toBeVisible();
    await button('Edit course').click();
    await panel.getByLabel('What to read: Read the drill').fill('One calls, all can stop it.');
    await panel.getByLabel('Link to open: Read the drill').fill('https://drill.example/slip');
    await button('Save').click();
    await expect(page.getByText('One calls, all can stop it.')).toBeVisible();
    await button('Open for groups').click();
    await panel.getByRole('combobox', { name: 'Groups' }).fill('gullhaven');
    await page
      .getByRole('option', { name: /Gullhaven/u })
      .first()
      .click();
    await page.keyboard.press('Escape');
    await expect(panel.getByText(/gain/u).first()).toBeVisible();
    await button('Apply').click();
    await expect(page.getByText('Opened.')).toBeVisible();
  });

  await test.step('the learner’s page', async () => {
    const learner = await browser.newPage();
    const troubleThere = complaints(learner);
    await signedIn(learner, 'bao');
    await learner.goto('/my-courses');
    const card = learner.getByRole('article').filter({ hasText: 'Winch drill' });
    await card.getByText('Why?').click();
    await expect(card.getByText(/It is open for Gullhaven/u).first()).toBeVisible();
    await card.getByRole('link', { name: /Winch drill/u }).click();
    await expect(learner.getByText('One calls, all can stop it.')).toBeVisible();
    await expect(learner.getByRole('link', { name: 'Open drill.example' })).toHaveAttribute('rel', /noopener/u);
    await learner.getByRole('checkbox', { name: 'I have done this: Read the drill' }).check();
    await learner.goto('/my-courses');
    await expect(card.getByText(/^Done/u)).toBeVisible();
    expect(troubleThere).toEqual([]);
    await learner.close();
  });
  expect(trouble).toEqual([]);
});

test('what the course platform offers is looked at and taken by its keys alone, and undone', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto('/access/1/courses');
  await page.getByRole('button', { name: 'Check the platform' }).press('Enter');
  const panel = page.locator('aside.panel');
  await expect(panel.getByText(/2 new, 1 changed, 1 no longer offered, 1 the same/u)).toBeVisible();
  await expect(panel.getByText(/Distress is now called Distress and urgency/u)).toBeVisible();
  await panel.getByRole('checkbox', { name: 'VHF radio' }).press('Space');
  const take = panel.getByRole('button', { name: 'Take 2 courses' });
  await expect(panel.getByText('0 gain, 0 lose.')).toBeAttached();
  await expect(take).toBeEnabled();
  await take.press('Enter');
  await expect(page.getByText('Courses taken from the platform.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Rope rescue' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).press('Enter');
  await expect(page.getByRole('link', { name: 'Rope rescue' })).toHaveCount(0);
  expect(trouble).toEqual([]);
});

test('a set is chosen by its heading for the group one stands at, and drafted as one range; columns can be left out', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto('/access/15');
  // In the row of the group itself: what stands above it is only looked at.
  await page.locator('tr.top').getByRole('gridcell').first().focus();
  await page.getByRole('button', { name: 'Choose all courses of Duty for the chosen groups' }).click();
  // How many courses the set has depends on what was done on this site before.
  const range = page.getByRole('toolbar', { name: /^([2-9]|\d\d) cells chosen$/u });
  await range.getByRole('button', { name: 'Open courses' }).click();
  await expect(page.locator('aside.panel').getByText(/^Draft, \d+ statements?$/u)).toBeVisible();
  await range.getByRole('button', { name: 'Remove from draft' }).click();
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'Engine care' }).uncheck();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('columnheader', { name: 'Engine care' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('columnheader', { name: 'Safeguarding' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Engine care' })).toHaveCount(0);
  expect(trouble).toEqual([]);
});
