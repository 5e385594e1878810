import { expect } from '@playwright/test';
import type { Screen } from './group-screens.ts';

/** Screens of courses and course sets. */
export const courseScreens: Screen[] = [
  {
    name: 'courses of the platform',
    as: 'mirela',
    at: '/access/1/courses',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Check the platform' }).click();
      await expect(page.getByText('No longer offered', { exact: true })).toBeVisible();
    },
  },
  {
    name: 'course of a branch, changed',
    as: 'ottoline',
    at: '/access/3/courses/15',
    ready: async (page) => {
      await page.getByRole('button', { name: 'Edit course' }).click();
      await expect(page.getByLabel('What to read: Read the slip rules')).toBeVisible();
    },
  },
  {
    name: 'course of a branch, as a learner',
    as: 'bao',
    at: '/my-work/15',
    ready: (page) => expect(page.getByText('One person calls the launch', { exact: false })).toBeVisible(),
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
    name: 'courses',
    as: 'ottoline',
    at: '/access/3/courses',
    ready: (page) => expect(page.getByRole('link', { name: 'VHF radio' })).toBeVisible(),
  },
];
