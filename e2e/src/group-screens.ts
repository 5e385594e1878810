import { expect, type Page } from '@playwright/test';

/** What axe looks at: as whom, where, and when it is ready. */
export interface Screen {
  name: string;
  as: string | null;
  at: string;
  ready: (page: Page) => Promise<void>;
  within?: string;
  phone?: boolean;
}

/** What one does to a group on a page of its own, and what is written to groups. */
export const groupScreens: Screen[] = [
  {
    name: 'reminders',
    as: 'ottoline',
    at: '/messages/3/reminders',
    ready: (page) => expect(page.getByText('5 days before')).toBeVisible(),
  },
  {
    name: 'reminder, set',
    as: 'ottoline',
    at: '/messages/3/reminders',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Set… After a course was due' }).click();
      await page.getByLabel('Text of its own').check();
      await expect(page.getByText(/see it on their page/u)).toBeVisible();
    },
  },
  {
    name: 'message, written',
    as: 'ottoline',
    at: '/messages/3?write=yes',
    ready: async (page) => {
      await page.getByLabel('Title').fill('Which boat?');
      await page.locator('.v-select').filter({ hasText: 'What is it?' }).click();
      await page.getByRole('option', { name: 'Question', exact: true }).click();
      await page.getByLabel('Choices, one per line').fill('Tern\nGull');
      await expect(page.getByText(/see it on their page/u)).toBeVisible();
    },
  },
  {
    name: 'going out',
    as: 'ottoline',
    at: '/messages/3/going-out',
    ready: (page) => expect(page.getByRole('row').nth(4)).toBeVisible(),
  },
  {
    name: 'what happened',
    as: 'ottoline',
    at: '/messages/3/happened',
    ready: (page) => expect(page.getByText(/finished/u).first()).toBeVisible(),
  },
  {
    name: 'end of a period',
    as: 'mirela',
    at: '/groups/3/period',
    ready: (page) => expect(page.getByText(/lose a course/u)).toBeVisible(),
  },
  {
    name: 'next period',
    as: 'mirela',
    at: '/groups/3/period?do=next',
    ready: (page) => expect(page.getByRole('combobox', { name: 'Cadets: To' }).first()).toBeVisible(),
  },
  {
    name: 'splits',
    as: 'ottoline',
    at: '/groups/4/splits',
    ready: async (page) => {
      await page.getByRole('button', { name: 'What Pool can do' }).click();
      await expect(page.getByRole('heading', { name: 'What Pool can do' })).toBeVisible();
    },
  },
];
