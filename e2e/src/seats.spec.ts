import { expect, type Locator, type Page, test } from '@playwright/test';
import { complaints, Hand, numberIn, signedIn, signIn } from './people.ts';

const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true });
const islandHarbours = 43;
const brannochFerries = 39;
const partnerCrews = 38;

test('the last in line is let first; undone, the line is as before', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${partnerCrews}?licence=1`);
  const names = page.locator('aside ol.line li a');
  await expect(names.first()).toBeVisible();
  const [first, last] = [await names.first().innerText(), await names.last().innerText()];
  expect(first).not.toBe(last);
  await page.getByLabel(`Choose ${last}`).check();
  await page.getByRole('button', { name: 'Let 1 person go first…' }).click();
  await expect(page.getByText(/come to another place in line/u)).toBeVisible();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('The order of the line is changed.')).toBeVisible();
  await expect(names.first()).toHaveText(last);
  await page.goto('/log');
  const act = page.getByRole('listitem').filter({ hasText: 'go first in line' }).first();
  await expect(act).toContainText(`Let ${last} go first in line for Partners: boat handling`);
  await act.getByRole('button', { name: 'Undo…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('Undone.')).toBeVisible();
  await page.goto(`/seats/${partnerCrews}?licence=1`);
  await expect(names.first()).toHaveText(first);
  expect(trouble).toEqual([]);
});

test('limits for three crews, who is in line, ten more ordered and paid, and they are in: at most ten acts', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${partnerCrews}?licence=1`);
  const hand = new Hand();
  await hand.type(page.getByLabel('Seat limit of Pilot boats'), '80');
  await hand.type(page.getByLabel('Seat limit of Quay staff'), '80');
  await hand.type(page.getByLabel('Seat limit of Island Harbours'), '160');
  await hand.click(page.getByRole('button', { name: 'Apply' }));
  await expect(page.getByText('Limits saved.')).toBeVisible();
  await expect(page.getByRole('heading', { name: /in line for a seat$/u })).toBeVisible();
  const first = await page.locator('aside ol.line li a').first().innerText();
  await hand.click(page.getByRole('button', { name: 'Order seats' }));
  const panel = page.locator('aside.panel');
  await expect(panel.getByLabel('How many more')).toHaveValue('10');
  await hand.click(panel.getByRole('button', { name: 'Order seats' }));
  await hand.click(page.getByRole('row').filter({ hasText: '10 seats' }).getByRole('button', { name: 'Pay' }));
  await expect(page.getByRole('heading', { name: 'Payment (stand-in)' })).toBeVisible();
  await hand.click(page.getByRole('button', { name: 'Pay', exact: true }));
  await expect(page.getByRole('heading', { name: 'Orders' })).toBeVisible();
  await page.goto(`/seats/${partnerCrews}?licence=1`);
  await expect(page.getByRole('heading', { name: 'Seats in use, and where it is heading' })).toBeVisible();
  await expect(page.locator('aside ol.line li').filter({ hasText: first })).toHaveCount(0);
  expect(hand.acts).toBeLessThanOrEqual(10);
  // Fewer seats take none away; other tests need a licence that is full.
  await page.getByRole('button', { name: 'Change this licence' }).click();
  await panel.getByLabel('Seats', { exact: true }).fill('92');
  await panel.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Licence saved.')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Partners: boat handling' }).getByRole('row').nth(1)).toContainText('over');
  expect(trouble).toEqual([]);
});

