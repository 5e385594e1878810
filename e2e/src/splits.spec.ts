import { type Browser, expect, type Page, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

const inshore = 4;

/** Puts somebody into a part by their menu, as one does without a mouse. */
async function put(page: Page, name: string, into: string): Promise<void> {
  await page.getByRole('button', { name: `Put ${name} into` }).click();
  await page.getByRole('listitem').or(page.getByRole('option')).filter({ hasText: into }).first().click();
}

/** Somebody of the crew alone, signed in by a link that their leader gives them. */
async function secondLearner(page: Page, browser: Browser): Promise<{ name: string; learner: Page }> {
  const { members } = (await (await page.request.get(`/api/v1/groups/${inshore}/splits`)).json()) as {
    members: { id: number; name: string }[];
  };
  for (const { id, name } of members) {
    const sheet = (await (await page.request.get(`/api/v1/people/${id}`)).json()) as {
      groups: unknown[];
      leads: unknown[];
      nameHidden: boolean;
    };
    if (name === 'Petrossian, Bao' || sheet.groups.length !== 1 || sheet.leads.length > 0) continue;
    const given = await page.request.post(`/api/v1/people/${id}/one-time-sign-in`);
    if (!given.ok()) continue;
    const { link } = (await given.json()) as { link: string };
    const learner = await (await browser.newContext()).newPage();
    await learner.goto(new URL(link).pathname + new URL(link).hash);
    await learner.getByLabel('Choose a password').fill('four quiet harbour seals');
    await learner.getByRole('button', { name: 'Sign in' }).click();
    await expect(learner.getByRole('article').first()).toBeVisible();
    // A course that has something left to do.
    await learner
      .getByRole('button', { name: /^(?!.*VHF radio)(Begin|Go on|Continue|Open)/u })
      .first()
      .click();
    await learner.waitForURL('**/player/**');
    const activity = learner.getByRole('button', { name: /: crew notes$/u }).first();
    const isThere = await activity.waitFor({ timeout: 8000 }).then(
      () => true,
      () => false,
    );
    if (isThere) return { name, learner };
    await learner.context().close();
  }
  throw new Error('nobody of the crew alone');
}

test('a crew is split into three parts while two of its learners work: both feel it at once, and all come back together', async ({
  page,
  browser,
}) => {
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
  // The second one has begun an activity in the player.
  const second = await secondLearner(page, browser);
  if (!(await home.getByText(second.name).isVisible())) await put(page, second.name, 'Part 1');
  await second.learner
    .getByRole('button', { name: /: crew notes$/u })
    .first()
    .click();
  await expect(second.learner.getByRole('button', { name: 'I have done this' })).toBeVisible();
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
  await page.getByRole('button', { name: 'Start…' }).click();
  await expect(panel).toContainText('kept out of a course while it runs');
  await panel.getByRole('button', { name: 'Start', exact: true }).click();
  await expect(page.getByText('Started.')).toBeVisible();

  // What was begun before still counts; then the player shows nothing of a course that was set aside.
  await second.learner.getByRole('button', { name: 'I have done this' }).click();
  await expect(second.learner.getByText('Done.')).toBeVisible();
  await expect(second.learner.getByRole('button', { name: /: crew notes$/u })).toHaveCount(0);
  await second.learner.context().close();

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
  await expect(learner.getByText(/^Set aside until/u)).toHaveCount(0);
  await expect(buttons.first()).toBeVisible();
  await learner.context().close();

  await page.getByRole('button', { name: 'Split: Thursday evening' }).click();
  await page.getByText('Delete this split').click();
  await panel.getByRole('button', { name: 'Delete this split' }).click();
  await expect(page.getByText('Deleted.')).toBeVisible();
  expect(trouble).toEqual([]);
});
