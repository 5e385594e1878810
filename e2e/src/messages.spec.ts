import { expect, test } from '@playwright/test';
import { changeAtOnce, complaints, Hand, idOfPerson, makeGroup, signedIn, typeDay } from './people.ts';

const kelderQuay = 24;
const fallowBay = 28;
const gullhaven = 3;

test('a leader writes to the branch; a learner on a phone sees it live, ticks it off and answers; another branch sees nothing of it', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const phoneTrouble = complaints(phone);
  await signedIn(phone, 'bao');
  await phone.goto('/my-messages');
  await expect(phone.getByRole('heading', { level: 1, name: 'Messages' })).toBeVisible();

  await signedIn(page, 'ottoline');
  await page.goto(`/messages/${gullhaven}`);
  const hand = new Hand();
  await hand.click(page.getByRole('button', { name: 'Write', exact: true }));
  await hand.type(page.getByLabel('Title'), 'Rinse the suits');
  await hand.type(page.getByLabel('Text', { exact: true }), 'With fresh water, please.');
  await page.locator('.v-select').filter({ hasText: 'What is it?' }).click();
  await page.getByRole('option', { name: 'Task' }).click();
  await expect(page.getByText(/people see it on their page/u)).toBeVisible();
  await hand.click(page.getByRole('button', { name: 'Send', exact: true }));
  await expect(page.getByRole('heading', { level: 1, name: 'Task: Rinse the suits' })).toBeVisible();
  expect(hand.acts).toBe(4);

  // Nobody touches the phone: its page hears of it.
  const card = phone.locator('article').filter({ hasText: 'Rinse the suits' });
  await expect(card).toBeVisible();
  await card.getByRole('button', { name: 'Done' }).click();
  await expect(card.getByText('You have done this.')).toBeVisible();
  await card.getByLabel('Answer').fill('All six are hanging.');
  await card.getByRole('button', { name: 'Send' }).click();

  await expect(page.getByText('All six are hanging.')).toBeVisible();
  await expect(page.getByRole('complementary').getByText(/1 of \d+ have done it/u)).toBeVisible();
  await page.getByRole('button', { name: /^Not done yet: \d+/u }).click();
  await expect(page.getByRole('complementary').getByRole('listitem').filter({ hasText: 'Petrossian, Bao' })).toHaveCount(0);

  await page.goto(`/messages/${kelderQuay}`);
  await expect(page.getByText('Rinse the suits')).toHaveCount(0);
  await page.goto(`/messages/${gullhaven}`);
  await page.getByRole('button', { name: /^Task: Rinse the suits/u }).click();
  await page.getByRole('button', { name: 'Withdraw…' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Withdrawn.')).toBeVisible();
  await expect(card).toHaveCount(0);
  expect(phoneTrouble).toEqual([]);
  expect(trouble.filter((text) => !text.includes('404'))).toEqual([]);
  await phone.context().close();
});

test('who is late in a course is written to from the report, and hears of it by email', async ({ page }) => {
  await signedIn(page, 'mirela');
  const late = JSON.stringify([
    { part: 'course', courses: [1], sets: [] },
    { part: 'lateness', of: ['overdue'] },
  ]);
  await page.goto(`/progress/${fallowBay}?view=course&course=1&filter=${encodeURIComponent(late)}`);
  const rows = page.locator('tbody tr[data-row]');
  await expect(rows.first()).toBeVisible();
  const hand = new Hand();
  for (const nth of [0, 1, 2]) await hand.click(rows.getByRole('checkbox').nth(nth));
  await hand.click(page.getByRole('button', { name: 'Write', exact: true }));
  await expect(page.getByText('3 chosen people')).toBeVisible();
  await hand.type(page.getByLabel('Title'), 'Cold-water immersion is due');
  await hand.type(page.getByLabel('Text', { exact: true }), 'Please finish it this week.');
  await expect(page.getByText(/3\s+people see it on their page/u)).toBeVisible();
  await hand.click(page.getByRole('button', { name: 'Send', exact: true }));
  expect(hand.acts).toBeLessThanOrEqual(7);
  await expect(page.getByRole('heading', { level: 1, name: 'Cold-water immersion is due' })).toBeVisible();
  await expect.poll(async () => (await page.request.get('/post')).text()).toContain('Cold-water immersion is due');
});

test('a leader sets a reminder, sees whom the next days would remind, and takes it back; members see what happened', async ({
  page,
  browser,
}) => {
  await signedIn(page, 'ottoline');
  await page.goto(`/messages/${gullhaven}`);
  const hand = new Hand();
  await hand.click(page.getByRole('button', { name: 'Reminders', exact: true }));
  await hand.click(page.getByRole('button', { name: 'Set… After a course was due' }));
  await hand.type(page.getByRole('spinbutton', { name: 'Days' }), '2');
  const reached = page.getByText(/people see it on their page/u);
  await expect(reached).toBeVisible();
  await page.getByRole('button', { name: 'Who?' }).first().click();
  await expect(page.getByRole('region', { name: 'What this would do' }).locator('.names')).toContainText(', ');
  await hand.click(page.getByRole('button', { name: 'Apply' }));
  expect(hand.acts).toBe(4);
  await expect(page.getByText('2 days after')).toBeVisible();
  const next = page.getByRole('complementary', { name: 'The next 30 days' });
  await next
    .getByRole('button', { name: /After a course was due/u })
    .first()
    .click();
  await expect(next.locator('.names li').first()).toBeVisible();
  await page.goto('/log');
  await page.getByRole('listitem').filter({ hasText: 'Set the reminder' }).first().getByRole('button', { name: 'Undo…' }).click();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('Undone.')).toBeVisible();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signedIn(phone, 'bao');
  await phone.goto('/my-groups');
  await phone.getByText('What happened in the group').last().click();
  await expect(phone.getByText(/finished|came into|was opened/u).first()).toBeVisible();
  await phone.context().close();
});

