import { expect, type Locator, type Page, test } from '@playwright/test';
import { complaints, Hand, signIn } from './people.ts';

const button = (page: Page, name: string | RegExp): Locator => page.getByRole('button', { name, exact: typeof name === 'string' });
const row = (page: Page, name: string): Locator => page.getByRole('treeitem').filter({ has: page.getByText(name, { exact: true }) });
const people = async (page: Page): Promise<Record<string, number>> => {
  const { groups } = (await (await page.request.get('/api/v1/groups')).json()) as { groups: { name: string; people: number }[] };
  return Object.fromEntries(groups.map((group) => [group.name, group.people]));
};

test('a station with four crews, three leaders and 40 people, two of them in two crews, in at most 25 acts', async ({ page }) => {
  const trouble = complaints(page);
  await signIn(page, 'mirela');
  await expect(row(page, 'Outer Skerries')).toBeVisible();
  const hand = new Hand();
  const crews = ['Bow crew', 'Stern crew', 'Rope crew', 'Lamp crew'];
  const names = Array.from(
    { length: 40 },
    (_, index) => `Learner ${String.fromCharCode(65 + (index % 26))}${index} crew${index}@gannetlight.example`,
  );
  await hand.click(row(page, 'Outer Skerries'));
  await hand.click(button(page, 'Make groups'));
  await hand.type(
    page.getByLabel('One group per line'),
    `Gannet light led by Ada Lind ada@gannetlight.example, Tuva Moe tuva@gannetlight.example\n  Bow crew led by Ravi Sen ravi@gannetlight.example\n  Stern crew\n  Rope crew\n  Lamp crew`,
  );
  await hand.click(button(page, 'Make 5 groups'));
  await expect(page.getByRole('heading', { name: 'Gannet light', level: 1 })).toBeVisible();
  for (const [index, crew] of crews.entries()) {
    await hand.click(row(page, crew));
    await hand.click(button(page, 'Add people'));
    await hand.click(button(page, 'Type or paste'));
    // The last crew takes in two of the first one too: they are known by their address.
    const lines = names.slice(index * 10, index * 10 + 10).concat(index === 3 ? names.slice(0, 2) : []);
    await hand.type(page.getByLabel('Names and addresses, one person per line'), lines.join('\n'));
    await expect(page.getByRole('region', { name: 'What this would do' }).getByText(/12 join|10 join/u)).toBeVisible();
    await hand.click(page.getByRole('region', { name: 'What this would do' }).getByRole('button', { name: 'Add people' }));
    await expect(page.getByText(`Added to ${crew}.`)).toBeVisible();
  }
  expect(hand.acts).toBeLessThanOrEqual(25);
  await expect.poll(async () => people(page)).toMatchObject({ 'Gannet light': 40, 'Bow crew': 10, 'Lamp crew': 12 });
  await row(page, 'Gannet light').click();
  await expect(page.getByText('Ada Lind, Tuva Moe')).toBeVisible();
  await expect(page.locator('.figure.on')).toContainText('3 leaders, 2 in several groups');
  expect(trouble).toEqual([]);

  await test.step('40 people are tagged in at most 5 acts', async () => {
    const tagging = new Hand();
    await tagging.click(page.getByLabel('Choose all 40'));
    await expect(page.getByText('40 people chosen')).toBeVisible();
    await tagging.click(button(page, 'Tag'));
    await tagging.type(page.getByLabel('Tags to add'), 'lantern keepers');
    await tagging.press(page.getByLabel('Tags to add'), 'Enter');
    await expect(page.getByText('40 people’s details change')).toBeVisible();
    await tagging.click(page.getByRole('dialog').getByRole('button', { name: 'Tag', exact: true }));
    await expect(page.getByText('Tagged.')).toBeVisible();
    expect(tagging.acts).toBeLessThanOrEqual(5);
    await expect(page.getByRole('cell', { name: 'lantern keepers' }).first()).toBeVisible();
  });

  await test.step('all but one are chosen by the filter, and kept as a list', async () => {
    await page.getByLabel('Choose all 40').click();
    const first = page.getByRole('row').nth(1);
    await first.getByRole('checkbox').click();
    await expect(page.getByText('39 people chosen')).toBeVisible();
    await expect(first.getByRole('checkbox')).not.toBeChecked();
    // Somebody is looked at beside the list: it is still the same one.
    await first.getByRole('button').first().click();
    await expect(page).toHaveURL(/person=\d+/u);
    await expect(page.getByText('39 people chosen')).toBeVisible();
    await button(page, 'Keep as my list').click();
    await page.getByLabel('Name of the list').fill('All but one');
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await expect(page.getByText('Kept in “All but one”.')).toBeVisible();
    await expect(page.getByText('39 people chosen')).toBeHidden();
    const { lists } = (await (await page.request.get('/api/v1/lists')).json()) as { lists: { name: string; people: number }[] };
    expect(lists.find(({ name }) => name === 'All but one')?.people).toBe(39);
  });

  await test.step('a crew is carried elsewhere by keyboard, deleted, and comes back whole', async () => {
    await row(page, 'Lamp crew').focus();
    await page.keyboard.press('m');
    await expect(page.getByText(/^Moving Lamp crew/u)).toBeVisible();
    for (let at = 0; at < 12; at++) {
      await page.keyboard.press('ArrowUp');
      if (await row(page, 'Bow crew').evaluate((node) => node === document.activeElement)) break;
    }
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Move Lamp crew' })).toBeVisible();
    await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
    await expect(page.getByText('Moved.', { exact: true })).toBeVisible();
    expect((await people(page))['Bow crew']).toBe(20);

    await row(page, 'Bow crew').click();
    await button(page, 'This group').click();
    await page.getByText('Delete…').click();
    await page.getByLabel('Delete too').check();
    await expect(page.getByText('2 groups are deleted')).toBeVisible();
    await page.getByRole('dialog').getByRole('button', { name: 'Delete', exact: true }).click();
    await expect(page.getByText('Deleted. You can undo this.')).toBeVisible();
    await expect.poll(async () => (await people(page))['Gannet light']).toBe(20);
    await button(page, 'Undo').click();
    await expect(page.getByText('Undone.')).toBeVisible();
    await expect.poll(async () => people(page)).toMatchObject({ 'Gannet light': 40, 'Bow crew': 20, 'Lamp crew': 12 });
  });
});

