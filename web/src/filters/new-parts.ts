import { accessStates, asksWhatIsClosed, type FilterPart, isCoursePart } from '@gate-roster/core';

export type PartName = FilterPart['part'];

/** Each part as it is when somebody adds it, in the order in which they are offered. Not yet whole where something has to be named. */
export const newParts: { readonly [Name in PartName]: Extract<FilterPart, { part: Name }> } = {
  lateness: { part: 'lateness', of: ['overdue'] },
  status: { part: 'status', of: [] },
  course: { part: 'course', courses: [], sets: [] },
  access: { part: 'access', of: ['open'] },
  tags: { part: 'tags', how: 'any', ids: [] },
  groups: { part: 'groups', how: 'in', ids: [], withSubgroups: true },
  active: { part: 'active', how: 'before', days: 30 },
  due: { part: 'due', days: 14 },
  done: { part: 'done', from: null, until: null },
  worked: { part: 'worked', from: null, until: null },
  score: { part: 'score', from: 0, to: 60 },
  exempt: { part: 'exempt', is: true },
  seat: { part: 'seat', of: ['in line'] },
  'signed in': { part: 'signed in', is: false },
  address: { part: 'address', of: [] },
  state: { part: 'state', of: [] },
  came: { part: 'came', by: [], from: null, until: null },
  'led by': { part: 'led by', ids: [] },
  list: { part: 'list', how: 'in', id: 0 },
  skill: { part: 'skill', how: 'shown', ids: [] },
  'several groups': { part: 'several groups', is: true },
  'young learner': { part: 'young learner', is: true },
  'name hidden': { part: 'name hidden', is: true },
  people: { part: 'people', how: 'only', ids: [] },
  words: { part: 'words', text: '' },
};

/** What can be chosen where a part is a choice among words. */
export const choicesOf = {
  access: accessStates,
  status: ['not begun', 'under way', 'done'],
  lateness: ['overdue', 'due soon', 'on time', 'done late'],
  seat: ['has', 'in line', 'none'],
  address: ['none', 'unconfirmed', 'confirmed', 'does not work'],
  state: ['active', 'paused', 'asking', 'ended'],
} as const;
export const waysIn = ['file', 'hand', 'join code', 'invitation', 'rule', 'feed'] as const;

/** Does it name all that it has to? Only then it is part of the filter. */
export function isWhole(part: FilterPart): boolean {
  switch (part.part) {
    case 'people':
    case 'groups':
    case 'tags':
    case 'led by':
    case 'skill':
      return part.ids.length > 0;
    case 'list':
      return part.id > 0;
    case 'course':
      return part.courses.length + part.sets.length > 0;
    case 'access':
    case 'status':
    case 'lateness':
    case 'seat':
    case 'address':
    case 'state':
      return part.of.length > 0;
    case 'words':
      return part.text.trim() !== '';
    case 'came':
      return part.by.length > 0 || part.from !== null || part.until !== null;
    default:
      return true;
  }
}

/** Blocked and not open are said of a course that is named: without one these choices go. */
export const inAccord = (filter: readonly FilterPart[]): FilterPart[] =>
  !asksWhatIsClosed(filter) || filter.some(({ part }) => part === 'course')
    ? [...filter]
    : filter
        .map((part) =>
          part.part === 'access' ? { ...part, of: part.of.filter((each) => each === 'open' || each === 'opens later') } : part,
        )
        .filter(isWhole);

/** What can be added; the words are typed in a field of their own, and people are chosen in a list. */
export const offeredParts = (): PartName[] => (Object.keys(newParts) as PartName[]).filter((name) => name !== 'words' && name !== 'people');
export const isAboutCourses = (name: PartName): boolean => isCoursePart(newParts[name]);
