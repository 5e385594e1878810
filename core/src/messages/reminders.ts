import type { GroupId, Tree } from '../groups/tree.ts';
import type { LetterText } from './letter.ts';

/** When people are reminded; each has its day and its own text. */
export const reminderOccasions = [
  'before due',
  'on due',
  'after due',
  'not begun',
  'membership ends',
  'group ends',
  'seat ends',
  'certificate ends',
] as const;
export type ReminderOccasion = (typeof reminderOccasions)[number];

/** Occasions of a course; the others speak of a place, a seat or a certificate. */
export const courseOccasions: readonly ReminderOccasion[] = ['before due', 'on due', 'after due', 'not begun'];

/** What a reminder's text may name between braces. */
export const reminderFields = ['course', 'group', 'until'] as const;

export const reminderTexts: Record<ReminderOccasion, LetterText> = {
  'before due': {
    subject: '{course} is due on {until}',
    body: '{course} is due on {until}. You find it among your courses. If you need more time, ask your leader.',
  },
  'on due': { subject: '{course} is due on {until}', body: '{course} was to be done by {until}. You can still finish it today.' },
  'after due': {
    subject: '{course} is overdue',
    body: 'The day on which {course} was due has passed. Go on with it soon, or ask your leader for more time.',
  },
  'not begun': { subject: '{course} waits for you', body: 'You have not begun {course} yet. You find it among your courses.' },
  'membership ends': {
    subject: 'Your time in {group} ends on {until}',
    body: 'You are in {group} until {until}. What is open to you only there closes afterwards.',
  },
  'group ends': { subject: '{group} ends on {until}', body: '{group} ends on {until}. What it opens to you closes afterwards.' },
  'seat ends': {
    subject: 'Your seat ends on {until}',
    body: 'The licence that pays for {course} ends on {until}. Finish what you still need before that day.',
  },
  'certificate ends': {
    subject: 'Your certificate ends on {until}',
    body: 'Your certificate for {course} is valid until {until}. Ask your leader how to renew it.',
  },
};

/** What is wrong with a reminder's text before it is kept. */
export function reminderProblems({ subject, body }: LetterText): ('empty' | 'unknown field')[] {
  const isKnown = (field: string): boolean => reminderFields.some((known) => known === field);
  const named = [...`${subject}\n${body}`.matchAll(/\{([^{}\s]+)\}/gu)].map(([, field = '']) => field);
  return [
    ...(subject.trim() === '' || body.trim() === '' ? (['empty'] as const) : []),
    ...(named.every(isKnown) ? [] : (['unknown field'] as const)),
  ];
}

/** What a branch says of an occasion; `days` null: nobody in the branch is reminded of it. */
export interface ReminderSetting {
  groupId: GroupId;
  /** Null: of all courses for which the group says nothing else. */
  courseId: number | null;
  occasion: ReminderOccasion;
  days: number | null;
}

/**
 * The setting that counts in a group: of the nearest group, from itself up, that says anything of the occasion and course; there
 * what is said of the course itself goes before what is said of all.
 */
export function nearestReminder<S extends ReminderSetting>(
  tree: Tree,
  settings: readonly S[],
  { groupId, courseId, occasion }: Pick<ReminderSetting, 'groupId' | 'courseId' | 'occasion'>,
): S | null {
  for (const id of [...tree.path(groupId)].reverse()) {
    const here = settings.filter((each) => each.groupId === id && each.occasion === occasion);
    const found = here.find((each) => courseId !== null && each.courseId === courseId) ?? here.find((each) => each.courseId === null);
    if (found) return found;
  }
  return null;
}

export interface ReminderInGroup<S> {
  groupId: GroupId;
  occasion: ReminderOccasion;
  /** Null: of every course that no setting of the occasion names. */
  courseId: number | null;
  setting: S;
}

/**
 * What counts in each group, in one walk down the tree: a line for each occasion and for each course that any setting of it
 * names. Groups in which nobody is reminded of it have no line.
 */
export function remindersByGroup<S extends ReminderSetting>(tree: Tree, settings: readonly S[]): ReminderInGroup<S>[] {
  const lines: ReminderInGroup<S>[] = [];
  for (const occasion of reminderOccasions) {
    const about = settings.filter((each) => each.occasion === occasion && tree.has(each.groupId));
    const byGroup = new Map<GroupId, S[]>();
    for (const each of about) byGroup.set(each.groupId, [...(byGroup.get(each.groupId) ?? []), each]);
    const courses = [null, ...new Set(about.flatMap(({ courseId }) => courseId ?? []))];
    const walk = (groupId: GroupId, above: ReadonlyMap<number | null, S>): void => {
      const own = byGroup.get(groupId) ?? [];
      const general = own.find(({ courseId }) => courseId === null);
      const here = new Map(above);
      if (general) for (const courseId of courses) here.set(courseId, general);
      for (const each of own) here.set(each.courseId, each);
      for (const [courseId, setting] of here) if (setting.days !== null) lines.push({ groupId, occasion, courseId, setting });
      for (const { id } of tree.children(groupId)) walk(id, here);
    };
    if (about.length > 0) for (const { id } of tree.children(null)) walk(id, new Map());
  }
  return lines;
}
