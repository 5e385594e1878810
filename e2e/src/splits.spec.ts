import { expect, type Page, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

const inshore = 4;

/** Puts somebody into a part by their menu, as one does without a mouse. */
async function put(page: Page, name: string, into: string): Promise<void> {
  await page.getByRole('button', { name: `Put ${name} into` }).click();
  await page.getByRole('listitem').or(page.getByRole('option')).filter({ hasText: into }).first().click();
}

test('a crew is split into three parts, a learner’s open page feels it at once, and all come back together', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/groups/${inshore}`);
  await page.getByRole('link', { name: 'Splits' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Winter drill' })).toBeVisible();
  await page.getByRole('button', { name: 'Split: Winter drill' }).click();
  await page.getByText('New split', { exact: true }).click();
  await page.getByRole('button', { name: 'Divide again' }).click();
  const panel = page.locator('aside.panel');
  await panel.getByLabel('Number of parts').fill('3');
  await panel.getByRole('button', { name: 'Divide', exact: true }).click();
  await expect(page.getByRole('region', { name: 'As always' }).getByRole('heading')).toContainText('0');
  for (const part of ['Part 1', 'Part 2', 'Part 3']) await expect(page.getByRole('region', { name: part })).toBeVisible();
  await panel.getByRole('button', { name: 'Done' }).click();

  // Bao into the first part, which keeps one unit of one course, wherever chance has put him.
  const bao = page.getByRole('button', { name: 'Put Petrossian, Bao into' });
  const home = page.getByRole('region', { name: 'Part 1' });
  if (!(await home.getByText('Petrossian, Bao').isVisible())) await put(page, 'Petrossian, Bao', 'Part 1');
  await expect(home).toContainText('Petrossian, Bao');
  await expect(bao).toBeVisible();
  await home.getByRole('button', { name: 'What Part 1 can do' }).click();
  await panel.getByLabel('Name').first().fill('Pool');
  await panel.locator('.v-select').filter({ hasText: 'While it runs they get' }).click();
  await page.getByRole('option', { name: 'Only these' }).click();
  await panel.getByRole('combobox', { name: 'Courses' }).fill('VHF');
  await page.getByRole('option', { name: 'VHF radio' }).click();
  await page.keyboard.press('Escape');
  await panel.getByLabel('Message on their page').fill('Throw lines are at the deep end.');
  await panel.getByRole('button', { name: 'Done' }).click();
  await panel.getByLabel('Name').fill('Thursday evening');
  await panel.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Thursday evening' })).toBeVisible();

  const learner = await (await browser.newContext()).newPage();
  await signedIn(learner, 'bao');
  await learner.goto('/my-courses');
  const buttons = learner.getByRole('article').getByRole('button');
  await expect(buttons.first()).toBeVisible();
  const before = await buttons.count();
  await page.getByRole('button', { name: 'Start…' }).click();
  await expect(panel).toContainText('kept out of a course while it runs');
  await panel.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(page.getByText('Started.')).toBeVisible();

  // The page that stands open follows: other courses are set aside, unless another group of his opens them.
  await expect(learner.getByText('Throw lines are at the deep end.')).toBeVisible();
  await page.getByLabel('Pool is on').first().click();
  await expect(learner.getByText('Throw lines are at the deep end.')).toHaveCount(0);
  await page.getByLabel('Pool is on').first().click();
  await expect(learner.getByText('Throw lines are at the deep end.')).toBeVisible();

  await page.getByRole('button', { name: 'All back together' }).first().click();
  await panel.getByRole('button', { name: 'All back together' }).click();
  await expect(page.getByText('Everybody has what they had.')).toBeVisible();
  await expect(learner.getByText('Throw lines are at the deep end.')).toHaveCount(0);
  await expect(buttons).toHaveCount(before);
  await learner.context().close();

  await page.getByRole('button', { name: 'Split: Thursday evening' }).click();
  await page.getByText('Delete this split').click();
  await panel.getByRole('button', { name: 'Delete this split' }).click();
  await expect(page.getByText('Deleted.')).toBeVisible();
  expect(trouble).toEqual([]);
});
