import { expect, test } from '@playwright/test';
import { complaints, Hand, signedIn } from './people.ts';

const gullhaven = 3;

test('a learner on a phone asks for a course, the leader opens it, the page follows by itself, undone it waits again', async ({
  page,
  browser,
}) => {
  const trouble = complaints(page);
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  const phoneTrouble = complaints(phone);
  await signedIn(phone, 'bao');
  await phone.goto('/my-courses');
  const learner = new Hand();
  await learner.click(phone.getByRole('button', { name: 'Ask for Teaching others' }));
  await learner.type(phone.getByLabel('Why you want it'), 'I would like to show the new ones how');
  await learner.click(phone.getByRole('button', { name: 'Send' }));
  await expect(phone.getByRole('button', { name: 'Withdraw the request for Teaching others' })).toBeVisible();
  expect(learner.acts).toBe(3);

  await signedIn(page, 'ottoline');
  await page.goto(`/ways-in/${gullhaven}/asking`);
  const row = page.getByRole('row').filter({ hasText: 'I would like to show the new ones how' });
  const leader = new Hand();
  await leader.click(row.getByRole('button', { name: 'Open' }));
  const panel = page.getByRole('complementary');
  await expect(panel.getByText('1 person gains a course')).toBeVisible();
  await leader.click(panel.getByRole('button', { name: 'Open' }));
  await expect(page.getByText('Requests decided.')).toBeVisible();
  expect(leader.acts).toBe(2);

  // Nobody touches the phone: its page hears of it.
  await expect(phone.getByRole('button', { name: 'Begin Teaching others' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(phone.getByRole('button', { name: 'Withdraw the request for Teaching others' })).toBeVisible();
  await phone.getByRole('button', { name: 'Withdraw the request for Teaching others' }).click();
  await expect(phone.getByRole('button', { name: 'Ask for Teaching others' })).toBeVisible();
  expect([...trouble, ...phoneTrouble]).toEqual([]);
  await phone.context().close();
});
