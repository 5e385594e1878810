import AxeBuilder from '@axe-core/playwright';
import { zipSync } from 'fflate';
import { expect, type Page, test as base } from '@playwright/test';
import { complaints, signedIn, signIn } from './people.ts';
import { screens } from './screens.ts';

interface Watched {
  page: Page;
  trouble: string[];
}
/** A page for each who signs in, kept from screen to screen: beginning afresh takes longer than looking. */
const test = base.extend<object, { pageOf: (as: string | null) => Promise<Watched> }>({
  pageOf: [
    async ({ browser }, use) => {
      const begun = new Map<string | null, Promise<Watched>>();
      const begin = async (as: string | null): Promise<Watched> => {
        const page = await browser.newPage({ baseURL: `http://127.0.0.1:${process.env['E2E_PORT']}`, reducedMotion: 'reduce' });
        if (as) await signedIn(page, as);
        return { page, trouble: complaints(page) };
      };
      await use((as) => {
        const watched = begun.get(as) ?? begin(as);
        begun.set(as, watched);
        return watched;
      });
      for (const watched of begun.values()) await (await watched).page.close();
    },
    { scope: 'worker' },
  ],
});
test.describe.configure({ mode: 'parallel' });

for (const { name, as, at, ready, within, phone } of screens) {
  test(`${name}: nothing that axe or the browser complains of`, async ({ pageOf }) => {
    const { page, trouble } = await pageOf(as);
    trouble.length = 0;
    await page.setViewportSize(phone ? { width: 390, height: 844 } : { width: 1280, height: 800 });
    await page.goto(at);
    await ready(page);
    // Panels and dialogs are made of the same colours as the screens, so one theme is enough for them.
    for (const colorScheme of within ? (['light'] as const) : (['light', 'dark'] as const)) {
      await page.emulateMedia({ colorScheme });
      await expect(page.locator(`.v-application.v-theme--${colorScheme}`)).toBeVisible();
      // A button's children are presentational (WAI-ARIA 1.2), so the spinner inside a busy one needs no name of its own.
      const axe = new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).exclude('.v-btn__loader');
      // No frames to join: without a second page for that it is done in half the time.
      axe.setLegacyMode(true);
      if (within) axe.include(within);
      // The dark theme differs in its colours alone.
      if (colorScheme === 'dark') axe.withRules(['color-contrast']);
      else axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
      const { violations } = await axe.analyze();
      expect(
        violations.map(
          ({ id, nodes }) =>
            `${colorScheme} ${id}: ${nodes.map(({ target, any }) => `${target.join(' ')} ${any[0]?.message ?? ''}`).join(' | ')}`,
        ),
      ).toEqual([]);
    }
    expect(trouble).toEqual([]);
  });
}

test('the first load is under 300 kB of script, without charts and importer', async ({ page }) => {
  await signIn(page, 'mirela');
  const client = await page.context().newCDPSession(page);
  await client.send('Network.enable');
  await client.send('Network.setCacheDisabled', { cacheDisabled: true });
  const scripts = new Map<string, { url: string; bytes: number }>();
  client.on('Network.responseReceived', ({ requestId, response, type }) => {
    if (type === 'Script') scripts.set(requestId, { url: response.url, bytes: 0 });
  });
  client.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const script = scripts.get(requestId);
    if (script) script.bytes = encodedDataLength;
  });
  await page.goto('/groups/3');
  await expect(page.getByRole('row').nth(5)).toBeVisible();
  await page.waitForLoadState('networkidle');
  const total = [...scripts.values()].reduce((sum, { bytes }) => sum + bytes, 0);
  expect(scripts.size).toBeGreaterThan(3);
  expect([...scripts.values()].map(({ url }) => url).filter((url) => /DoneByWeek|BringIn|worker/u.test(url))).toEqual([]);
  console.log(`first load: ${Math.round(total / 1000)} kB of script in ${scripts.size} files`);
  expect(total).toBeLessThan(300_000);
});

test('a leader searches, guesses and exports, and finds nobody outside the branch', async ({ page }) => {
  await signIn(page, 'ottoline');
  await expect(page.getByRole('heading', { name: 'Gullhaven', level: 1 })).toBeVisible();
  await expect(page.getByRole('treeitem').filter({ hasText: 'North Reach' })).toHaveCount(0);
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Find anything' }).fill('mirela');
  await expect(page.getByText('No match for “mirela”.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goto('/groups/2');
  await expect(page.getByRole('alert')).toContainText('you may not see it');
  await page.goto('/groups/3?person=1');
  await expect(page.getByRole('region', { name: 'Person' }).getByRole('alert').last()).toContainText('you may not see it');
});

test('tree, list and access grid work by keyboard alone', async ({ page }) => {
  await signIn(page, 'mirela');
  await page.goto('/groups/3');
  const gullhaven = page.getByRole('treeitem').filter({ hasText: 'Gullhaven' });
  await gullhaven.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Cadets', level: 1 })).toBeVisible();
  await page.getByRole('row').nth(1).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('3 people chosen')).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('a');
  await expect(page).toHaveURL(/\/access\/8/u);
  const cell = page.locator('[role=gridcell][aria-label^="Engine care for Cadets"]');
  await cell.focus();
  await page.keyboard.press('Space');
  await expect(page.getByRole('heading', { name: 'What this would do' })).toBeVisible();
  await cell.focus();
  await page.keyboard.press('Backspace');
  await expect(page.getByRole('heading', { name: 'What this would do' })).toHaveCount(0);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});

test('bad files say what is wrong with them, and what was there stays', async ({ page }) => {
  await signIn(page, 'mirela');
  await page.goto('/ways-in/2/file');
  const give = (name: string, buffer: Buffer) => page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer });
  await give('empty.csv', Buffer.alloc(0));
  await expect(page.getByRole('alert')).toContainText('is empty');
  await give('picture.csv', Buffer.from(Array.from({ length: 2000 }, (_, index) => (index * 7) % 256)));
  await expect(page.getByRole('alert')).toContainText('is not a text file');
  for (const [name, content, said] of [
    ['header.csv', 'Name,Email\n', 'names of columns and no row'],
    ['quotes.csv', 'Name,Email\nAda,a@x.example\nBo,"b@x.example\n', 'opens in line 3 and never closes'],
    ['wide.csv', `${'x,'.repeat(1_000_000)}y\n`, 'more than 100 columns in line 1'],
    ['long.csv', `Name,Email\nAda,${'x'.repeat(1_000_000)}\n`, 'more than 2,000 letters in line 2'],
    ['broken.xlsx', 'PK\u0003\u0004 and nothing of a workbook', 'cannot be opened'],
  ] as const) {
    await give(name, Buffer.from(content));
    await expect(page.getByRole('alert')).toContainText(said);
  }
  // Small on the way, 260 MB when it is unpacked.
  await give('bomb.csv', Buffer.from(zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(260 * 1024 * 1024) })));
  await expect(page.getByRole('alert')).toContainText('is too large');
  await give('nameless.csv', Buffer.from('Colour,Size\nred,4\nblue,5\n'));
  await expect(page.getByRole('alert')).toContainText('No column holds a name');
  await page.getByRole('button', { name: /^Colour/u }).click();
  await page.getByText('Full name', { exact: true }).click();
  await expect(page.locator('.count .big').first()).toHaveText('2');
});
