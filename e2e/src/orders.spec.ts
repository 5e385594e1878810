import { expect, type Page, test } from '@playwright/test';
import { complaints, numberIn, signedIn } from './people.ts';

const partnerCrews = 38;
const ferries = 39;

/** Pays on the stand-in's page, as it is chosen there. */
async function payWith(page: Page, card: string): Promise<void> {
  await expect(page.getByRole('heading', { name: 'Payment (stand-in)' })).toBeVisible();
  await page.getByLabel(card).check();
  await page.getByRole('button', { name: 'Pay', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Orders' })).toBeVisible();
}

test('seats are ordered, a card is refused and another pays; the ledger and the invoice follow, and what is free is credited', async ({
  page,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${partnerCrews}`);
  await page.getByRole('button', { name: 'Ferry crews: casualty care' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Ferry crews: casualty care' })).toBeVisible();
  const seatsBefore = await numberIn(page, '.head p');
  await page.getByRole('button', { name: 'Order seats' }).click();
  const panel = page.locator('aside.panel');
  await panel.getByLabel('How many more').fill('3');
  await expect(panel).toContainText('€96.00 and €19.20 VAT: €115.20.');
  await panel.getByRole('button', { name: 'Order seats' }).click();
  const order = page.getByRole('row').filter({ hasText: '3 seats' });
  await expect(order).toContainText('To be paid');
  await order.getByRole('button', { name: 'Pay' }).click();
  await payWith(page, 'A card that is refused');
  await expect(order).toContainText('The payment was refused');
  await order.getByRole('button', { name: 'Pay again' }).click();
  await payWith(page, 'Pays, and the service says so three times');
  await expect(order).toHaveCount(0);
  await page.getByRole('button', { name: 'All', exact: true }).click();
  await expect(order).toContainText('Paid');
  const download = page.waitForEvent('download');
  await order.getByRole('link', { name: /^Invoice \d+$/u }).click();
  expect((await download).suggestedFilename()).toMatch(/^\d+\.pdf$/u);

  await order.getByRole('button', { name: 'Credit…' }).click();
  await panel.getByLabel('Seats to take back').fill('1');
  await panel.getByRole('button', { name: 'Credit…' }).click();
  await expect(page.getByText('Credited.')).toBeVisible();
  await expect(order.getByRole('link', { name: /^Credit note \d+$/u })).toBeVisible();

  await page.getByRole('button', { name: 'Ledger' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Adds up' })).toBeVisible();
  await expect(page.getByRole('row').nth(1)).toContainText(`The licence has ${seatsBefore + 2} seats`);
  expect(trouble).toEqual([]);
});

test('a leader asks for seats, an administrator approves, and the leader’s page offers to pay by itself', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${partnerCrews}?view=orders`);
  const waiting = page.getByRole('row').filter({ hasText: 'Eight join us in the new year' });
  await waiting.getByRole('button', { name: 'Approve' }).click();
  const other = await (await browser.newContext()).newPage();
  await signedIn(other, 'mirela');
  await other.goto(`/seats/${partnerCrews}?view=orders`);
  const theirs = other.getByRole('row').filter({ hasText: 'Eight join us in the new year' });
  await expect(theirs).toContainText('Waits for a decision');
  await page.locator('aside.panel').getByRole('button', { name: 'Approve' }).click();
  await expect(page.getByText('Approved.')).toBeVisible();
  await expect(theirs).toContainText('To be paid');
  await expect(theirs.getByRole('button', { name: 'Pay' })).toBeVisible();
  await other.context().close();
  expect(trouble).toEqual([]);
});

test('seats that lie idle are offered and taken back; the chart and its table agree', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${ferries}?licence=2`);
  const used = await numberIn(page, '[role=region][aria-label="Ferry crews: casualty care"] tbody tr:first-child td:nth-child(3)');
  await page.getByText('As a table').click();
  await expect(page.locator('aside details tbody tr').last().locator('td').nth(1)).toHaveText(String(used));
  await page.getByRole('button', { name: 'Take back unused' }).click();
  const panel = page.locator('aside.panel');
  await expect(panel).toContainText('seats come back');
  await panel.getByRole('button', { name: 'Discard' }).click();
  expect(trouble).toEqual([]);
});
