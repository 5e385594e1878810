import { expect, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

test('a range is drawn by dragging and takes over what its first cell says; a due day has a least time, is firm, and has a note', async ({
  page,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto('/access/3');
  const cell = (group: string, course: string) => page.getByRole('gridcell', { name: new RegExp(`^${course} for ${group}:`, 'u') });
  const panel = page.locator('aside.panel');
  const button = (name: string) => panel.getByRole('button', { name, exact: true });

  await test.step('by the pointer, and by Ctrl+C and Ctrl+V', async () => {
    await cell('Cadets', 'Casualty care').hover();
    await page.mouse.down();
    await cell('Junior cadets', 'Casualty care').hover();
    await cell('Inshore crew', 'Casualty care').hover();
    await page.mouse.up();
    const range = page.getByRole('toolbar', { name: '3 cells chosen' });
    await range.getByRole('button', { name: 'Copy the first cell to all' }).click();
    await expect(panel.getByText('Draft, 2 statements')).toBeVisible();
    await expect(panel.getByText(/3 of 8 units/u)).toHaveCount(2);
    await cell('Inshore crew', 'Casualty care').click();
    await cell('Inshore crew', 'Casualty care').press('Control+c');
    await cell('Shore crew', 'Casualty care').click();
    await cell('Shore crew', 'Casualty care').press('Control+v');
    await expect(panel.getByText('Draft, 3 statements')).toBeVisible();
    await expect(panel.getByText(/3 of 8 units/u)).toHaveCount(3);
    await button('Discard').click();
  });

  await test.step('who would still get in by another way is stopped by one act', async () => {
    await cell('Inshore crew', 'VHF radio').click();
    await button('Block course here').click();
    await expect(panel.getByText(/still gets? in by another way/u)).toBeVisible();
    await button('Block firmly, so that nobody gets in another way').click();
    await expect(panel.getByText(/still gets? in by another way/u)).toBeHidden();
    await button('Discard').click();
  });

  await test.step('all that a statement can say', async () => {
    await cell('Shore crew', 'Search patterns').click();
    await button('Dates, units, due day and licence of Search patterns for Shore crew').click();
    await panel.getByLabel('Days allowed').fill('30');
    await panel.getByLabel('At least so many days to do it (optional)').fill('14');
    await panel.getByRole('checkbox', { name: /^Firm: a later due day/u }).check();
    await panel.getByLabel('Note (optional)').fill('Asked for by the coxswain');
    await button('Apply').click();
    await expect(page.getByText('Applied.')).toBeVisible();
    await cell('Shore crew', 'Search patterns').press('Enter');
    await expect(panel.getByText('Due 30 days after they can start')).toBeVisible();
    await expect(panel.getByText('At least 14 days from when they can start')).toBeVisible();
    await expect(panel.getByText('The due day is firm')).toBeVisible();
    await expect(panel.getByText('Asked for by the coxswain')).toBeVisible();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(cell('Shore crew', 'Search patterns')).toHaveAccessibleName(/not open/u);
  });

  await test.step('who gets a seat first where there are too few', async () => {
    await page.goto('/access/38');
    await cell('Brannoch Ferries', 'Boat handling 1').click();
    await button('Dates, units, due day and licence of Boat handling 1 for Brannoch Ferries').click();
    await panel.getByRole('combobox', { name: 'Licence' }).press('Enter');
    await page.getByRole('option', { name: 'Partners: boat handling' }).click();
    // How many wait already is another test's business.
    await expect(panel.getByText(/^Partners: boat handling has .* too few/u)).toBeVisible();
    await button('Choose who gets a seat first').click();
    await panel.getByRole('checkbox', { name: 'Yusra Ünal' }).check();
    await expect(panel.getByText('1 person gets a seat first.')).toBeVisible();
    await button('Discard').click();
    await page.goto('/access/3');
    await cell('Shore crew', 'Search patterns').press('Enter');
  });

  await test.step('a narrow window: one group’s courses', async () => {
    await button('Close').click();
    await page.setViewportSize({ width: 390, height: 800 });
    await page.getByRole('combobox', { name: 'Show' }).press('Enter');
    await page.getByRole('option', { name: 'One group' }).click();
    await page.getByRole('button', { name: /^Search patterns for Gullhaven/u }).click();
    await expect(panel.getByText('Draft, 1 statement')).toBeVisible();
    await button('Discard').click();
  });
  expect(trouble).toEqual([]);
});
