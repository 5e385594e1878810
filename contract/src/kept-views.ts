import { z } from 'zod';
import { filter } from './filters.ts';
import { countedOn } from './progress-shapes.ts';
import { learnerSort, mostLevels, rowKinds, scoreKinds, sortedBy } from './report-query.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, shortText, yesNo } from './shapes.ts';

/** Views of progress that can be kept; those that can be shared show no more than a table. */
export const viewNames = ['groups', 'learners', 'course', 'beside', 'handed-in', 'skills', 'certificates'] as const;
export const sharedViewNames = ['groups', 'learners', 'course', 'beside'] as const;
/** Views without names of learners. */
export const namelessViews: readonly (typeof sharedViewNames)[number][] = ['groups'];

const looks = {
  subgroups: yesNo,
  filter,
  courseId: id.nullable(),
  /** Groups that are compared. */
  groups: z.array(id).max(6),
  sort: learnerSort,
  /** What the rows of the report by group are. */
  rows: z.enum(rowKinds).default('groups'),
  scores: z.enum(scoreKinds).default('mean'),
  /** What the rows by group are sorted by, which courses are left out of them, how many levels there are (0: as many as fit), and whose
   * subgroups are unfolded besides. */
  by: sortedBy,
  without: z.array(id).max(500).default([]),
  levels: z.number().int().min(0).max(mostLevels).default(0),
  unfold: z.array(id).max(500).default([]),
  /** On which units groups side by side are compared. */
  count: countedOn,
  /** The past day as whose end it is told, and the earlier one it is compared with; null: today, and none. */
  day: day.nullable().default(null),
  from: day.nullable().default(null),
};
/** What a screen of progress shows, without its scope. */
export const shownView = z.strictObject({ view: z.enum(viewNames), ...looks });
export type ShownView = z.output<typeof shownView>;
/** Where one begins: the groups, nobody left out, in the order of their names, today. */
export const plainView: ShownView = shownView.parse({
  view: 'groups',
  subgroups: 'yes',
  filter: [],
  courseId: null,
  groups: [],
  sort: 'name',
});

const keptView = z.object({
  id,
  name: z.string(),
  group: named,
  shown: shownView,
  forLeaders: z.boolean(),
  isMine: z.boolean(),
  isStart: z.boolean(),
  /** It shows how things stood at that day; null: how they stand. */
  frozenDay: day.nullable(),
});
export type KeptView = z.output<typeof keptView>;

const sharedView = z.object({
  id,
  title: z.string(),
  group: named,
  view: z.enum(sharedViewNames),
  withNames: z.boolean(),
  frozen: z.boolean(),
  lastDay: day,
  madeAt: moment,
  opened: z.number().int(),
  openedAt: moment.nullable(),
  /** `over`: its last day is past, or its maker may not share it any more. */
  state: z.enum(['open', 'withdrawn', 'over']),
});
export type SharedView = z.output<typeof sharedView>;

/** A leader who can get a view by letter. */
const letterReader = z.object({
  id,
  name: z.string(),
  /** Where they lead. */
  group: z.string(),
  /** Letters go to confirmed addresses only. */
  hasAddress: z.boolean(),
});
export type LetterReader = z.output<typeof letterReader>;

const viewLetter = z.object({
  id,
  every: z.enum(['week', 'month']),
  readers: z.array(id),
  nextDay: day,
  openedAt: moment.nullable(),
  /** Nobody opened it for three months. */
  isStopped: z.boolean(),
});
export type ViewLetter = z.output<typeof viewLetter>;

const viewParams = z.object({ viewId: idInPath });
const cell = z.union([z.string(), z.number()]).nullable();

