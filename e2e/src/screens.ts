import { expect } from '@playwright/test';
import path from 'node:path';
import { groupScreens, type Screen } from './group-screens.ts';
import { courseScreens } from './course-screens.ts';
import { progressScreens } from './progress-screens.ts';
import { sample } from './people.ts';

/** A panel or dialog is looked at by itself: what lies under it is looked at as a screen of its own. */
export const screens: Screen[] = [
  ...groupScreens,
  ...progressScreens,
  ...courseScreens,
  { name: 'sign in', as: null, at: '/sign-in', ready: (page) => expect(page.getByLabel('Password')).toBeVisible() },
  { name: 'group', as: 'ottoline', at: '/groups/3', ready: (page) => expect(page.getByRole('row').nth(5)).toBeVisible() },
  {
    name: 'person',
    as: 'ottoline',
    at: '/groups/3?person=20',
    ready: (page) => expect(page.getByRole('heading', { name: 'Courses' })).toBeVisible(),
  },
  {
    name: 'side by side',
    as: 'ottoline',
    at: '/progress/3?view=beside',
    ready: (page) => expect(page.getByRole('heading', { name: 'Where they are furthest apart' })).toBeVisible(),
  },
  {
    name: 'automatic rules',
    as: 'ottoline',
    at: '/access/3/rules',
    ready: (page) => expect(page.getByRole('heading', { name: 'What it did last' })).toBeVisible(),
  },
  {
    name: 'automatic rule, written',
    as: 'ottoline',
    at: '/access/3/rules/1?write=change',
    ready: (page) => expect(page.getByText(/It happened to/u)).toBeVisible(),
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
    name: 'paying to join',
    phone: true,
    as: null,
    at: '/join/paying',
    ready: (page) => expect(page.getByRole('heading', { name: 'Nearly in' })).toBeVisible(),
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
    name: 'kept views',
    as: 'ottoline',
    at: '/progress/3',
    ready: async (page) => {
      await page.getByRole('button', { name: /^Kept views/u }).click();
      await page.getByRole('button', { name: 'Share a link…', exact: true }).click();
      await expect(page.getByRole('textbox', { name: 'Works until' })).toBeVisible();
    },
  },
  {
    name: 'a learner in the order of time',
    as: 'ottoline',
    at: '/groups/3?person=18',
    ready: async (page) => {
      await page.getByRole('link', { name: 'Everything in the order of time' }).click();
      await expect(page.getByText('Done with Throw-line basics, score 92')).toBeVisible();
    },
  },
  {
    name: 'orders of seats',
    as: 'mirela',
    at: '/seats/38?view=orders&orders=all',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Credit…' }).first().click();
      await expect(page.getByLabel('Seats to take back')).toBeVisible();
    },
  },
  {
    name: 'ledger of seats',
    as: 'mirela',
    at: '/seats/38?view=ledger',
    ready: (page) => expect(page.getByRole('row').nth(5)).toBeVisible(),
  },
  {
    name: 'seats',
    as: 'mirela',
    at: '/seats/38?licence=1',
    ready: async (page) => {
      await expect(page.getByRole('row').nth(3)).toBeVisible();
      await page.getByRole('button', { name: 'Add a licence' }).click();
      await expect(page.getByLabel('Pays for')).toBeVisible();
    },
  },
  { name: 'progress', as: 'ottoline', at: '/progress/3', ready: (page) => expect(page.locator('.chart svg')).toHaveCount(2) },
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
  {
    name: 'messages',
    as: 'mirela',
    at: '/messages/3',
    ready: async (page) => {
      await page.getByRole('button', { name: /^Which evening/u }).click();
      await page.getByRole('button', { name: 'Tuesday' }).click();
      await expect(page.getByRole('heading', { level: 3, name: 'Tuesday' })).toBeVisible();
    },
  },
  {
    name: 'writing a message',
    as: 'mirela',
    at: '/messages/3?write=yes',
    ready: async (page) => {
      await page.getByLabel('Title').fill('Boat check');
      await expect(page.getByText(/people see it on their page/u)).toBeVisible();
    },
  },
  {
    name: 'my messages',
    phone: true,
    as: 'bao',
    at: '/my-messages',
    ready: (page) => expect(page.getByRole('heading', { name: /Wind warning/u })).toBeVisible(),
  },
  {
    name: 'access on a past day',
    as: 'mirela',
    at: '/access/3?day=2026-03-01',
    ready: (page) => expect(page.getByRole('button', { name: 'Back to today' })).toBeVisible(),
  },
  {
    name: 'who could get in',
    as: 'mirela',
    at: '/access/3/courses/2',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Who could get in' }).click();
      await expect(page.getByRole('link', { name: 'Save as CSV' })).toBeVisible();
    },
  },
  {
    name: 'new client',
    within: 'aside.panel',
    as: 'mirela',
    at: '/groups/3',
    ready: async (page) => {
      await page.getByRole('button', { name: 'This group' }).click();
      await page.getByText('New client…').click();
      await page.getByRole('complementary').last().getByLabel('Name', { exact: true }).fill('Lantern Ferries');
      await expect(page.getByText('1 group is made')).toBeVisible();
    },
  },
  {
    name: 'handed in',
    as: 'mirela',
    at: '/progress/32?view=handed-in',
    ready: (page) => expect(page.getByText(/^Taken by you until/u)).toBeVisible(),
  },
  {
    name: 'skills',
    as: 'mirela',
    at: '/progress/3?view=skills',
    ready: async (page) => {
      await page.getByRole('button', { name: 'judging wind' }).click();
      await expect(page.getByText(/confirmed by/u).first()).toBeVisible();
    },
  },
  {
    name: 'certificates',
    as: 'mirela',
    at: '/progress/3?view=certificates&certificate=1',
    ready: (page) =>
      expect(
        page
          .getByRole('listitem')
          .filter({ hasText: /score \d+/u })
          .first(),
      ).toBeVisible(),
  },
  {
    name: 'check a certificate',
    as: null,
    at: '/check',
    ready: (page) => expect(page.getByLabel('Number of the certificate')).toBeVisible(),
  },
  {
    name: 'my work',
    phone: true,
    as: 'bao',
    at: '/my-work/5',
    ready: (page) => expect(page.getByRole('heading', { level: 1, name: 'Boat handling 1' })).toBeVisible(),
  },
  { name: 'log', as: 'mirela', at: '/log', ready: (page) => expect(page.getByRole('heading', { name: 'Log' })).toBeVisible() },
  {
    name: 'settings',
    as: 'mirela',
    at: '/settings',
    ready: (page) => expect(page.getByRole('textbox', { name: 'New password' })).toBeVisible(),
  },
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
