import { expect, type Locator, type Page, test } from '@playwright/test';
import { complaints, Hand, signedIn, typeDay } from './people.ts';

const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true });
const gullhaven = 3;

test('who is overdue and not in reserve: filtered, by learner, kept in the address, chosen and kept as a list', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}`);
  const hand = new Hand();
  const row = page.getByRole('row').filter({ has: page.getByRole('button', { name: /^\d+ days? late/u }) });

  await test.step('two filters, one found by typing; every figure says of how many it speaks', async () => {
    await hand.click(button(page, 'Add a filter'));
    await hand.click(button(page, 'Overdue, due soon or late'));
    await expect(button(page, 'Overdue')).toBeVisible();
    await page.keyboard.press('Escape');
    await hand.click(button(page, 'Add a filter'));
    await hand.type(page.getByLabel('Find a filter'), 'last');
    await hand.press(page.getByLabel('Find a filter'), 'Enter');
    await expect(button(page, 'Not active for 30 days')).toBeVisible();
    await page.keyboard.press('Escape');
  });
  const filter = JSON.stringify([
    { part: 'lateness', of: ['overdue'] },
    { part: 'active', how: 'before', days: 30 },
  ]);
  // Other tests bring people in meanwhile, so both are read at the same moment.
  let fitting = 0;
  await expect(async () => {
    const answer = await page.request.get(`/api/v1/groups/${gullhaven}/progress?filter=${encodeURIComponent(filter)}`);
    const { learners, ofAll } = (await answer.json()) as { learners: number; ofAll: number };
    fitting = learners;
    const says = `${learners} of ${ofAll} learners. ${ofAll - learners} do not fit the filters.`;
    await expect(page.locator('.filters')).toContainText(says, { timeout: 2000 });
  }).toPass({ timeout: 60_000 });
  expect(fitting).toBeGreaterThan(0);
  const rowsAreTheFitting = (): Promise<void> =>
    expect(async () => {
      const answer = await page.request.get(`/api/v1/groups/${gullhaven}/progress?filter=${encodeURIComponent(filter)}`);
      fitting = ((await answer.json()) as { learners: number }).learners;
      await expect(row).toHaveCount(fitting, { timeout: 2000 });
    }).toPass({ timeout: 60_000 });

  await test.step('by learner: the same filter, the same people, also after a reload', async () => {
    await hand.click(button(page, 'By learner'));
    await rowsAreTheFitting();
    await page.reload();
    await rowsAreTheFitting();
    await expect(button(page, 'Overdue')).toBeVisible();
  });

  await test.step('a cell opens the person, with units and why', async () => {
    await row.first().getByRole('button', { name: /late/u }).first().click();
    await expect(page.getByRole('region', { name: 'Person' })).toBeVisible();
    await page.getByRole('region', { name: 'Person' }).getByRole('button', { name: 'Close' }).first().click();
  });

  await test.step('inside a course: how many stopped where, and those are chosen', async () => {
    await button(page, 'Remove all filters').click();
    await button(page, 'Inside a course').click();
    const stop = page.locator('.stops button').first();
    const stopped = Number(await stop.innerText());
    await stop.click();
    await expect(page.getByText(`${stopped} ${stopped === 1 ? 'person' : 'people'} chosen`)).toBeVisible();
    await page.goto(`/progress/${gullhaven}?view=learners&filter=${encodeURIComponent(filter)}`);
    await rowsAreTheFitting();
  });

  await test.step('two of them are shown alone, and the rest comes back with the filter; a course sorts who is late first', async () => {
    const [one, other] = [page.locator('tbody .box').nth(0), page.locator('tbody .box').nth(1)];
    await one.click();
    await other.click();
    await button(page, 'Show only these').click();
    await expect(page.locator('.filters')).toContainText(/2 of \d+ learners\./u);
    await page.reload();
    await expect(page.locator('tbody .box')).toHaveCount(2);
    await button(page, 'Remove filter: Only 2 chosen people').click();
    await rowsAreTheFitting();
    const column = page.getByRole('columnheader', { name: 'Casualty care' });
    await column.getByRole('button').click();
    await expect(column).toHaveAttribute('aria-sort', 'ascending');
    await expect(page).toHaveURL(/sort=\d+/u);
    await column.getByRole('button').click();
    await expect(column).toHaveAttribute('aria-sort', 'descending');
    await rowsAreTheFitting();
  });

  await test.step('all who fit are chosen and kept as a list, which is a filter itself', async () => {
    await page.getByLabel(`Choose all ${fitting}`).click();
    await expect(page.getByRole('region', { name: 'What can be done to the chosen people' })).toBeVisible();
    await button(page, 'Keep as my list').click();
    await page.getByLabel('Name of the list').fill('To be called');
    await page.keyboard.press('Enter');
    await button(page, 'Keep').click();
    await button(page, 'Remove all filters').click();
    await expect(page.locator('.filters')).toContainText(/^\D*\d+ learners\./u);
    await button(page, 'Add a filter').click();
    await button(page, 'My list').click();
    await page.getByRole('combobox', { name: 'My list' }).fill('To be');
    await page.getByRole('option', { name: 'To be called' }).click();
    await rowsAreTheFitting();
  });

  await test.step('the filter goes along to the people of the group, and Who? shows the others', async () => {
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: 'Groups', exact: true }).click();
    await expect(button(page, 'On To be called')).toBeVisible();
    await button(page, 'Who?').click();
    await expect(page.getByText(/\d+ of \d+ do not fit the filters\./u)).toBeVisible();
  });
  expect(trouble).toEqual([]);
});

test('groups side by side: chosen in place, kept in the address, and taken away as a workbook', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}?view=beside`);
  const table = page.getByRole('region', { name: 'Side by side' });
  await expect(table.getByRole('row', { name: /^Cadets/u })).toBeVisible();
  await page.getByRole('button', { name: 'Leave out Cadets' }).click();
  await expect(table.getByRole('row', { name: /^Cadets/u })).toHaveCount(0);
  await page.getByRole('combobox', { name: 'Add a group' }).fill('A watch');
  await page
    .getByRole('option', { name: /A watch/u })
    .first()
    .click();
  await expect(table.getByRole('row', { name: /^A watch/u })).toBeVisible();
  const course = table.getByRole('button').first();
  await course.click();
  await page.reload();
  await expect(table.getByRole('row', { name: /^A watch/u })).toBeVisible();
  await expect(table.getByRole('row').last()).toContainText('each once');
  await page.getByRole('button', { name: 'Take away…' }).click();
  const download = page.waitForEvent('download');
  await page.getByText('As a workbook (XLSX)', { exact: true }).click();
  expect((await download).suggestedFilename()).toMatch(/^beside-3-.*\.xlsx$/u);
  expect(trouble).toEqual([]);
  // The demo world has too few people for a file that is a job: told that there are too many rows, the page begins one, and fetches what it made.
  await page.route('**/progress.xlsx?*', (route) =>
    route.fulfill({
      status: 413,
      contentType: 'application/problem+json',
      body: JSON.stringify({ type: 'about:blank', title: 'Many rows', status: 413, code: 'too-many-rows' }),
    }),
  );
  await page.getByRole('button', { name: 'Take away…' }).click();
  const made = page.waitForEvent('download');
  await page.getByText('As a workbook (XLSX)', { exact: true }).click();
  expect((await made).suggestedFilename()).toMatch(/^beside-3-.*\.xlsx$/u);
});

