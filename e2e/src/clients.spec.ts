import { expect, test } from '@playwright/test';
import { complaints, Hand, letterTo, linkIn, signedIn } from './people.ts';

test('a new client in one act: in nine acts or fewer; its leader signs in by the letter and sees what the group has', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  await signedIn(page, 'mirela');
  const tree = (await (await page.request.get('/api/v1/groups')).json()) as { groups: { id: number; name: string }[] };
  const parent = tree.groups.find(({ name }) => name === 'Skerry Light')?.id ?? 0;
  await page.goto(`/groups/${parent}`);
  const hand = new Hand();
  await hand.click(page.getByRole('button', { name: 'This group' }));
  await hand.click(page.getByText('New client…'));
  const panel = page.getByRole('complementary').last();
  await hand.type(panel.getByLabel('Name', { exact: true }), 'Lantern Ferries');
  await hand.type(panel.getByLabel('Leader, name and email'), 'Ada Lind ada.lind@lantern.example');
  await hand.click(panel.getByLabel('Courses and course sets'));
  await hand.click(page.getByRole('option', { name: /^Duty/u }));
  await hand.type(panel.getByLabel('Seats (empty: none are needed)'), '12');
  await expect(panel.getByText('1 email is sent')).toBeVisible();
  await hand.click(panel.getByRole('button', { name: 'Make the client' }));
  await expect(page.getByRole('heading', { level: 1, name: 'Lantern Ferries' })).toBeVisible();
  expect(hand.acts).toBeLessThanOrEqual(9);

  const leader = await (await browser.newContext()).newPage();
  const leaderTrouble = complaints(leader);
  await leader.goto(linkIn(await letterTo(page, 'ada.lind@lantern.example'), '/enter'));
  await leader.getByLabel('Choose a password for the next time').fill('nine calm harbour seals');
  await leader.getByRole('button', { name: 'Sign in' }).click();
  const first = leader.getByRole('region', { name: 'Getting started' });
  await expect(first.getByText('12 seats free in Lantern Ferries: Duty.')).toBeVisible();
  await expect(first.getByRole('button', { name: 'Copy the link' })).toBeVisible();

  expect([...trouble, ...leaderTrouble]).toEqual([]);
  // With the client the account of its leader goes, and their session with it.
  const log = await page.context().newPage();
  await log.goto('/log');
  const entry = log.getByRole('listitem').filter({ hasText: 'Made the client Lantern Ferries' });
  await entry.getByRole('button', { name: /Undo/u }).click();
  await log.getByRole('button', { name: 'Undo', exact: true }).click();
  // Where the group was, its parent is shown, by itself.
  await expect(page.getByRole('heading', { level: 1, name: 'Skerry Light' })).toBeVisible();
  await leader.context().close();
});
