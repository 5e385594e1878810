import { expect, type Page } from '@playwright/test';

const password = 'lantern-over-water';

export async function signIn(page: Page, name: string): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Sign-in name or email').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL((url) => !url.pathname.startsWith('/sign-in'));
}

/** Collects what the browser complains of; a screen must give nothing. */
export function complaints(page: Page): string[] {
  const found: string[] = [];
  page.on('pageerror', (error) => found.push(error.message));
  page.on('console', (message) => {
    // The first question of every visit is who is signed in, and nobody is.
    if (message.type() === 'error' && !message.location().url.endsWith('/api/v1/session')) found.push(message.text());
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
