import { expect, type Page, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

/* A way in that costs something: the leader names the price, and somebody new pays on a phone. */

async function payWith(page: Page, card: string): Promise<void> {
  await page.waitForURL(/\/payment-service\/pay/u);
  await page.getByLabel(card, { exact: true }).check();
  await page.getByRole('button', { name: 'Pay', exact: true }).click();
  await page.waitForURL(/\/join\/paying/u);
}

test('a join code with a price: shown first, a card is refused, another pays, and they are in', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signedIn(page, 'ottoline');
  await page.goto('/ways-in/7/codes');
  await page.getByRole('button', { name: 'Make a code' }).click();
  const form = page.locator('section.form');
  await form.getByRole('button', { name: 'Dates, limit, questions and more' }).click();
  await form.getByLabel('Price without VAT').fill('12.50');
  await form.getByRole('button', { name: 'Make a code' }).click();
  const row = page.getByRole('row').filter({ hasText: '€12.50 without VAT' });
  await expect(row).toBeVisible();
  const code = await row.locator('.code').innerText();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  const phoneTrouble = complaints(phone);
  await phone.goto(`/join#${code}`);
  await expect(phone.getByText('Joining costs €15.00, of which €2.50 VAT.')).toBeVisible();
  await phone.getByLabel('Given name').fill('Tove');
  await phone.getByLabel('Family name').fill('Pays');
  await phone.getByLabel('Choose a password').fill('four quiet harbour seals');
  await phone.getByRole('button', { name: 'Pay €15.00 and join' }).click();
  await payWith(phone, 'A card that is refused');
  await expect(phone.getByText('The payment was refused.')).toBeVisible();
  await expect(row).toContainText('1 paying');
  await phone.getByRole('button', { name: 'Pay €15.00' }).click();
  await payWith(phone, 'Pays a few seconds later');
  await expect(phone.getByRole('heading', { name: 'You are in' })).toBeVisible({ timeout: 20_000 });
  const receipt = await phone.request.get((await phone.getByRole('link', { name: 'Receipt (PDF)' }).getAttribute('href')) ?? '');
  expect((await receipt.body()).subarray(0, 4).toString()).toBe('%PDF');
  await phone.getByRole('link', { name: 'Go to my courses' }).click();
  await expect(phone.getByText('Shore crew').first()).toBeVisible();
  await expect(row).not.toContainText('1 paying');
  expect(phoneTrouble.filter((said) => !said.includes('401'))).toEqual([]);
  expect(trouble).toEqual([]);
});
