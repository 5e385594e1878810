import type { FilterNames } from '@gate-roster/contract';
import type { AccessState, AddressState, CameBy, FilterPart, Lateness, PersonStateName, SeatState, Status } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';
import { many, some } from './grammar.ts';

/** What the chips may have to name. */
export type ChipNames = FilterNames & { groups: ReadonlyMap<number, string> };

const states: Record<PersonStateName, string> = { active: 'Active', paused: 'Paused', asking: 'Asking to join', ended: 'Ended' };
const addresses: Record<AddressState, string> = {
  none: 'No address',
  unconfirmed: 'Address not confirmed',
  confirmed: 'Address confirmed',
  'does not work': 'Address does not work',
};
const statuses: Record<Status, string> = { 'not begun': 'Not begun', 'under way': 'Under way', done: 'Done' };
const latenesses: Record<Lateness, string> = { overdue: 'Overdue', 'due soon': 'Due soon', 'on time': 'On time', 'done late': 'Done late' };
const access: Record<AccessState, string> = { open: 'Open', 'opens later': 'Opens later', blocked: 'Blocked', 'not open': 'Not open' };
const seats: Record<SeatState, string> = { has: 'Has a seat', 'in line': 'In line for a seat', none: 'No seat' };
const ways: Record<CameBy, string> = {
  file: 'by file',
  hand: 'by hand',
  'join code': 'by join code',
  invitation: 'by invitation',
  rule: 'by a rule',
  feed: 'by a feed',
  undo: 'by undo',
};
const parts: Record<FilterPart['part'], string> = {
  lateness: 'Overdue, due soon or late',
  status: 'Course status',
  course: 'Course or course set',
  access: 'Access',
  tags: 'Tags',
  groups: 'Groups',
  active: 'Last active',
  due: 'Due within',
  done: 'Done between',
  worked: 'Worked on between',
  score: 'Score',
  exempt: 'Exempt',
  seat: 'Seat',
  'signed in': 'Signed in',
  address: 'Address',
  state: 'State of the account',
  came: 'How and when they joined',
  'led by': 'Led by',
  skill: 'Skill shown',
  list: 'My list',
  'several groups': 'In several groups',
  'young learner': 'Young learner',
  'name hidden': 'Name hidden',
  people: 'Chosen people',
  words: 'Words',
};

const either = (names: readonly string[]): string =>
  names.length > 3 ? `${names.slice(0, 2).join(', ')} or ${names.length - 2} more` : names.join(' or ');
const nameOf = (list: readonly { id: number; name: string }[], gone: string) => (id: number) =>
  list.find((each) => each.id === id)?.name ?? gone;
const between = (from: string | null, until: string | null): string =>
  from && until
    ? ` from ${showDay(from)} to ${showDay(until)}`
    : from
      ? ` since ${showDay(from)}`
      : until
        ? ` until ${showDay(until)}`
        : '';