test('groups are dragged elsewhere with the mouse, after a look at what it would do', async ({ page }) => {
  await signIn(page, 'mirela');
  await row(page, 'Middle Sound').dragTo(row(page, 'Outer Skerries'));
  await expect(page.getByRole('heading', { name: 'Move Middle Sound' })).toBeVisible();
  await expect(page.getByRole('dialog').getByText('groups move', { exact: false })).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Discard' }).click();
});

test('the head of one branch searches, filters, picks, exports and guesses, and finds nobody of another', async ({ page, browser }) => {
  const admin = await (await browser.newContext()).newPage();
  await signIn(admin, 'mirela');
  const { groups } = (await (await admin.request.get('/api/v1/groups')).json()) as {
    groups: { id: number; name: string; parentId: number | null }[];
  };
  const outside = groups.find(({ name }) => name === 'Middle Sound')?.id ?? 0;
  const everybody = (await (await admin.request.get(`/api/v1/groups/${outside}/people?limit=200`)).json()) as {
    people: { id: number; givenName: string; familyName: string; email: string | null }[];
  };
  await signIn(page, 'ottoline');
  const own = new Set(((await (await page.request.get('/api/v1/groups/3/people/ids')).json()) as { ids: number[] }).ids);
  const strangers = everybody.people.filter(({ id, email }) => !own.has(id) && email !== null).slice(0, 6);
  expect(strangers.length).toBe(6);

  await expect(page.getByRole('treeitem').first()).toContainText('Gullhaven');
  await page.getByRole('textbox', { name: 'Narrow the tree' }).fill('Middle');
  await expect(page.getByText('No groups match.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Narrow the tree' }).fill('');
  // By address, since somebody of the own branch may have the same name.
  for (const { email } of strangers) {
    await page.keyboard.press('Escape');
    await button(page, /Find anything/u).click();
    await page.getByRole('combobox', { name: 'Find anything' }).fill(email ?? '');
    await expect(page.getByText(`No match for “${email ?? ''}”.`)).toBeVisible();
  }
  await page.keyboard.press('Escape');
  const [stranger] = strangers;
  const address = stranger?.email ?? '';
  await page.getByRole('textbox', { name: 'Search these people' }).fill(address);
  await expect(page.getByText('Nobody matches.', { exact: false })).toBeVisible();
  await button(page, 'Add people').click();
  await page.getByLabel('Find somebody by name').fill(address);
  await page.waitForTimeout(600);
  await expect(page.locator('.offered button')).toHaveCount(0);

  const file = await (await page.request.get('/api/v1/groups/3/people.csv')).text();
  const log = await (await page.request.get('/api/v1/changes')).text();
  for (const each of strangers) expect(file + log).not.toContain(each.email);
  for (const guess of [
    `/api/v1/people/${stranger?.id ?? 0}`,
    `/api/v1/people/${stranger?.id ?? 0}/hanging`,
    `/api/v1/people/${stranger?.id ?? 0}/export`,
    `/api/v1/groups/${outside}`,
    `/api/v1/groups/${outside}/people`,
    `/api/v1/groups/${outside}/tags`,
    `/api/v1/groups/3/people?counted=nowhere`,
    `/api/v1/changes?personId=${stranger?.id ?? 0}`,
    `/api/v1/changes?groupId=${outside}`,
  ])
    expect([guess, (await page.request.get(guess)).status()]).toEqual([guess, 404]);
  await page.goto(`/groups/${outside}`);
  await expect(page.getByText('There is nothing at this address, or you may not see it.')).toBeVisible();
});

