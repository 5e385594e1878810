import { expect, type Locator, type Page } from '@playwright/test';

const password = 'lantern-over-water';

export async function signIn(page: Page, name: string): Promise<void> {
  await page.goto('/sign-in');
  const field = page.getByLabel('Sign-in name or email');
  // The page gives this field the focus once it is in sight, which must not happen while the next one is being filled.
  await expect(field).toBeFocused();
  await field.fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL((url) => !url.pathname.startsWith('/sign-in'));
}

/** The same without the page, where signing in is not what is looked at. */
export async function signedIn(page: Page, name: string): Promise<void> {
  const answer = await page.request.post('/api/v1/session', { data: { signInName: name, password } });
  expect(answer.status()).toBe(200);
}

/** Types a day into a field that also has a picker, and leaves it. */
export async function typeDay(field: Locator, day: string): Promise<void> {
  await field.fill(day.split('-').reverse().join('/'));
  await field.press('Tab');
}

/** Collects what the browser complains of; a screen must give nothing. */
export function complaints(page: Page): string[] {
  const found: string[] = [];
  page.on('pageerror', (error) => found.push(error.message));
  page.on('console', (message) => {
    if (message.type() !== 'error') return;
    // The first question of every visit is who is signed in, and nobody is.
    if (message.location().url.endsWith('/api/v1/session')) return;
    // Busy, with Retry-After: the page waits and asks again. If it never gets its answer, the screen is never ready.
    if (message.text().includes('status of 503')) return;
    found.push(`${message.text()} (${message.location().url})`);
  });
  return found;
}

export const sample = '../demo/samples/autumn-intake-north.csv';

/** The number that stands before a word: `People 165 learners`. */
export async function numberIn(page: Page, selector: string): Promise<number> {
  const text = (await page.locator(selector).first().innerText()).replaceAll(',', '');
  const found = /\d+/u.exec(text);
  expect(found, text).not.toBeNull();
  return Number(found?.[0]);
}

/** Does what somebody does by hand, and counts it: a click, a typed field, a paste or a key is one act each. */
export class Hand {
  acts = 0;
  async click(target: Locator, options: Parameters<Locator['click']>[0] = {}): Promise<void> {
    this.acts++;
    await target.click(options);
  }
  /** Chooses a file in the system's own dialog, which is one act more. */
  async choose(page: Page, opener: Locator, file: Parameters<Locator['setInputFiles']>[0]): Promise<void> {
    const chooser = page.waitForEvent('filechooser');
    await this.click(opener);
    this.acts++;
    await (await chooser).setFiles(file);
  }
  async type(target: Locator, text: string): Promise<void> {
    this.acts++;
    await target.fill(text);
  }
  async typeDay(target: Locator, day: string): Promise<void> {
    this.acts++;
    await typeDay(target, day);
  }
  async press(target: Locator, key: string): Promise<void> {
    this.acts++;
    await target.press(key);
  }
}

/** Does both activities of a unit in the player, and works its sums out as a learner would. */
export async function workUnit(player: Page, unit: string): Promise<void> {
  await player.waitForURL('**/player/**');
  await player.getByRole('button', { name: `Begin ${unit}: crew notes` }).click();
  await player.getByRole('button', { name: 'I have done this' }).click();
  await player.getByRole('button', { name: `Begin ${unit}: exercise` }).click();
  await expect(player.locator('fieldset')).toHaveCount(4);
  for (const sum of await player.locator('fieldset').all()) {
    const [knots, minutes] = [...(await sum.locator('legend').innerText()).matchAll(/\d+/gu)].map(Number);
    await sum.getByLabel(`${((knots ?? 0) * (minutes ?? 0)) / 60} miles`, { exact: true }).check();
  }
  await player.getByRole('button', { name: 'Hand in' }).click();
  await expect(player.getByText('Your score: 100.')).toBeVisible();
}

/** The last letter to an address, as its mailbox shows it. */
export async function letterTo(page: Page, address: string): Promise<string> {
  let text = '';
  await expect
    .poll(async () => {
      const html = await (await page.request.get(`/post?to=${encodeURIComponent(address)}`)).text();
      text = html.split('<article>')[1] ?? '';
      return text;
    })
    .not.toBe('');
  return text;
}

/** The address in a letter that leads to a page. */
export const linkIn = (letter: string, to: string): string => new RegExp(`href="(http[^"]*${to}#[^"]+)"`, 'u').exec(letter)?.[1] ?? '';

/** Looks at a change and applies what was seen, without the page. */
export async function changeAtOnce(page: Page, change: object): Promise<void> {
  const look = await page.request.post('/api/v1/changes/look', { data: { change } });
  const { digest } = (await look.json()) as { digest: string };
  const applied = await page.request.post('/api/v1/changes', { data: { change, digest, requestId: crypto.randomUUID() } });
  expect(applied.status()).toBe(200);
}

/** A new group below the root. @returns Its id. */
export async function makeGroup(page: Page, name: string): Promise<number> {
  await changeAtOnce(page, { kind: 'make-groups', parentId: 1, groups: [{ name, within: null, like: null, leaders: [] }] });
  const { groups } = (await (await page.request.get('/api/v1/groups')).json()) as { groups: { id: number; name: string }[] };
  return groups.find((group) => group.name === name)?.id ?? 0;
}

export async function idOfPerson(page: Page, name: string): Promise<number> {
  const found = (await (await page.request.get(`/api/v1/find?q=${encodeURIComponent(name)}`)).json()) as { people: { id: number }[] };
  return found.people[0]?.id ?? 0;
}