test('a course that is bought by the seat: a file and a joiner are told of the line, more seats let both in', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signIn(page, 'mirela');

  await test.step('a file says which rows would stand in line, before they do', async () => {
    await page.goto(`/ways-in/${islandHarbours}/file`);
    const csv = 'Given name,Family name\r\nTilda,Marsh\r\nOsric,Vane\r\n';
    await page.locator('input[type=file]').setInputFiles({ name: 'intake.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
    await expect(page.getByText('2 people would be in line for a seat. In the order of the file: rows 2 and 3.')).toBeVisible();
    await expect(page.getByRole('cell', { name: 'New, in line for a seat' })).toHaveCount(2);
    await button(page, 'Bring in 2 people').click();
    await expect(page.getByRole('heading', { name: '2 people added.' })).toBeVisible();
  });

  await page.goto(`/ways-in/${islandHarbours}/codes`);
  await button(page, 'Make a code').first().click();
  await page.locator('aside.panel').getByRole('button', { name: 'Make a code' }).click();
  await expect(page.getByText('Code made.')).toBeVisible();
  const code = (await page.locator('td .code').first().innerText()).trim();

  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const joiner = await context.newPage();
  // Other tests move people meanwhile, so the length of the line is read, not known.
  let place = 0;
  const course = joiner.getByRole('article').filter({ hasText: 'Boat handling 1' });
  await test.step('who joins hears of it before giving anything, is in, and has a place in line', async () => {
    await joiner.goto(`/join#${code}`);
    await expect(joiner.getByText('No seat is free for Boat handling 1')).toBeVisible();
    await joiner.getByLabel('Given name').fill('Zenobia');
    await joiner.getByLabel('Family name').fill('Waitwell');
    await joiner.getByLabel('Choose a password').fill('rope over the rail');
    await button(joiner, 'Join').click();
    await expect(joiner.getByText('You are in line for a seat for Boat handling 1.')).toBeVisible();
    await button(joiner, 'Go to my courses').click();
    await expect(course).toContainText('in line for a seat. The course opens when it is your turn.');
    place = await numberIn(joiner, 'article:has-text("in line") p');
    expect(place).toBeGreaterThan(2);
    await expect(course.getByRole('button')).toHaveCount(0);
  });

  await test.step('help someone in says so, and leads to the seats', async () => {
    await page.goto('/help?q=Zenobia%20Waitwell');
    await page.locator('.offered button').first().click();
    await expect(page.locator('.sentence')).toHaveText(`Zenobia Waitwell is number ${place} in line for a seat in Boat handling 1.`);
    await button(page, 'Look at the seats').click();
    await expect(page.getByRole('heading', { name: 'in line for a seat' })).toBeVisible();
    await expect(page.locator('ol.line li').last()).toContainText('Zenobia Waitwell');
  });

  await test.step('more seats: the look names who gets one, and the joiner’s screen opens the course by itself', async () => {
    await button(page, 'Change this licence').click();
    const panel = page.locator('aside.panel');
    await panel.getByLabel('Seats', { exact: true }).fill('120');
    await expect(panel).toContainText('in line would get a seat.');
    await panel.getByRole('button', { name: 'Who?' }).click();
    await expect(panel.locator('.names')).toContainText('Zenobia Waitwell');
    await panel.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('Licence saved.')).toBeVisible();
    await expect(course.getByRole('button', { name: 'Begin Boat handling 1' })).toBeVisible();
  });

  await test.step('a limit lower than what is used takes nobody’s seat', async () => {
    await page.getByLabel('Seat limit of Quay staff').fill('1');
    await expect(page.locator('aside.panel')).toContainText('Nobody gets or loses a seat by this.');
    await button(page, 'Apply').click();
    await expect(page.getByText('Limits saved.')).toBeVisible();
    await expect(page.getByRole('row').filter({ hasText: 'Quay staff' })).toContainText('over');
  });
  await context.close();
  expect(trouble).toEqual([]);
});

test('a seat is taken back from somebody chosen, who then waits until it is given again', async ({ page }) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/seats/${brannochFerries}`);
  await page.getByRole('button', { name: 'Ferry crews: casualty care' }).click();
  const top = page.getByRole('region', { name: 'Ferry crews: casualty care' }).getByRole('row').nth(1);
  const numbers = top.getByRole('button', { name: /^\d+$/u });
  await numbers.first().click();
  const first = page.getByRole('checkbox', { name: /^Choose /u }).first();
  const name = ((await first.getAttribute('aria-label')) ?? '').replace('Choose ', '');
  await first.check();
  await page.getByRole('button', { name: 'Take back 1 seat…' }).click();
  await expect(page.locator('aside.panel')).toContainText('seat comes back');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Seats taken back.')).toBeVisible();

  await numbers.last().click();
  const waiting = page.locator('ol.line li').filter({ hasText: name });
  await expect(waiting).toContainText('waits until a seat is given');
  await waiting.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Give 1 seat…' }).click();
  await expect(page.locator('aside.panel')).toContainText('in line would get a seat.');
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Seats given.')).toBeVisible();
  await expect(waiting).toHaveCount(0);
  expect(trouble).toEqual([]);
});
