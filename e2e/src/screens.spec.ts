import AxeBuilder from '@axe-core/playwright';
import { zipSync } from 'fflate';
import { expect, type Page, test } from '@playwright/test';
import path from 'node:path';
import { complaints, sample, signedIn, signIn } from './people.ts';

/** A panel or dialog is looked at by itself: what lies under it is looked at as a screen of its own. */
const screens: { name: string; as: string | null; at: string; ready: (page: Page) => Promise<void>; within?: string; phone?: boolean }[] = [
  { name: 'sign in', as: null, at: '/sign-in', ready: (page) => expect(page.getByLabel('Password')).toBeVisible() },
  { name: 'group', as: 'ottoline', at: '/groups/3', ready: (page) => expect(page.getByRole('row').nth(5)).toBeVisible() },
  {
    name: 'person',
    as: 'ottoline',
    at: '/groups/3?person=20',
    ready: (page) => expect(page.getByRole('heading', { name: 'Courses' })).toBeVisible(),
  },
  {
    name: 'courses',
    as: 'ottoline',
    at: '/access/3/courses',
    ready: (page) => expect(page.getByRole('link', { name: 'VHF radio' })).toBeVisible(),
  },
  {
    name: 'course, changed',
    as: 'mirela',
    at: '/access/3/courses/2',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Edit course' }).click();
      await page.getByRole('button', { name: 'Take out Breathing', exact: true }).click();
      await expect(page.getByRole('button', { name: 'Save' })).toBeEnabled();
    },
  },
  {
    name: 'course set',
    as: 'mirela',
    at: '/access/3/sets/3',
    ready: (page) => expect(page.getByRole('link', { name: 'Engine care' })).toBeVisible(),
  },
  {
    name: 'coming up',
    as: 'ottoline',
    at: '/access/3/coming',
    ready: async (page) => {
      await page
        .getByRole('button', { name: /^Who\?/u })
        .first()
        .click();
      await expect(page.getByRole('complementary').getByRole('link').first()).toBeVisible();
    },
  },
  {
    name: 'make groups',
    within: 'aside.panel',
    as: 'mirela',
    at: '/groups/3',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Make groups' }).click();
      await page.getByLabel('One group per line').fill('Kite crew led by Ada Lind ada@lind.example\n  Cadets');
      await expect(page.getByText('2 groups are made')).toBeVisible();
    },
  },
  {
    name: 'details of a group',
    within: 'aside.panel',
    as: 'mirela',
    at: '/groups/3',
    ready: async (page) => {
      await page.getByRole('button', { name: 'This group' }).click();
      await page.getByText('Name and details').click();
      await expect(page.getByLabel('Description')).toBeVisible();
    },
  },
  {
    name: 'leaders of a group',
    within: 'aside.panel',
    as: 'mirela',
    at: '/groups/3',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Change', exact: true }).click();
      await expect(page.getByRole('heading', { name: 'Who leads Gullhaven' })).toBeVisible();
    },
  },
  {
    name: 'delete a group',
    within: '[role=dialog]',
    as: 'mirela',
    at: '/groups/3',
    ready: async (page) => {
      await page.getByRole('button', { name: 'This group' }).click();
      await page.getByText('Delete…').click();
      await expect(page.getByText('1 group is deleted')).toBeVisible();
    },
  },
  {
    name: 'bring in a file',
    as: 'mirela',
    at: '/ways-in/2/file',
    ready: (page) => expect(page.getByRole('button', { name: 'Choose a file' })).toBeVisible(),
  },
  {
    name: 'a file with problems',
    as: 'mirela',
    at: '/ways-in/2/file',
    ready: async (page) => {
      await page.locator('input[type=file]').setInputFiles(path.join(import.meta.dirname, '..', sample));
      await expect(page.locator('tr.bad').first()).toBeVisible();
    },
  },
  { name: 'who asks', as: 'ottoline', at: '/ways-in/3/asking', ready: (page) => expect(page.getByText('Rosalind Okpara')).toBeVisible() },
  {
    name: 'join codes',
    as: 'ottoline',
    at: '/ways-in/3/codes',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Make a code' }).click();
      await page.getByRole('button', { name: 'Dates, limit, questions and more' }).click();
      await expect(page.getByLabel('Limit')).toBeVisible();
    },
  },
  {
    name: 'invitations',
    as: 'ottoline',
    at: '/ways-in/3/invitations',
    ready: (page) => expect(page.getByText('Came back').first()).toBeVisible(),
  },
  { name: 'letters', as: 'ottoline', at: '/ways-in/3/letters', ready: (page) => expect(page.getByLabel('Subject')).toBeVisible() },
  {
    name: 'help someone in',
    as: 'ottoline',
    at: '/help/20',
    ready: (page) => expect(page.getByRole('button', { name: 'Copy the answer' })).toBeVisible(),
  },
  { name: 'door sheet', as: 'ottoline', at: '/door/1', ready: (page) => expect(page.getByText('have joined')).toBeVisible() },
  {
    name: 'joining on a phone',
    phone: true,
    as: null,
    at: '/join#GK7MT-QX4RA',
    ready: (page) => expect(page.getByRole('heading', { name: 'Join Inshore crew' })).toBeVisible(),
  },
  {
    name: 'my groups',
    phone: true,
    as: 'bao',
    at: '/my-groups',
    ready: (page) => expect(page.getByRole('heading', { name: 'Cadets' })).toBeVisible(),
  },
  { name: 'access', as: 'mirela', at: '/access/3', ready: (page) => expect(page.getByRole('gridcell').first()).toBeVisible() },
  {
    name: 'seats',
    as: 'mirela',
    at: '/seats/38',
    ready: async (page) => {
      await expect(page.getByRole('row').nth(3)).toBeVisible();
      await page.getByRole('button', { name: 'Add a licence' }).click();
      await expect(page.getByLabel('Pays for')).toBeVisible();
    },
  },
  { name: 'progress', as: 'ottoline', at: '/progress/3', ready: (page) => expect(page.locator('.chart svg')).toBeVisible() },
  {
    name: 'inside a course',
    as: 'ottoline',
    at: '/progress/3?view=course',
    ready: (page) => expect(page.locator('tbody .mark.done').first()).toBeVisible(),
  },
  {
    name: 'progress by learner',
    as: 'ottoline',
    at: '/progress/3?view=learners',
    ready: (page) => expect(page.locator('tbody .done').first()).toBeVisible(),
  },
  { name: 'log', as: 'mirela', at: '/log', ready: (page) => expect(page.getByRole('heading', { name: 'Log' })).toBeVisible() },
  { name: 'settings', as: 'mirela', at: '/settings', ready: (page) => expect(page.getByLabel('New password')).toBeVisible() },
  {
    name: 'my courses',
    as: 'bao',
    at: '/my-courses',
    ready: (page) => expect(page.getByRole('button', { name: /Continue/u }).first()).toBeVisible(),
  },
  {
    name: 'not here',
    as: 'mirela',
    at: '/nowhere',
    ready: (page) => expect(page.getByRole('heading', { name: 'Not here' })).toBeVisible(),
  },
];

for (const { name, as, at, ready, within, phone } of screens) {
  test(`${name}: nothing that axe or the browser complains of`, async ({ page }) => {
    const trouble = complaints(page);
    if (phone) await page.setViewportSize({ width: 390, height: 844 });
    if (as) await signedIn(page, as);
    await page.goto(at);
    await ready(page);
    // Panels and dialogs are made of the same colours as the screens, so one theme is enough for them.
    for (const colorScheme of within ? (['light'] as const) : (['light', 'dark'] as const)) {
      await page.emulateMedia({ colorScheme });
      await expect(page.locator(`.v-application.v-theme--${colorScheme}`)).toBeVisible();
      // A button's children are presentational (WAI-ARIA 1.2), so the spinner inside a busy one needs no name of its own.
      const axe = new AxeBuilder({ page }).exclude('.v-btn__loader');
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
