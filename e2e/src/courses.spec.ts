import { expect, test } from '@playwright/test';
import { complaints, signedIn } from './people.ts';

// Where no other test works.
const [stacksPoint, hollowNess, shoreCrew, gullhaven] = [15, 35, 37, 3];

test('a course is changed with its preview and undone; a set opened for a crew reaches it with what is added later, and no set holds itself', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  const panel = page.locator('aside.panel');
  const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' });

  await test.step('found in the catalogue, a unit less: those under way who have finished the rest are counted, and become done', async () => {
    await page.goto(`/access/${stacksPoint}`);
    await page.getByRole('button', { name: 'Courses', exact: true }).click();
    await page.getByRole('searchbox', { name: 'Find a course' }).fill('srch-1');
    await expect(page.getByText(/^1 of \d+ courses$/u)).toBeVisible();
    await page.getByRole('link', { name: 'Search patterns' }).click();
    const standing = page.getByText(/^\d+ learners: \d+ done/u);
    const before = Number(/(\d+) done/u.exec((await standing.textContent()) ?? '')?.[1]);
    await button('Edit course').click();
    await button('Take out Calling it off').click();
    await button('Take out Line abreast').click();
    const said = panel.locator('.card').filter({ hasText: /become done/u });
    await expect(said).toBeVisible();
    await said.getByRole('button', { name: 'Who?' }).click();
    await expect(
      panel
        .getByRole('listitem')
        .filter({ hasText: /^\p{L}+ .*\p{L}/u })
        .first(),
    ).toBeVisible();
    await button('Save').click();
    await expect(page.getByText('Course changed.')).toBeVisible();
    await expect.poll(async () => Number(/(\d+) done/u.exec((await standing.textContent()) ?? '')?.[1])).toBeGreaterThan(before);
    await button('Undo').click();
    await expect(standing).toHaveText(new RegExp(`: ${before} done`, 'u'));
    await expect(page.getByText('Calling it off', { exact: true })).toBeVisible();
  });

  await test.step('a new set is opened for a crew; what comes into it afterwards reaches the crew', async () => {
    await page.goto(`/access/${hollowNess}/courses`);
    await button('New course set').click();
    await panel.getByLabel('Name').fill('Rough water');
    await panel.getByLabel('Courses to add').click();
    await page.getByRole('option', { name: 'Tower lookout' }).click();
    await page.keyboard.press('Escape');
    await panel.getByRole('button', { name: 'New course set' }).click();
    await page.getByRole('link', { name: /Rough water/u }).click();
    await button('Open for groups').click();
    await panel.getByRole('combobox', { name: 'Groups' }).fill('hollow ness › shore');
    await page.getByRole('option', { name: /Shore crew/u }).click();
    await page.keyboard.press('Escape');
    await panel.getByLabel('Days allowed').fill('30');
    await expect(panel.getByText(/gain/u).first()).toBeVisible();
    await button('Apply').click();
    await expect(page.getByText('Opened.')).toBeVisible();
    await expect(page.getByRole('link', { name: 'Shore crew' })).toBeVisible();
    await button('Add courses').click();
    await panel.getByLabel('Courses to add').click();
    await page.getByRole('option', { name: 'Knots and lines' }).click();
    await page.keyboard.press('Escape');
    await expect(panel.getByText(/Knots and lines/u).last()).toBeVisible();
    await panel.getByRole('button', { name: 'Add courses' }).click();
    await expect(page.getByText('Course set changed.')).toBeVisible();
    await page.goto(`/access/${shoreCrew}`);
    await expect(page.getByRole('gridcell', { name: /^Knots and lines for Shore crew: opened here/u })).toBeVisible();
  });

  await test.step('a set that would hold itself is refused with the loop named', async () => {
    await page.goto(`/access/${hollowNess}/courses`);
    await page.getByRole('link', { name: /Rough water/u }).click();
    await button('Add courses').click();
    await panel.getByLabel('Course sets to add').click();
    await page.getByRole('option', { name: 'Duty' }).click();
    await page.keyboard.press('Escape');
    await panel.getByRole('button', { name: 'Add courses' }).click();
    await expect(page.getByText('Course set changed.').last()).toBeVisible();
    await page.getByRole('link', { name: 'Duty' }).click();
    await button('Add courses').click();
    await panel.getByLabel('Course sets to add').click();
    await page.getByRole('option', { name: 'Rough water' }).click();
    await page.keyboard.press('Escape');
    await expect(panel.getByText('A course set cannot hold itself:')).toBeVisible();
    await expect(panel.getByText(/Rough water, Duty and Rough water|Duty, Rough water and Duty/u)).toBeVisible();
    await expect(panel.getByRole('button', { name: 'Add courses' })).toBeDisabled();
  });

  await test.step('courses come from a file; one that does not fit says why', async () => {
    await page.goto('/access/1/courses');
    await button('Add courses').click();
    const file = (text: string) => ({ name: 'courses.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
    await panel.locator('input[type="file"]').setInputFiles(file('Course;Code\nAnchoring;AN1\nTowing;an1'));
    await expect(panel.getByText('Two courses have the code an1.')).toBeVisible();
    await panel.getByRole('button', { name: 'Do without the file' }).click();
    await panel
      .locator('input[type="file"]')
      .setInputFiles(file('Course;Code;Unit;Price\nAnchoring;AN1;Ground;4\n;;Chain;\nTowing;TW1;;2'));
    await expect(panel.getByText('Left out: Price.')).toBeVisible();
    await expect(panel.getByText('2 courses, 3 units, 3 activities')).toBeVisible();
    await panel.getByRole('button', { name: 'Add 2 courses' }).click();
    await expect(page.getByRole('link', { name: 'Anchoring' })).toBeVisible();
  });

  await test.step('its leader reads the catalogue and changes nothing of it', async () => {
    const context = await browser.newContext();
    const other = await context.newPage();
    await signedIn(other, 'ottoline');
    await other.goto(`/access/${gullhaven}/courses/5`);
    await expect(other.getByRole('heading', { name: 'Boat handling 1' })).toBeVisible();
    await expect(other.getByRole('button', { name: 'Open for groups' })).toBeVisible();
    await expect(other.getByRole('button', { name: 'Edit course' })).toHaveCount(0);
    await context.close();
  });
  expect(trouble).toEqual([]);
});
