import { expect, test } from '@playwright/test';
import { complaints, signedIn, signIn, workUnit } from './people.ts';

const gullhaven = 3;

test('a rule is written, rehearsed and switched on; a learner finishes a unit in the player and is moved; the act is undone', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/access/${gullhaven}/rules`);
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByRole('combobox', { name: 'Course', exact: true }).fill('Boat handling 2');
  await page.getByRole('option', { name: 'Boat handling 2' }).click();
  await page.locator('.v-select').filter({ hasText: 'The whole course' }).click();
  await page.getByRole('option', { name: 'Surf', exact: true }).click();
  await page.getByRole('combobox', { name: 'Group', exact: true }).fill('Fallow Bay');
  await page
    .getByRole('option', { name: /Fallow Bay/u })
    .first()
    .click();
  await page.getByLabel('Name (optional)').fill('Surf done: to Fallow Bay');
  await expect(page.getByText(/\d+ people fit today\./u)).toBeVisible();
  await expect(page.getByText(/It happened to \d+ people/u)).toBeVisible();
  await page.getByRole('button', { name: 'Switch on for later ones' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Surf done: to Fallow Bay' })).toBeVisible();
  await expect(page.getByText('Nothing yet.')).toBeVisible();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signIn(phone, 'bao');
  await phone.getByRole('button', { name: 'Begin Boat handling 2' }).click();
  await workUnit(phone, 'Surf');
  await phone.goto('/my-groups');
  await expect(phone.getByText('Fallow Bay')).toBeVisible();

  // Nobody has touched the page of the rule.
  await expect(page.getByRole('link', { name: 'Bao Petrossian' })).toBeVisible();
  await page.getByRole('link', { name: 'Log', exact: true }).click();
  const act = page.getByRole('listitem').filter({ hasText: /Rule “Surf done/u });
  await act.getByRole('button', { name: 'Undo…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(phone.getByText('Fallow Bay')).toHaveCount(0);

  await page.goto(`/access/${gullhaven}/rules`);
  await page.getByRole('button', { name: /^Surf done: to Fallow Bay/u }).click();
  await page.getByRole('combobox', { name: 'Person' }).fill('Petrossian');
  await page.getByRole('option', { name: /Bao Petrossian|Petrossian, Bao/u }).click();
  await expect(page.getByText(/somebody undid it/u)).toBeVisible();
  await page.getByRole('button', { name: 'Delete…' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Rule deleted.')).toBeVisible();
  // What was shown of the rule is asked for once more, and is gone.
  expect(trouble.filter((text) => !text.includes('404'))).toEqual([]);
  await phone.context().close();
});

test('whoever gets a course joins a group: refused where the group opens that course, with the loop', async ({ page }) => {
  await signedIn(page, 'mirela');
  await page.goto(`/access/${gullhaven}/courses`);
  await page.getByRole('link', { name: 'Tower lookout' }).click();
  await page.getByRole('link', { name: 'Who gets it joins a group…' }).click();
  const group = page.getByRole('combobox', { name: 'Group', exact: true });
  await group.fill('Gullhaven');
  await page
    .getByRole('option', { name: /Gullhaven.*Tower watch|Tower watch/u })
    .first()
    .click();
  await expect(page.getByText(/would go round in a circle: .+ → .+/u)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Switch on for later ones' })).toBeDisabled();
  await group.fill('Fallow Bay');
  await page
    .getByRole('option', { name: /Fallow Bay/u })
    .first()
    .click();
  await expect(page.getByText(/would go round in a circle/u)).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Switch on for later ones' })).toBeEnabled();
});
