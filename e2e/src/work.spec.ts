import { readFile } from 'node:fs/promises';
import { expect, type Page, test } from '@playwright/test';
import sharp from 'sharp';
import { complaints, Hand, signedIn } from './people.ts';

const gullhaven = 3;
const kelderQuay = 24;
const boatHandling = 5;

const handedIn = async (page: Page): Promise<void> => {
  await page.goto(`/progress/${gullhaven}?view=handed-in`);
  await expect(page.getByRole('button', { name: /^Waiting \d+/u })).toBeVisible();
};

test('a learner hands in on a phone; it is sent back, comes again, is marked by keyboard; report, skills and page follow; another branch sees none of it', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signedIn(phone, 'bao');
  await phone.goto('/my-courses');
  await phone.getByRole('link', { name: 'Hand in work for Boat handling 1' }).click();
  await phone.getByLabel('Your words (needed)').fill('I came in slowly, against the wind.');
  await phone.getByRole('button', { name: 'judging wind' }).click();
  await phone.getByRole('button', { name: 'slow hands' }).click();
  const picture = await sharp({ create: { width: 2600, height: 1400, channels: 3, background: '#345' } })
    .png()
    .toBuffer();
  await phone.locator('input[type="file"]').setInputFiles({ name: 'berth.png', mimeType: 'image/png', buffer: picture });
  await expect(phone.getByText(/^berth\.png, /u)).toBeVisible();
  await phone.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(phone.getByText('Handed in, waits to be marked')).toBeVisible();

  await signedIn(page, 'ottoline');
  await handedIn(page);
  const mine = page.getByRole('navigation', { name: 'Handed in' }).getByRole('button', { name: /Petrossian, Bao/u });
  await mine.click();
  await expect(page.getByText('I came in slowly, against the wind.')).toBeVisible();
  await page.getByRole('button', { name: /^berth\.png/u }).click();
  await expect(page.getByRole('img', { name: 'berth.png' })).toBeVisible();
  await expect(page.getByText(/^Taken by you until/u)).toBeVisible();
  // The marker has it open: it cannot be taken back.
  await phone.reload();
  await expect(phone.getByText('Handed in, waits to be marked')).toBeVisible();
  await expect(phone.getByRole('button', { name: 'Take back' })).toHaveCount(0);
  await page.getByLabel('A word to the learner').fill('Say where the boat was.');
  await page.getByRole('button', { name: 'Send back' }).click();
  await expect(mine).toHaveCount(0);

  await expect(phone.getByText('Sent back to you')).toBeVisible();
  await expect(phone.getByText('“Say where the boat was.”')).toBeVisible();
  await phone.getByLabel('Your words (needed)').fill('Two metres off the berth, bow upstream.');
  await phone.getByRole('button', { name: 'Hand in again' }).click();
  await expect(phone.getByText('Handed in, waits to be marked')).toBeVisible();

  await mine.click();
  await expect(page.getByText('Two metres off the berth, bow upstream.')).toBeVisible();
  await expect(page.getByText(/sent back .* by Ottoline Brandt: “Say where the boat was.”/u)).toBeVisible();
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('1');
  await page.keyboard.type('8');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Marked.', { exact: true })).toBeVisible();
  await expect(phone.getByText('18 of 20, passed', { exact: false })).toBeVisible();
  await expect(phone.getByText('Shown: judging wind and slow hands', { exact: false })).toBeVisible();

  await page.goto(`/progress/${gullhaven}?view=course&course=${boatHandling}`);
  await expect(page.getByLabel('Learners by activity in Boat handling 1')).toBeVisible();
  await page.goto(`/progress/${gullhaven}?view=skills`);
  await page.getByRole('button', { name: 'judging wind' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Petrossian, Bao' })).toContainText('confirmed by Ottoline Brandt');

  await page.goto(`/progress/${kelderQuay}?view=handed-in`);
  await expect(page.getByText('Petrossian, Bao')).toHaveCount(0);
  expect(trouble.filter((text) => !text.includes('404'))).toEqual([]);
  await phone.context().close();
});

test('five pieces are marked by keyboard alone, one after the other', async ({ page }) => {
  await signedIn(page, 'ottoline');
  await handedIn(page);
  const rows = page.getByRole('navigation', { name: 'Handed in' }).getByRole('listitem');
  await expect(rows.first()).toBeVisible();
  const before = await rows.count();
  for (let n = 1; n <= 5; n++) {
    await expect(page.getByText(/^Taken by you until/u)).toBeVisible();
    await page.keyboard.press('1');
    await page.keyboard.type('4');
    await page.keyboard.press('Control+Enter');
    await expect(rows).toHaveCount(before - n);
  }
  await page.getByRole('button', { name: /^Marked \d+/u }).click();
  await expect(rows.first()).toBeVisible();
});

test('a certificate is made, given and printed; its number is checked signed out, withdrawn, and checked again', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto(`/progress/${gullhaven}?view=certificates`);
  const hand = new Hand();
  await hand.click(page.getByRole('button', { name: 'Make certificate' }));
  await hand.type(page.getByLabel('Title'), 'Ready to throw');
  await page.getByLabel('Course', { exact: true }).fill('Throw-line');
  await page.getByRole('option', { name: 'Throw-line basics' }).click();
  await hand.click(page.getByRole('button', { name: 'Save certificate' }));
  await page.getByRole('button', { name: 'Ready to throw' }).click();
  await page.getByRole('button', { name: 'Earned, not given', exact: true }).click();
  await page.getByLabel('Petrossian, Bao', { exact: true }).check();
  await page.getByRole('button', { name: 'Give 1 certificate' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await page.getByRole('button', { name: 'Given', exact: true }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'Petrossian, Bao' });
  const number = /[A-Z0-9]{4}-[A-Z0-9]{4}-[A-Z0-9]{4}/u.exec((await row.textContent()) ?? '')?.[0] ?? '';
  expect(number).not.toBe('');
  const [download] = await Promise.all([page.waitForEvent('download'), row.getByRole('link', { name: /^PDF/u }).click()]);
  expect((await readFile(await download.path())).subarray(0, 5).toString()).toBe('%PDF-');

  const stranger = await (await browser.newContext()).newPage();
  await stranger.goto(`/check/${number.replaceAll('-', '')}`);
  await expect(stranger.getByText('This certificate of Brannoch Isles Rescue is valid.')).toBeVisible();
  await expect(stranger.getByText('Petrossian')).toHaveCount(0);

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signedIn(phone, 'bao');
  await phone.goto('/my-courses');
  const card = phone.getByRole('article').filter({ hasText: 'Ready to throw' });
  await card.getByLabel('Show my name to people who check the number').check();
  await expect(async () => {
    await stranger.reload();
    await expect(stranger.getByText('Bao Petrossian')).toBeVisible({ timeout: 2000 });
  }).toPass();

  await page.getByLabel('Petrossian, Bao', { exact: true }).check();
  await page.getByRole('button', { name: 'Withdraw 1' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Withdrawn. The check page says so.')).toBeVisible();
  await stranger.reload();
  await expect(stranger.getByText('This certificate was withdrawn. It is not valid.')).toBeVisible();
  await stranger.goto('/check/AAAACCCCDDDD');
  await expect(stranger.getByText(/^There is no certificate with this number/u)).toBeVisible();
  expect(trouble).toEqual([]);
  await phone.context().close();
  await stranger.context().close();
});