/** A part as its chip says it. */
function chip(part: FilterPart, names: ChipNames): string {
  switch (part.part) {
    case 'words':
      return `“${part.text}”`;
    case 'people':
      return `${part.how === 'only' ? 'Only' : 'Without'} ${some(part.ids.length, 'chosen person', 'chosen people')}`;
    case 'groups': {
      const where = either(part.ids.map((id) => names.groups.get(id) ?? 'a group that is gone'));
      return `${part.how === 'in' ? 'In' : 'Not in'} ${where}${part.withSubgroups ? '' : ' itself'}`;
    }
    case 'tags': {
      const tags = part.ids.map(nameOf(names.tags, 'a tag that is gone'));
      return part.how === 'all' ? `Tagged ${tags.join(' and ')}` : `${part.how === 'any' ? 'Tagged' : 'Not tagged'} ${either(tags)}`;
    }
    case 'skill':
      return `${part.how === 'shown' ? 'Has shown' : 'Has not shown'} ${either(part.ids.map(nameOf(names.skills, 'a skill that is gone')))}`;
    case 'list':
      return `${part.how === 'in' ? 'On' : 'Not on'} ${nameOf(names.lists, 'a list that is gone')(part.id)}`;
    case 'state':
      return either(part.of.map((state) => states[state]));
    case 'came':
      return `Joined${part.by.length > 0 ? ` ${either(part.by.map((way) => ways[way]))}` : ''}${between(part.from, part.until)}`;
    case 'active':
      return part.how === 'never'
        ? 'Never active'
        : part.how === 'within'
          ? `Active in the last ${some(part.days, 'day', 'days')}`
          : `Not active for ${some(part.days, 'day', 'days')}`;
    case 'led by':
      return `Led by ${either(part.ids.map(nameOf(names.leaders, 'somebody who leads nothing here')))}`;
    case 'signed in':
      return part.is ? 'Has signed in' : 'Never signed in';
    case 'name hidden':
      return part.is ? 'Name hidden' : 'Name not hidden';
    case 'several groups':
      return part.is ? 'In several groups' : 'In one group only';
    case 'young learner':
      return part.is ? 'Young learners' : 'No young learners';
    case 'address':
      return either(part.of.map((state) => addresses[state]));
    case 'course':
      return either([
        ...part.sets.map(nameOf(names.courseSets, 'a course set that is gone')),
        ...part.courses.map(nameOf(names.courses, 'a course that is gone')),
      ]);
    case 'access':
      return either(part.of.map((state) => access[state]));
    case 'status':
      return either(part.of.map((status) => statuses[status]));
    case 'lateness':
      return either(part.of.map((lateness) => latenesses[lateness]));
    case 'exempt':
      return part.is ? 'Exempt' : 'Not exempt';
    case 'seat':
      return either(part.of.map((seat) => seats[seat]));
    case 'score':
      return `Score ${part.from} to ${part.to}`;
    case 'done':
      return `Done${between(part.from, part.until)}`;
    case 'worked':
      return `Worked on${between(part.from, part.until)}`;
    case 'due':
      return part.days === 0 ? 'Due today' : `Due within ${some(part.days, 'day', 'days')}`;
  }
}

export const filters = {
  parts,
  chip,
  choices: { access, status: statuses, lateness: latenesses, seat: seats, address: addresses, state: states },
  label: 'Filters',
  add: 'Add a filter',
  findPart: 'Find a filter',
  aboutPeople: 'People',
  aboutCourses: 'Their courses',
  remove: (text: string) => `Remove filter: ${text}`,
  clear: 'Remove all filters',
  tagHows: { any: 'Has any of', all: 'Has all of', none: 'Has none of' },
  inHows: { in: 'In', 'not in': 'Not in' },
  skillHows: { shown: 'Has shown any of these', 'not shown': 'Has shown none of these' },
  peopleHows: { only: 'Only the chosen people', without: 'Everybody but the chosen people' },
  listHows: { in: 'On the list', 'not in': 'Not on the list' },
  activeHows: { before: 'Not active for', within: 'Active in the last', never: 'Never active' },
  days: 'Days',
  withSubgroups: 'With subgroups',
  from: 'From',
  until: 'Until',
  scoreFrom: 'From score',
  scoreTo: 'To score',
  nameCourse: 'To see who is blocked or has it not open, first add the filter Course or course set.',
  courseSet: 'Course set',
  manageTags: 'Manage tags',
  noLists: 'You have no lists yet. Choose people in a list, and keep them as yours.',
  /** Every figure says of how many it speaks. */
  sentence(learners: number, ofAll: number, noun: 'learner' | 'person' = 'learner'): string {
    const all = noun === 'learner' ? some(ofAll, 'learner', 'learners') : some(ofAll, 'person', 'people');
    if (learners === ofAll) return `${all}.`;
    return `${showNumber(learners)} of ${all}. ${showNumber(ofAll - learners)} ${many(ofAll - learners, 'does', 'do')} not fit the filters.`;
  },
  others: (learners: number, ofAll: number) =>
    `${showNumber(learners)} of ${showNumber(ofAll)} ${many(learners, 'does', 'do')} not fit the filters.`,
  notCounted: (people: number) => `${some(people, 'person is', 'people are')} not counted.`,
  who: 'Who?',
  backToFitting: 'Show those who fit',
  broken: 'This link names a filter that cannot be read. Everybody is shown.',
  dropBroken: 'Remove it',
};
