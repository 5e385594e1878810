import { expect, type Locator, type Page, test } from '@playwright/test';
import writeXlsxFile from 'write-excel-file/node';
import { complaints, Hand, letterTo, linkIn, signIn } from './people.ts';

const button = (page: Page, name: string | RegExp): Locator => page.getByRole('button', { name, exact: typeof name === 'string' });
const phone = { width: 390, height: 844 };

test('a code is made, and a new and a known person join by it on a phone; another needs approval', async ({ page, browser }) => {
  const trouble = complaints(page);
  await signIn(page, 'ottoline');
  await page.goto('/ways-in/7/codes');
  await button(page, 'Make a code').first().click();
  await page.locator('aside.panel').getByRole('button', { name: 'Make a code' }).click();
  await expect(page.getByText('Code made.')).toBeVisible();
  const code = (await page.locator('td .code').first().innerText()).trim();
  expect(code).toMatch(/^[ACDEFGHJKMNPQRTUVWXY34679]{5}-[ACDEFGHJKMNPQRTUVWXY34679]{5}$/u);

  await test.step('somebody new types the code in small letters, sees what it opens, registers', async () => {
    const context = await browser.newContext({ viewport: phone });
    const joiner = await context.newPage();
    await joiner.goto('/sign-in');
    await joiner.getByRole('link', { name: 'Enter a code' }).click();
    await joiner.getByLabel('Code', { exact: true }).fill(code.toLowerCase().replace('-', ''));
    await button(joiner, 'Continue').click();
    await expect(joiner.getByRole('heading', { name: 'Join Shore crew' })).toBeVisible();
    await expect(joiner.getByText('Led by Ottoline Brandt and Sefu Marangoz')).toBeVisible();
    await joiner.getByLabel('Given name').fill('Phoebe');
    await joiner.getByLabel('Family name').fill('Lantern');
    await button(joiner, 'Suggest a password').click();
    await expect(joiner.getByText('Hard to guess')).toBeVisible();
    await button(joiner, 'Join').click();
    await expect(joiner.getByRole('heading', { name: 'You have joined' })).toBeVisible();
    await expect(joiner.locator('.slip .name')).toHaveText(/^plantern\d\d$/u);
    await button(joiner, 'Go to my courses').click();
    await expect(joiner.getByRole('heading', { name: 'Hello Phoebe' })).toBeVisible();
    expect(await joiner.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(phone.width);
    await context.close();
  });

  await test.step('somebody with an account joins with one click', async () => {
    const context = await browser.newContext({ viewport: phone });
    const known = await context.newPage();
    await signIn(known, 'bao');
    await known.goto(`/join#${code}`);
    await button(known, 'Join as Bao').click();
    await expect(known.getByRole('heading', { name: 'You have joined' })).toBeVisible();
    await known.getByRole('link', { name: 'My groups' }).click();
    await expect(known.getByRole('heading', { name: 'Shore crew', exact: true })).toBeVisible();
    await context.close();
  });

  await test.step('who asks is shown in the band at once, is let in, and signs in', async () => {
    const waiting = Number(await page.locator('nav .count').innerText());
    const context = await browser.newContext({ viewport: phone });
    const asker = await context.newPage();
    await asker.goto('/join#RA4GM-7TQ3K');
    await asker.getByLabel('Given name').fill('Quinta');
    await asker.getByLabel('Family name').fill('Halyard');
    await asker.locator('.v-select').click();
    await asker.getByRole('option', { name: 'Harbour tender' }).click();
    await asker.getByLabel('Choose a password').fill('rope over the rail');
    await button(asker, 'Ask to join').click();
    await expect(asker.getByRole('heading', { name: 'Request sent' })).toBeVisible();
    const name = await asker.locator('.slip .name').innerText();
    await expect(page.locator('nav .count')).toHaveText(String(waiting + 1));
    await page.goto('/ways-in/3/asking');
    const row = page.getByRole('row').filter({ hasText: 'Quinta Halyard' });
    await expect(row).toContainText('Harbour tender');
    await row.getByRole('button', { name: 'Let in' }).click();
    await page.locator('aside.panel').getByRole('button', { name: 'Let in' }).click();
    await expect(page.getByText('Requests decided.')).toBeVisible();
    await asker.goto('/sign-in');
    await asker.getByLabel('Sign-in name or email').fill(name);
    await asker.getByLabel('Password').fill('rope over the rail');
    await button(asker, 'Sign in').click();
    await expect(asker.getByRole('heading', { name: 'Hello Quinta' })).toBeVisible();
    await context.close();
  });
  expect(trouble).toEqual([]);
});

test('three people are invited from pasted addresses; one follows the letter, one comes back; a passed-on link opens nothing', async ({
  page,
  browser,
}) => {
  await signIn(page, 'ottoline');
  await page.goto('/ways-in/10/invitations');
  await button(page, 'Invite people').click();
  await page
    .getByLabel('Addresses, in any form')
    .fill('Iris Vane <iris.vane@ternmail.example>, jon.brook@ternmail.example\nLost Soul lost.soul@gone.example');
  await page.getByLabel('Message (optional)').fill('Bring boots.');
  await button(page, 'Invite 3 people').click();
  await expect(page.getByText('The invitations are on their way.')).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'lost.soul@gone.example' })).toContainText('Came back');
  const letter = await letterTo(page, 'iris.vane@ternmail.example');
  expect(letter).toContain('Bring boots.');
  const context = await browser.newContext({ viewport: phone });
  const invited = await context.newPage();
  await invited.goto(linkIn(letter, '/invited'));
  await expect(invited.getByRole('heading', { name: 'Join Tower watch?' })).toBeVisible();
  await invited.getByLabel('New password').fill('lamp room at night');
  await button(invited, 'Accept').click();
  await expect(invited.getByRole('heading', { name: 'Hello Iris' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'iris.vane@ternmail.example' })).toContainText('Joined');
  await test.step('a link to another group’s page says nothing of it', async () => {
    await invited.goto('/my-groups/11');
    await expect(invited.getByRole('heading', { name: 'Not open to you' })).toBeVisible();
    await expect(invited.getByText('Penmarrow')).toHaveCount(0);
    await invited.getByRole('main').getByRole('link', { name: 'Enter a code' }).click();
    await expect(invited.getByLabel('Code', { exact: true })).toBeVisible();
  });
  await context.close();
});