test('two people at the same time: each sees the other’s change at once, a conflict is explained, nothing is lost', async ({
  page,
  browser,
}) => {
  const other = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signIn(page, 'mirela');
  await signIn(other, 'ottoline');
  await page.goto('/groups/3');
  await expect(row(page, 'Tower watch')).toBeVisible();
  await expect(row(other, 'Tower watch')).toBeVisible();

  await button(other, 'Make groups').click();
  await other.getByLabel('One group per line').fill('Kite crew');
  await button(other, 'Make 1 group').click();
  await expect(row(page, 'Kite crew')).toBeVisible();

  // Both are about to delete or fill the same group: the second is told what has changed, and nothing is half done.
  await row(page, 'Kite crew').click();
  await button(page, 'This group').click();
  await page.getByText('Delete…').click();
  await expect(page.getByRole('dialog').getByText('1 group is deleted')).toBeVisible();
  await expect(other.getByRole('heading', { name: 'Kite crew', level: 1 })).toBeVisible();
  await button(other, 'Add people').click();
  await other.getByLabel('Find somebody by name').fill('a');
  await other.locator('.offered button').first().click();
  await other.getByRole('region', { name: 'What this would do' }).getByRole('button', { name: 'Add people' }).click();
  await expect(other.getByText('Added to Kite crew.')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByText('Somebody changed something meanwhile.', { exact: false })).toBeVisible();
  await expect(page.getByRole('dialog').getByText('leaves', { exact: false })).toBeVisible();
  expect((await people(page))['Kite crew']).toBe(1);
});

test('an empty name, a taken name: said at once, nothing made; a new leader follows the letter', async ({ page, browser }) => {
  await signIn(page, 'mirela');
  await page.goto('/groups/3');
  await button(page, 'Make groups').click();
  await page.getByLabel('One group per line').fill('Cadets');
  await expect(page.getByText('Another group beside it has this name.')).toBeVisible();
  await expect(button(page, 'Make 1 group')).toBeDisabled();
  await button(page, 'Discard').click();

  await button(page, 'Change').click();
  await page.getByLabel('A name, or a name and an address').fill('Runa Dahl runa@dahl.example');
  await button(page, 'Invite runa@dahl.example').click();
  await button(page, 'Add leader').click();
  await expect(page.getByText('Runa Dahl', { exact: true })).toBeVisible();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto('/post');
  await phone
    .getByRole('link', { name: /\/enter#/u })
    .first()
    .click();
  await expect(phone.getByRole('heading', { name: 'Hello Runa Dahl' })).toBeVisible();
  await phone.getByLabel('Choose a password for the next time').fill('a-password-of-her-own');
  await button(phone, 'Sign in').click();
  await expect(phone.getByRole('heading', { name: 'Gullhaven', level: 1 })).toBeVisible();
});

test('an administrator checks what a leader sees: only that, nothing can be changed, and back', async ({ page }) => {
  await signIn(page, 'mirela');
  await page.goto('/groups/3?person=2');
  await button(page, 'Actions').click();
  await page.getByText('Check what they see').click();
  await expect(page.getByText('Viewing as Ottoline Brandt. You cannot change anything.')).toBeVisible();
  await expect(page.getByRole('treeitem').first()).toContainText('Gullhaven');
  await expect(row(page, 'North Reach')).toHaveCount(0);
  await button(page, 'Make groups').click();
  await page.getByLabel('One group per line').fill('Not made');
  await button(page, 'Make 1 group').click();
  await expect(page.getByText('You are viewing as somebody else.', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Stop viewing' }).click();
  await expect(row(page, 'North Reach')).toBeVisible();
});