export const keptViewRoutes = defineRoutes({
  keptViews: {
    method: 'GET',
    path: '/api/v1/kept-views',
    room: 'progress',
    who: 'leader',
    summary: 'Views that one has kept, and those that were kept for the leaders of a branch one leads in',
    response: z.object({ views: z.array(keptView) }),
  },
  keepView: {
    method: 'POST',
    path: '/api/v1/groups/:groupId/kept-views',
    room: 'progress',
    who: 'leader',
    once: true,
    summary: 'Keep what a screen shows under a name; one of the same name is replaced',
    params: groupParams,
    body: z
      .strictObject({
        name: shortText,
        forLeaders: z.boolean(),
        shown: shownView,
        /** Keep its figures as they stand now, for oneself alone. */
        frozen: z.boolean().default(false),
      })
      .refine(({ frozen, forLeaders, shown }) => !frozen || (!forLeaders && namelessViews.some((name) => name === shown.view)), {
        message: 'What is frozen holds no names, and is for oneself',
      }),
    response: z.object({ id }),
  },
  keptTable: {
    method: 'GET',
    path: '/api/v1/kept-views/:viewId/table',
    room: 'progress',
    who: 'leader',
    summary: 'The figures of a view that was kept as they stood',
    params: viewParams,
    response: z.object({
      title: z.string(),
      group: z.string(),
      day,
      says: z.number().int(),
      head: z.array(z.string()),
      lines: z.array(z.array(cell)),
    }),
  },
  dropKeptView: {
    method: 'DELETE',
    path: '/api/v1/kept-views/:viewId',
    room: 'progress',
    who: 'leader',
    once: true,
    summary: 'Forget a view that one has kept',
    params: viewParams,
    response: 'nothing',
  },
  viewLetter: {
    method: 'GET',
    path: '/api/v1/kept-views/:viewId/letter',
    room: 'progress',
    who: 'leader',
    summary: 'To whom a view of one’s own goes by letter, and to whom it may',
    params: viewParams,
    response: z.object({ letter: viewLetter.nullable(), leaders: z.array(letterReader) }),
  },
  sendViewByLetter: {
    method: 'PUT',
    path: '/api/v1/kept-views/:viewId/letter',
    room: 'progress',
    who: 'leader',
    summary: 'Send a view by letter every week or month, to each leader with the figures of their own branch',
    params: viewParams,
    body: z.strictObject({ every: z.enum(['week', 'month']), readers: z.array(id).min(1).max(200) }),
    response: 'nothing',
  },
  endViewLetter: {
    method: 'DELETE',
    path: '/api/v1/kept-views/:viewId/letter',
    room: 'progress',
    who: 'leader',
    once: true,
    summary: 'Send a view by letter no more',
    params: viewParams,
    response: 'nothing',
  },
  openReportLetter: {
    method: 'POST',
    path: '/api/v1/my/report-letters/:letterId',
    room: 'progress',
    who: 'leader',
    summary: 'Follow the link of a letter: the view, in the reader’s own branch',
    params: z.object({ letterId: idInPath }),
    response: keptView,
  },
  startWithView: {
    method: 'PUT',
    path: '/api/v1/my/start',
    room: 'progress',
    who: 'leader',
    summary: 'Begin with a kept view after signing in; null: with one’s groups',
    body: z.strictObject({ viewId: id.nullable() }),
    response: 'nothing',
  },
  sharedViews: {
    method: 'GET',
    path: '/api/v1/shared-views',
    room: 'progress',
    who: 'leader',
    summary: 'Links that one has made, newest first; an administrator reads all',
    response: z.object({ views: z.array(sharedView) }),
  },
  shareView: {
    method: 'POST',
    path: '/api/v1/groups/:groupId/shared-views',
    room: 'progress',
    who: 'leader',
    summary: 'Make a link to one view, for people without an account. What is frozen holds no names',
    params: groupParams,
    body: z
      .strictObject({
        title: shortText,
        shown: shownView.extend({ view: z.enum(sharedViewNames) }),
        withNames: z.boolean(),
        frozen: z.boolean(),
        lastDay: day,
        /** The filter in words, as its maker reads it. */
        says: z.array(z.string().max(300)).max(20),
      })
      .refine(({ withNames, frozen }) => !(withNames && frozen), { message: 'What is frozen holds no names' })
      .refine(({ withNames, shown }) => withNames || namelessViews.includes(shown.view), { message: 'This view has names' }),
    response: z.object({ id, key: z.string() }),
  },
  endSharedView: {
    method: 'DELETE',
    path: '/api/v1/shared-views/:viewId',
    room: 'progress',
    who: 'leader',
    once: true,
    summary: 'Withdraw a link',
    params: viewParams,
    response: 'nothing',
  },
  openSharedView: {
    method: 'POST',
    path: '/api/v1/shared',
    room: 'progress',
    who: 'anyone',
    summary: 'What a link shows. The key goes in the body, so that no log holds it',
    body: z.strictObject({ key: z.string().min(20).max(60) }),
    response: z.object({
      title: z.string(),
      organisation: z.string(),
      group: z.string(),
      says: z.array(z.string()),
      /** Of which day it speaks. */
      day,
      frozen: z.boolean(),
      lastDay: day,
      /** Small groups stand together, or names that are hidden are left out. */
      isNarrowed: z.boolean(),
      head: z.array(z.string()),
      lines: z.array(z.array(cell)),
    }),
  },
});