test('a class of 30 is in from a spreadsheet, with cards printed, in at most 8 clicks; a card signs in', async ({ page, browser }) => {
  const trouble = complaints(page);
  const rows = Array.from({ length: 30 }, (_, index) => [
    `Pupil${String.fromCharCode(97 + (index % 26))}`,
    `Classmate${index}`,
    `CL-${100 + index}`,
    new Date(Date.UTC(2026, 10, 3 + (index % 20))),
  ]);
  const book = writeXlsxFile(
    [
      ['First', 'Surname', 'Number', 'From'].map((value) => ({ value })),
      ...rows.map((row) => row.map((value) => (value instanceof Date ? { value, type: Date, format: 'dd/mm/yyyy' } : { value }))),
    ] as never,
    { sheet: 'Class' } as never,
  );
  const buffer = await (book as unknown as { toBuffer: () => Promise<Buffer> }).toBuffer();
  await signIn(page, 'mirela');
  // Elsewhere than where another test counts at the same time.
  await page.goto('/groups/22');
  await expect(page.getByRole('heading', { name: 'Shore crew', level: 1 })).toBeVisible();
  const hand = new Hand();
  await hand.click(page.getByRole('link', { name: 'Bring in a file' }));
  await hand.choose(page, button(page, 'Choose a file'), { name: 'class.xlsx', mimeType: 'application/octet-stream', buffer });
  await expect(page.getByText('30 rows, sheet Class')).toBeVisible();
  await expect(page.locator('.count .big').first()).toHaveText('30');
  await hand.click(button(page, 'Bring in 30 people'));
  await hand.click(button(page, 'Sign-in cards for the 30 new'));
  await hand.click(button(page, 'Make 30 cards'));
  await expect(page.locator('.slip')).toHaveCount(30);
  await page.evaluate(() => {
    window.print = () => {
      document.title = 'printed';
    };
  });
  await hand.click(button(page, 'Print'));
  await expect(page).toHaveTitle('printed');
  expect(hand.acts).toBeLessThanOrEqual(8);

  await test.step('the PDF holds as many pages as the cards need', async () => {
    const download = page.waitForEvent('download');
    await button(page, 'Save as PDF').click();
    const file = await (await download).createReadStream();
    const parts: Buffer[] = [];
    for await (const part of file) parts.push(part as Buffer);
    const pdf = Buffer.concat(parts).toString('latin1');
    expect(pdf.slice(0, 5)).toBe('%PDF-');
    expect(pdf.match(/\/Type \/Page\b/gu)).toHaveLength(4);
  });
  await test.step('the square’s address signs in once, and asks for a password', async () => {
    const label = (await page.locator('.slip .qr').first().getAttribute('aria-label')) ?? '';
    const { cards } = (await (
      await page.request.post('/api/v1/cards', {
        data: { personIds: [await idOf(page, label.replace('QR code that signs in ', ''))] },
        headers: { origin: new URL(page.url()).origin },
      })
    ).json()) as { cards: { link: string }[] };
    const context = await browser.newContext({ viewport: phone });
    const holder = await context.newPage();
    await holder.goto(cards[0]?.link ?? '');
    await expect(button(holder, 'Sign in')).toBeDisabled();
    await holder.getByLabel('Choose a password for the next time').fill('four masts in a row');
    await button(holder, 'Sign in').click();
    // Both pages greet by name; only the first has the button.
    await expect(button(holder, 'Sign in')).toBeHidden();
    await expect(holder.getByRole('heading', { name: /^Hello Pupil/u })).toBeVisible();
    const again = await context.newPage();
    await again.goto(cards[0]?.link ?? '');
    await expect(again.getByRole('heading', { name: 'This link has expired' })).toBeVisible();
    await context.close();
  });
  await test.step('and all of it is undone from the log', async () => {
    await page.goto('/log');
    const entry = page.getByRole('listitem').filter({ hasText: 'Brought in class.xlsx' });
    await entry.getByRole('button', { name: /Undo/u }).click();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect
      .poll(
        async () =>
          (await (
            await page.request.get('/api/v1/groups/22/people?filter=%5B%7B%22part%22:%22words%22,%22text%22:%22Classmate%22%7D%5D')
          ).json()) as { matching: number },
      )
      .toMatchObject({ matching: 0 });
  });
  expect(trouble).toEqual([]);
});

