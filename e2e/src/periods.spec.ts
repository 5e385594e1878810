import { expect, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

const fallowBay = 28;

test('a branch is closed with its report kept, the next is made with people moved up, and both are undone', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/groups/${fallowBay}`);
  await page.getByRole('button', { name: 'This group' }).click();
  await page.getByText('End of a period…').click();
  await expect(page.getByRole('heading', { level: 1, name: 'End of a period' })).toBeVisible();
  const panel = page.getByRole('complementary', { name: 'Close' });
  await expect(panel).toContainText(/lose a course|people/u);
  await page.getByLabel('Name of the kept report').fill('Fallow Bay, autumn');
  await panel.getByRole('button', { name: 'Close', exact: true }).click();
  await expect(page.getByText('Closed.')).toBeVisible();
  await expect(page.getByText('This can be undone from the log')).toBeVisible();

  await page.getByRole('button', { name: 'Make the next', exact: true }).click();
  const next = page.getByRole('complementary', { name: 'Make the next' });
  await page.getByLabel('Name of the next period').fill('Fallow Bay, spring');
  await page.getByRole('button', { name: 'All one group up' }).click();
  await expect(page.getByText(/nowhere and will be in none/u)).toBeVisible();
  await page.getByRole('button', { name: 'All into the group of the same name' }).click();
  await expect(page.getByText(/nowhere and will be in none/u)).toHaveCount(0);
  await expect(next).toContainText('are made');
  await next.getByRole('button', { name: 'Make the next period' }).click();
  await expect(page.getByText('Made.')).toBeVisible();
  await expect(page.getByRole('treeitem', { name: /Fallow Bay, spring/u })).toBeVisible();

  // Undone from the log, the last one first: the close is not offered before.
  await page.goto('/log');
  const line = (text: string) => page.getByRole('listitem').filter({ hasText: text }).first();
  await line('Made Fallow Bay, spring').getByRole('button', { name: 'Undo…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
  await line('Closed Fallow Bay').getByRole('button', { name: 'Undo…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('Undone.').first()).toBeVisible();
  await page.goto(`/progress/${fallowBay}`);
  await page.getByRole('button', { name: 'Kept views' }).click();
  await page.getByRole('link', { name: 'Fallow Bay, autumn' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Fallow Bay, autumn' })).toBeVisible();
  await expect(page.getByText('As it stood on')).toBeVisible();
  expect(trouble).toEqual([]);
});