test('a question with a file: a learner reads the file, chooses and says it in own words, and sees the tally; who has not is written to again', async ({
  page,
  browser,
}) => {
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signedIn(phone, 'bao');
  await phone.goto('/my-messages');
  await signedIn(page, 'ottoline');
  await page.goto(`/messages/${gullhaven}?write=yes`);
  await page.getByLabel('Title').fill('Which boat on Saturday?');
  await page.getByLabel('Text', { exact: true }).fill('Bring gloves');
  await page.getByLabel('Text', { exact: true }).selectText();
  await page.getByRole('button', { name: 'Bold' }).click();
  await page.locator('input[type="file"]').setInputFiles({ name: 'boats.txt', mimeType: 'text/plain', buffer: Buffer.from('Tern, Gull') });
  await expect(page.getByText('boats.txt')).toBeVisible();
  await page.locator('.v-select').filter({ hasText: 'What is it?' }).click();
  await page.getByRole('option', { name: 'Question', exact: true }).click();
  await page.getByLabel('Choices, one per line').fill('Tern\nGull');
  await page.getByLabel('They can use their own words').check();
  await page.locator('.v-select').filter({ hasText: 'Who sees how many chose what' }).click();
  await page.getByRole('option', { name: 'Also those who have chosen' }).click();
  await expect(page.getByText(/see it on their page/u)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Which boat on Saturday?' })).toBeVisible();

  const card = phone.locator('article').filter({ hasText: 'Which boat on Saturday?' });
  await expect(card.locator('strong')).toHaveText('Bring gloves');
  const [download] = await Promise.all([phone.waitForEvent('download'), card.getByRole('link', { name: 'boats.txt' }).click()]);
  expect(download.suggestedFilename()).toBe('boats.txt');
  await card.getByLabel('Gull').check();
  await card.getByLabel('In your own words').fill('Only in the morning');
  await card.getByRole('button', { name: 'Send my choice' }).click();
  await expect(card.getByText('Your choice is sent.')).toBeVisible();
  await expect(card.locator('label').filter({ hasText: 'Gull' }).locator('.num')).toHaveText('1');

  const beside = page.getByRole('complementary');
  await expect(beside.getByText('Only in the morning')).toBeVisible();
  await beside.getByRole('button', { name: 'Gull' }).click();
  await expect(beside.getByText('Petrossian, Bao')).toBeVisible();
  await beside.getByRole('button', { name: /^Write to the \d+$/u }).click();
  await expect(page.getByText(/\d+ chosen people/u).first()).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.getByRole('button', { name: /^Which boat on Saturday/u }).click();
  await page.getByRole('button', { name: 'Withdraw…' }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(card).toHaveCount(0);
  await phone.context().close();
});

test('a task that two of three have done is written to the third again', async ({ page, browser }) => {
  await signedIn(page, 'mirela');
  const groupId = await makeGroup(page, 'Three on watch');
  const personIds = [];
  for (const name of ['Bao Petrossian', 'Ottoline Brandt', 'Paloma Nakagawa']) personIds.push(await idOfPerson(page, name));
  await changeAtOnce(page, { kind: 'add-members', groupId, personIds, firstDay: null, lastDay: null });

  await page.goto(`/messages/${groupId}?write=yes`);
  await page.getByLabel('Title').fill('Check the flares');
  await page.locator('.v-select').filter({ hasText: 'What is it?' }).click();
  await page.getByRole('option', { name: 'Task', exact: true }).click();
  await typeDay(page.getByRole('textbox', { name: 'Due on (optional)' }), '2099-06-01');
  await expect(page.getByText(/3\s+people see it on their page/u)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByRole('complementary').getByText('of 3 have done it')).toBeVisible();
  for (const name of ['bao', 'ottoline']) {
    const own = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
    await signedIn(own, name);
    await own.goto('/my-messages');
    const card = own.locator('article').filter({ hasText: 'Check the flares' });
    await card.getByRole('button', { name: 'Done', exact: true }).click();
    await expect(card.getByText('You have done this.')).toBeVisible();
    await own.context().close();
  }
  const beside = page.getByRole('complementary');
  await expect(beside.getByRole('button', { name: 'Not done yet: 1' })).toBeVisible();
  await beside.getByRole('button', { name: 'Not done yet: 1' }).click();
  await expect(beside.getByText('Nakagawa, Paloma')).toBeVisible();
  await beside.getByRole('button', { name: 'Write to the 1', exact: true }).click();
  await page.getByLabel('Title').fill('The flares, please');
  await expect(page.getByText(/1\s+(person sees|people see) it on their page/u)).toBeVisible();
  await page.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'The flares, please' })).toBeVisible();
  await expect(page.getByRole('complementary').getByText('of 1 have seen it')).toBeVisible();
});