async function idOf(page: Page, name: string): Promise<number> {
  const { people } = (await (await page.request.get(`/api/v1/find?q=${encodeURIComponent(name)}`)).json()) as { people: { id: number }[] };
  return people[0]?.id ?? 0;
}

test('one place helps somebody in through what stops them: a wrong password, a pause, no group, asking', async ({ page, browser }) => {
  await signIn(page, 'mirela');
  const context = await browser.newContext({ viewport: phone });
  const stuck = await context.newPage();
  const helped = (name: string): Promise<void> => page.goto(`/help?q=${encodeURIComponent(name)}`).then(() => undefined);
  const sentence = page.locator('.sentence');

  await test.step('a wrong password, found by the number that the sign-in page shows; let in with the helper’s own screen', async () => {
    await stuck.goto('/sign-in');
    await stuck.getByLabel('Sign-in name or email').fill('bao');
    await stuck.getByLabel('Password').fill('not the one');
    await button(stuck, 'Sign in').click();
    const number = await stuck.locator('.number b').innerText();
    await helped(number);
    await expect(sentence).toHaveText(/^Bao Petrossian typed a wrong password at \d\d:\d\d\.$/u);
    const answer = page.waitForResponse(/let-in-now/u);
    await button(page, 'Let them in now').click();
    const { link } = (await (await answer).json()) as { link: string };
    await expect(page.getByRole('timer')).toContainText('seconds left');
    await stuck.goto(link);
    await button(stuck, 'Sign in').click();
    await expect(stuck.getByRole('heading', { name: 'Hello Bao' })).toBeVisible();
  });
  await test.step('a paused account works again with one click', async () => {
    const { people } = (await (await page.request.get('/api/v1/groups/1/people?counted=no&limit=200')).json()) as {
      people: { id: number; notCounted: string }[];
    };
    const paused = people.find(({ notCounted }) => notCounted === 'paused')?.id ?? 0;
    await page.goto(`/help/${paused}`);
    await expect(sentence).toContainText('is paused');
    await button(page, 'Activate').click();
    await expect(sentence).not.toContainText('is paused');
  });
  await test.step('somebody who asks is sent on to the decision', async () => {
    await helped('Imogen Szabolcs');
    await page.locator('.offered button').first().click();
    await expect(sentence).toContainText('has been asking to join Shore crew since');
    await button(page, 'Decide about the request').click();
    await expect(page.getByRole('row').filter({ hasText: 'Imogen Szabolcs' })).toBeVisible();
  });
  await test.step('a code that has ended, and a number of nobody', async () => {
    await helped('TQ9XA-F6VPU');
    await expect(page.getByText('The code TQ9XA-F6VPU for Middle Sound does not work: ended.')).toBeVisible();
    await helped('000001');
    await expect(page.getByText('No account in your groups has the name that was typed.')).toBeVisible();
  });
  await context.close();
});
