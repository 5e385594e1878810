import { expect, type Page, test } from '@playwright/test';
import { serveAt } from './other-days.ts';
import { changeAtOnce, idOfPerson, makeGroup, signedIn } from './people.ts';

const address = 'ottoline.brandt@brannoch.example';

/** The day of the platform so many days from now. */
const dayIn = (days: number): string =>
  new Intl.DateTimeFormat('sv', { timeZone: 'Atlantic/Faroe' }).format(new Date(Date.now() + days * 86_400_000));
/** Nine or ten in the morning of that day, there. */
const morningIn = (days: number): Date => new Date(`${dayIn(days)}T09:00:00Z`);

/** Half past five of that day, there. */
const nightIn = (days: number): Date => new Date(`${dayIn(days)}T05:30:00Z`);

/** Letters to somebody whose subject or text says this. */
async function lettersWith(page: Page, words: string): Promise<string[]> {
  const html = await (await page.request.get(`/post?to=${address}`)).text();
  return html.split('<article>').filter((part) => part.includes(words));
}

test('a night: a reminder that was rehearsed is sent by the turn of the day, once; somebody in three groups gets one email for all of them', async ({
  browser,
}) => {
  test.setTimeout(360_000);
  // Before the hour from which letters of a day go, whenever this test runs.
  const today = await serveAt(nightIn(1));
  try {
    const page = await (await browser.newContext({ baseURL: today.url })).newPage();
    await signedIn(page, 'mirela');
    const ottoline = await idOfPerson(page, 'Ottoline Brandt');
    const groups = [];
    for (const name of ['Night watch', 'Boat hands', 'Flare store']) groups.push({ name, id: await makeGroup(page, name) });
    for (const { id, name } of groups) {
      const lastDay = name === 'Night watch' ? dayIn(8) : null;
      await changeAtOnce(page, { kind: 'add-members', groupId: id, personIds: [ottoline], firstDay: null, lastDay });
    }

    const phone = await (await browser.newContext({ baseURL: today.url, viewport: { width: 390, height: 844 } })).newPage();
    await signedIn(phone, 'ottoline');
    await phone.goto('/my-messages');
    await phone.locator('.v-select').filter({ hasText: 'Emails about messages, seats and reports' }).click();
    await phone.getByRole('option', { name: 'One in the morning' }).click();
    await expect(phone.getByText('Saved.')).toBeVisible();
    await phone.context().close();

    await page.goto(`/messages/${groups[0]?.id}/reminders`);
    await page.getByRole('button', { name: /Before a membership ends$/u }).click();
    await page.getByRole('spinbutton', { name: 'Days' }).fill('7');
    await page.getByRole('button', { name: 'Apply' }).click();
    const next = page.getByRole('complementary', { name: 'The next 30 days' });
    await next.getByRole('button', { name: /Before a membership ends/u }).click();
    await expect(next.locator('.names')).toContainText('Brandt, Ottoline');

    for (const { id, name } of groups) {
      await page.goto(`/messages/${id}?write=yes`);
      await page.getByLabel('Title').fill(`News of ${name}`);
      await expect(page.getByText(/1\s+(person sees|people see) it on their page/u)).toBeVisible();
      await page.getByRole('button', { name: 'Send', exact: true }).click();
      await expect(page.getByRole('heading', { level: 1, name: `News of ${name}` })).toBeVisible();
    }
    expect(await lettersWith(page, 'News of')).toEqual([]);
    await page.context().close();
  } finally {
    await today.stop();
  }

  // A busy machine needs a while for the letters of a whole morning.
  const patience = { timeout: 60_000 };
  // Twice in the same morning, and a day later: what was sent is not sent again.
  for (const [nth, moment] of [morningIn(1), morningIn(1), morningIn(2)].entries()) {
    const server = await serveAt(moment);
    try {
      const page = await (await browser.newContext({ baseURL: server.url })).newPage();
      await signedIn(page, 'ottoline');
      await page.goto('/my-messages');
      await expect(page.locator('article').filter({ hasText: 'Night watch' }).filter({ hasText: /ends/u })).toHaveCount(1, patience);
      await expect.poll(async () => (await lettersWith(page, 'News of')).length, patience).toBe(1);
      if (nth === 0) {
        const [letter] = await lettersWith(page, 'News of');
        for (const name of ['Night watch', 'Boat hands', 'Flare store']) expect(letter).toContain(`${name}: News of ${name}`);
        expect(letter).toContain('Night watch: ');
      }
      await page.context().close();
    } finally {
      await server.stop();
    }
  }
});
