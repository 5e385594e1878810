import { z } from 'zod';
import { filterPart } from './filters.ts';
import { day, id, moment, named, status, tally, howFar } from './shapes.ts';

/** What may be new to a leader who comes back. */
export const newsKinds = ['finished', 'overdue', 'stuck', 'joined'] as const;
export type NewsKind = (typeof newsKinds)[number];
/** Days without work after which somebody in the middle of a course is said to be stuck. */
export const stuckDays = 14;

/** What can be different in a scope from one day to another. */
export const betweenKinds = ['came', 'left', 'began', 'finished', 'overdue'] as const;
export type BetweenKind = (typeof betweenKinds)[number];

/** Groups side by side on all that each has open, or on the units that are open to all of them, since parts differ. */
export const countedOn = z.enum(['own', 'common']).default('own');

export const progressReport = z.object({
  /** Counted learners who fit the filter, of how many. */
  learners: z.number().int(),
  ofAll: z.number().int(),
  notCounted: z.number().int(),
  total: tally,
  courses: z.array(named),
  rows: z.array(
    z.object({
      id,
      parentId: id.nullable(),
      /** Of a month its number, as `2026-03`. */
      name: z.string(),
      /** Of rows that are no groups: the part of a filter that chooses the same learners. */
      part: filterPart.nullable(),
      depth: z.number().int(),
      hasSubgroups: z.boolean(),
      learners: z.number().int(),
      total: tally,
      cells: z.array(tally.nullable()),
      /** Where asked for: of all courses, and in the order of the cells. */
      medians: z.object({ total: z.number().nullable(), cells: z.array(z.number().nullable()) }).nullable(),
    }),
  ),
  /** How many enrolments have a score of each ten, the lowest first. */
  tens: z.array(z.number().int()),
  /** Enrolments done per week, the oldest first. */
  weeks: z.array(z.object({ monday: day, done: z.number().int() })),
});
export type ProgressReport = z.output<typeof progressReport>;

/** Quartiles of scores, over so many enrolments; null: nobody has one. */
const scores = z.object({ low: z.number(), median: z.number(), high: z.number(), of: z.number().int() }).nullable();
const besideRow = z.object({
  id,
  name: z.string(),
  /** Counted learners who fit the filter, of how many. */
  learners: z.number().int(),
  ofAll: z.number().int(),
  total: tally,
  scores,
  cells: z.array(tally.nullable()),
});
export const sideBySide = z.object({ courses: z.array(named), rows: z.array(besideRow), scope: besideRow });
export type SideBySide = z.output<typeof sideBySide>;

/** A learner and one course: what a cell of the list shows. */
export const learnerCell = z.object({
  courseId: id,
  /** Open today: with none, it is shown for the work that was done. */
  open: z.boolean(),
  ...howFar,
  units: z.number().int(),
  unitsDone: z.number().int(),
  inLine: z.number().int().nullable(),
});
export type LearnerCell = z.output<typeof learnerCell>;

export const learnerRow = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  groups: z.array(named),
  activeAt: moment.nullable(),
  /** The next day on which something is due, today or later. */
  nextDue: day.nullable(),
  cells: z.array(learnerCell),
});
export type LearnerRow = z.output<typeof learnerRow>;

const personInside = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  status,
  exempt: z.boolean(),
  openUnits: z.array(id),
  /** The first activity of the open units that is not finished. */
  at: id.nullable(),
  /** Under way, and nothing done for 14 days. */
  hasStopped: z.boolean(),
  results: z.array(z.object({ activityId: id, finished: z.boolean(), score: z.number().nullable(), lastDay: day })),
});
export type PersonInside = z.output<typeof personInside>;

export const insideCourse = z.object({
  course: named,
  /** Courses that are open in the scope, to go from one to the other. */
  courses: z.array(named),
  units: z.array(named.extend({ activities: z.array(named.extend({ scored: z.boolean() })) })),
  /** Of those who fit the filter and have the course. */
  figures: z.object({ all: z.number().int(), done: z.number().int(), underWay: z.number().int(), exempt: z.number().int() }),
  learners: z.number().int(),
  ofAll: z.number().int(),
  notCounted: z.number().int(),
  /** How many have stopped at an activity. */
  stops: z.array(z.object({ activityId: id, people: z.number().int() })),
  /** Days from finishing a unit to finishing the next: quartiles over those who finished both. */
  days: z.array(z.object({ unitId: id, people: z.number().int(), low: z.number(), median: z.number(), high: z.number() })),
  people: z.array(personInside),
  next: z.string().nullable(),
});
export type InsideCourse = z.output<typeof insideCourse>;

/** The branch above a scope, to hold a trend against; null: the reader does not see its progress, or there is none. */
export const branchAbove = z
  .object({
    id,
    name: z.string(),
    /** Those that are not exempt. */
    enrolments: z.number().int(),
    weeks: z.array(z.object({ monday: day, done: z.number().int() })),
  })
  .nullable();
export type BranchAbove = z.output<typeof branchAbove>;