test('a leader who comes back sees what is new since they last looked, and goes on to one of its people', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}`);
  const news = page.getByRole('region', { name: 'Since you last looked' });
  // Midnight may have passed since the demo world was loaded.
  await expect(news).toContainText(/[56] days ago/u);
  const finished = news.getByRole('button', { name: /finished a course$/u });
  await finished.click();
  // Other tests let learners finish meanwhile, so both are read at the same moment.
  await expect.poll(async () => (await news.getByRole('link').count()) - Number(/^\d+/u.exec(await finished.innerText())?.[0])).toBe(0);
  const name = await news.getByRole('link').first().innerText();
  await news.getByRole('link').first().click();
  await expect(page.getByRole('heading', { name })).toBeVisible();
  expect(trouble).toEqual([]);
});

test('a past day: the same views as they stood, what changed since, and the same groups on both days', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}`);
  const before = new Date(Date.now() - 90 * 86_400_000).toISOString().slice(0, 10);
  const whole = page.getByRole('row').filter({ hasText: 'Gullhaven' }).first();
  const now = await whole.innerText();
  await typeDay(page.getByRole('textbox', { name: 'On', exact: true }), before);
  await expect(page.getByRole('status').filter({ hasText: 'As it stood at the end of' })).toBeVisible();
  await expect(whole).not.toHaveText(now);
  await expect(page).toHaveURL(new RegExp(`day=${before}`, 'u'));
  await button(page, 'By learner').click();
  await expect(page.getByRole('row').nth(1)).toBeVisible();
  await expect(page.getByRole('checkbox', { name: /^Choose /u })).toHaveCount(0);
  await button(page, 'Back to today').click();
  await expect(page.getByRole('checkbox', { name: /^Choose /u }).first()).toBeVisible();

  await button(page, 'Side by side').click();
  await button(page, 'What changed since…').click();
  const finished = page.getByRole('button', { name: /learners? finished a course$/u });
  const told = Number((await finished.innerText()).split(' ')[0]);
  await finished.click();
  await expect(page.getByRole('region', { name: 'What changed between two days' }).getByRole('listitem')).toHaveCount(told);
  await expect(page.getByRole('rowheader', { name: /^Inshore crew on / })).toBeVisible();
  await typeDay(page.getByRole('textbox', { name: 'Changed since' }), before);
  await expect(page).toHaveURL(new RegExp(`from=${before}`, 'u'));
  await button(page, 'Close').click();
  await expect(page.getByRole('rowheader', { name: /^Inshore crew on / })).toHaveCount(0);
  expect(trouble).toEqual([]);
});

