import { expect } from '@playwright/test';
import type { Screen } from './group-screens.ts';

const daysAgo = (days: number): string => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10);

/** Progress on another day than today, and results that come from files. */
export const progressScreens: Screen[] = [
  {
    name: 'results from a file',
    as: 'mirela',
    at: '/results',
    ready: (page) => expect(page.getByRole('button', { name: /^Take back/u })).toBeVisible(),
  },
  {
    name: 'progress on a past day',
    as: 'ottoline',
    at: `/progress/3?view=learners&day=${daysAgo(30)}&from=${daysAgo(60)}`,
    ready: async (page) => {
      await expect(page.getByRole('row').nth(1)).toBeVisible();
      await expect(page.getByRole('region', { name: 'What changed between two days' })).toBeVisible();
    },
  },
];
