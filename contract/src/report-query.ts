import { learnerSortText, sortText } from '@gate-roster/core';
import { z } from 'zod';
import { filterInAddress } from './filters.ts';
import { day, numberInAddress, scopeQuery } from './shapes.ts';

/** A scope, a filter, and the past day as whose end it is told; left out: today. */
export const reportQuery = scopeQuery.extend({ filter: filterInAddress, day: day.optional() });

/** What the rows of the report are: groups, or those who have a tag, are led by somebody, or came into the scope in a month. */
export const rowKinds = ['groups', 'tags', 'leaders', 'months'] as const;
export type RowKind = (typeof rowKinds)[number];
/** What scores of a row and a course are summed up as. */
export const scoreKinds = ['mean', 'median'] as const;
export type ScoreKind = (typeof scoreKinds)[number];
/** Levels of subgroups that can be asked for at once. */
export const mostLevels = 3;
/** Numbers with commas between them. */
const idList = z
  .string()
  .max(5000)
  .regex(/^([1-9]\d*(,[1-9]\d*)*)?$/u)
  .default('')
  .transform((text) => text.split(',').filter(Boolean).map(Number));
/** What the rows of a report are sorted by (`readSort` of core). */
export const sortedBy = z.string().regex(sortText).default('');
/** What learners are sorted by (`readLearnerSort` of core). */
export const learnerSort = z.string().regex(learnerSortText).default('name');
export const rowsQuery = reportQuery.extend({
  rows: z.enum(rowKinds).default('groups'),
  scores: z.enum(scoreKinds).default('mean'),
  /** So many levels of subgroups are rows; 0: as many as make a table of a moderate size. */
  levels: numberInAddress(0, mostLevels).default(0),
  /** Groups whose subgroups are rows too, at any depth. */
  unfold: idList,
  /** Courses that are left out of the table. */
  without: idList,
  by: sortedBy,
});