test('by group otherwise: sorted, a level deeper, and by tag; a number opens to its people and a tag to its groups', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto('/progress/1');
  const table = page.getByRole('region', { name: 'Groups by course' });
  const names = table.getByRole('rowheader');
  const learners = table.locator('tbody td.num');
  await expect(names.nth(1)).toBeVisible();

  await test.step('by the most learners: the heading says so, and so does the address after a reload', async () => {
    await table.getByRole('button', { name: 'Learners' }).click();
    await expect(table.getByRole('columnheader', { name: /Learners/u })).toHaveAttribute('aria-sort', 'descending');
    await page.reload();
    await expect(table.getByRole('columnheader', { name: /Learners/u })).toHaveAttribute('aria-sort', 'descending');
    await expect(learners.nth(1)).toBeVisible();
    const counts = (await learners.allInnerTexts()).map((text) => Number(text.replaceAll(',', '')));
    expect(counts[0]).toBe(Math.max(...counts));
  });

  await test.step('below the second level by a click', async () => {
    const before = await names.count();
    const deeper = table.getByRole('row').filter({ has: page.locator('button.fold[aria-expanded="false"]') });
    await deeper.first().locator('button.fold').click();
    await expect.poll(() => names.count()).toBeGreaterThan(before);
  });

  await test.step('by tag: a number opens to exactly its people', async () => {
    await page.locator('.kinds').filter({ hasText: 'Rows' }).locator('.v-field').click();
    await page.getByRole('option', { name: 'Tags' }).click();
    await expect(table.getByRole('columnheader', { name: 'Tag', exact: true })).toBeVisible();
    const row = table.getByRole('row').filter({ has: page.getByRole('button', { name: 'night', exact: true }) });
    await row.getByRole('button', { name: /Throw-line basics/u }).click();
    const dialog = page.getByRole('dialog', { name: /Throw-line basics/u });
    await expect(dialog.getByRole('row').nth(1)).toBeVisible();
    await expect(dialog).toContainText('night');
    await dialog.getByRole('button', { name: 'Close' }).click();
  });

  await test.step('the tag opens to the groups of those who have it, and back leads back', async () => {
    await table.getByRole('button', { name: 'night', exact: true }).click();
    await expect(button(page, 'Tagged night')).toBeVisible();
    await expect(table.getByRole('columnheader', { name: 'Group', exact: true })).toBeVisible();
  });
  expect(trouble).toEqual([]);
});
