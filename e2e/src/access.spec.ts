import { type Browser, expect, type Page, test } from '@playwright/test';
import { complaints, Hand, signedIn } from './people.ts';

const partnerCrews = 38;

test('five courses for a crew, two of them in part, from January, under a licence with a limit of 40: at most 15 acts', async ({
  page,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  await page.goto(`/access/${partnerCrews}`);
  const hand = new Hand();
  const crew = 'Harbour crew';
  const cell = (course: string) => page.getByRole('gridcell', { name: new RegExp(`^${course} for ${crew}:`, 'u') });
  const button = (name: string | RegExp) => page.getByRole('button', { name });
  const panel = page.locator('aside.panel');

  await test.step('the range is drafted, and what all five say is set once', async () => {
    await hand.click(cell('Casualty care'));
    await hand.click(cell('Boat handling 2'), { modifiers: ['Shift'] });
    await hand.click(button('Open courses'));
    await hand.click(button('Dates, due day and licence for all 5 at once'));
    await hand.typeDay(panel.getByRole('textbox', { name: 'First day' }), '2027-01-04');
    await hand.click(panel.locator('.v-select').filter({ hasText: 'none needed' }));
    await hand.click(page.getByRole('option', { name: /^Partners: boat handling/u }));
  });
  await test.step('two of them open in part', async () => {
    for (const course of ['VHF radio', 'Throw-line basics']) {
      await hand.click(button(`Dates, units, due day and licence of ${course} for ${crew}`));
      await hand.click(panel.getByRole('group', { name: 'All units' }).getByRole('checkbox').last());
    }
    // Only the course that the licence covers is paid by it.
    await expect(panel.getByText('paid by Partners: boat handling')).toHaveCount(1);
    await expect(panel.getByText(/from 4 Jan 2027, \d+ of \d+ units/u)).toHaveCount(2);
  });
  await hand.click(button('Apply'));
  await expect(page.getByText('Applied.')).toBeVisible();
  await test.step('the limit', async () => {
    await hand.click(page.getByRole('link', { name: 'Seats' }));
    await hand.type(page.getByLabel(`Seat limit of ${crew}`), '40');
    await hand.click(button('Apply'));
    await expect(page.getByText('Limits saved.')).toBeVisible();
  });
  expect(hand.acts).toBeLessThanOrEqual(15);
  await page.goto(`/access/${partnerCrews}`);
  await expect(cell('Boat handling 1')).toHaveAccessibleName(/4 Jan/u);
  expect(trouble).toEqual([]);
});

/** Somebody of a group who is in no other, signed in on a phone by a one-time link. */
async function learnerOf(page: Page, browser: Browser, groupId: number): Promise<Page> {
  const { people } = (await (await page.request.get(`/api/v1/groups/${groupId}/people?limit=100`)).json()) as {
    people: { id: number; groups: object[] }[];
  };
  const id = people.find(({ groups }) => groups.length === 1)?.id ?? 0;
  const { link } = (await (
    await page.request.post(`/api/v1/people/${id}/one-time-sign-in`, { headers: { origin: new URL(page.url()).origin } })
  ).json()) as { link: string };
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(new URL(link).pathname + new URL(link).hash);
  await phone.getByRole('button', { name: /^Sign in/u }).click();
  await phone.waitForURL('**/my-courses**');
  return phone;
}

test('a set is opened for a branch, blocked firmly for one crew, in part for cadets: both pages follow, why on both sides, other days, undo', async ({
  page,
  browser,
}) => {
  const [penmarrow, shoreCrew, cadets] = [11, 13, 14];
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  const panel = page.locator('aside.panel');
  const button = (name: string | RegExp) => page.getByRole('button', { name });
  const cell = (group: string, course = 'Search patterns') =>
    page.getByRole('gridcell', { name: new RegExp(`^${course} for ${group}:`, 'u') });
  await page.goto(`/access/${penmarrow}/sets/2`);

  await test.step('the set, with 30 days from when they can start', async () => {
    await button('Open for groups').click();
    await panel.getByRole('combobox', { name: 'Groups' }).fill('penmarrow');
    await page
      .getByRole('option', { name: /Penmarrow/u })
      .first()
      .click();
    await page.keyboard.press('Escape');
    await panel.getByLabel('Days allowed').fill('30');
    await expect(panel.getByText(/gain/u).first()).toBeVisible();
    await panel.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByText('Opened.')).toBeVisible();
  });
  const [crewPhone, cadetPhone] = [await learnerOf(page, browser, shoreCrew), await learnerOf(page, browser, cadets)];
  for (const phone of [crewPhone, cadetPhone]) await expect(phone.getByText('Search patterns')).toBeVisible();

  await test.step('for two crews otherwise, in one draft', async () => {
    await page.goto(`/access/${penmarrow}`);
    await cell('Shore crew').click();
    await panel.getByRole('button', { name: 'Block course here' }).click();
    await panel.getByRole('button', { name: 'Dates, units, due day and licence of Search patterns for Shore crew' }).click();
    await panel.getByRole('checkbox', { name: /^Firm/u }).check();
    await cell('Cadets').click();
    await panel.getByRole('button', { name: 'Open course here' }).click();
    // What is said of the cell above it arrives in this moment and may move it: by its key.
    const details = panel.getByRole('button', { name: 'Dates, units, due day and licence of Search patterns for Cadets' });
    await details.press('Enter');
    await expect(details).toHaveAttribute('aria-expanded', 'true');
    await panel.getByRole('group', { name: 'All units' }).getByRole('checkbox').last().click();
    await expect(panel.getByText('Draft, 2 statements')).toBeVisible();
    await expect(panel.getByText(/^\d+ people lose a course or part of one/u)).toBeVisible();
    await panel.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByText('Applied.')).toBeVisible();
  });
  await expect(crewPhone.getByText('Search patterns')).toHaveCount(0);
  await expect(cadetPhone.getByText(/3 units/u).first()).toBeVisible();

  await test.step('why, for those who open it and for those who learn', async () => {
    await cell('Shore crew').press('Enter');
    await panel.getByText('Why?').first().click();
    await expect(panel.getByText(/blocked firmly/iu).first()).toBeVisible();
    const card = cadetPhone.getByRole('article').filter({ hasText: 'Search patterns' });
    await card.getByText('Why?').click();
    await expect(card.getByText(/open for Cadets/u)).toBeVisible();
  });

  await test.step('a day next month as it will be, one last month as it was', async () => {
    const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
    await page.goto(`/access/${penmarrow}?day=${inDays(30)}`);
    await expect(cell('Inshore crew')).toHaveAccessibleName(/from above|open/u);
    await expect(cell('Shore crew')).toHaveAccessibleName(/blocked/u);
    await page.goto(`/access/${penmarrow}?day=${inDays(-30)}`);
    await expect(cell('Inshore crew')).toHaveAccessibleName(/not open/u);
    await expect(cell('Shore crew')).toHaveAccessibleName(/not open/u);
  });

  await test.step('undone, both pages follow', async () => {
    await page.goto('/log');
    // Other tests change things at the same time, so the newest entry need not be this test's own.
    const entry = page.getByRole('listitem').filter({ hasText: 'Blocked and opened Search patterns for Shore crew and Cadets' }).first();
    await entry.getByRole('button', { name: 'Undo…' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(page.getByText('Undone.')).toBeVisible();
    await expect(crewPhone.getByText('Search patterns')).toBeVisible();
  });

  await test.step('what the log is narrowed to stays in its address', async () => {
    await page.getByRole('combobox', { name: 'What was done' }).press('Enter');
    await page.getByRole('option', { name: 'Courses opened and blocked' }).click();
    await page.getByRole('combobox', { name: 'About whom' }).fill('Brandt');
    await page
      .getByRole('option', { name: /Brandt/u })
      .first()
      .click();
    await expect(page).toHaveURL(/kind=grant-access/u);
    await expect(page).toHaveURL(/person=\d+/u);
    const about = await page.getByRole('combobox', { name: 'About whom' }).inputValue();
    expect(about).toContain('Brandt');
    await page.reload();
    await expect(page.getByRole('combobox', { name: 'About whom' })).toHaveValue(about);
    await page.goto('/log?kind=grant-access&until=2001-01-01');
    await expect(page.getByText('Nothing in the log matches this.')).toBeVisible();
    await page.goto('/log?kind=grant-access');
    const entries = page.locator('main li');
    await expect(entries.first()).toContainText(/[Oo]pened|[Bb]locked|[Cc]losed/u);
    await expect(entries.filter({ hasText: /came in|Tagged|Moved/u })).toHaveCount(0);
  });
  expect(trouble).toEqual([]);
});
