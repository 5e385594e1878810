import type { Answer, LogEntry, Routes } from '@gate-roster/contract';
import { showDay, showNumber } from '../ui/format.ts';
import { many, some } from './grammar.ts';

type Period = Answer<Routes['period']>;

/** What was done at the end of a period. */
export function periodSentence(
  kind: 'close-period' | 'make-next-period',
  entry: Pick<LogEntry, 'names'>,
  { where, count }: { where: string; count: (key: string) => number },
): string {
  if (kind === 'close-period') return `Closed ${where}${entry.names?.before ? `: its last day is ${showDay(entry.names.before)}` : ''}.`;
  const left = count('left') > 0 ? `; ${some(count('left'), 'person', 'people')} left` : '';
  return `Made ${entry.names?.after ?? ''} from ${where}, with ${some(count('groups'), 'group', 'groups')} and ${some(count('people'), 'person', 'people')}${left}.`;
}

export const periods = {
  title: 'End of a period',
  views: { close: 'Close', next: 'Make the next' },
  viewsLabel: 'Close or make the next',
  closeWhat: 'Each line can be left out. Everything is one change and can be undone until somebody is in the next period.',
  lastDay: 'Last day',
  lastDayHint: 'After it the group and what is below it open nothing.',
  noLastDay: 'Leave as it is',
  codes: (count: number) => `Pause ${some(count, 'join code', 'join codes')}`,
  invitations: (count: number) => `Withdraw ${some(count, 'invitation', 'invitations')}`,
  asking: (count: number) => `Turn away ${some(count, 'person', 'people')} who ${many(count, 'asks', 'ask')} to join`,
  word: 'A word for them (optional)',
  reminders: 'Remind nobody any more',
  rules: (count: number) => `Switch off ${some(count, 'automatic rule', 'automatic rules')}`,
  splits: (count: number) => `End ${some(count, 'split', 'splits')}`,
  seats: ({ used, stayUsed }: Period['seats']) =>
    used === 0
      ? 'No seats are in use here.'
      : `${some(used, 'seat is', 'seats are')} in use here. ${stayUsed === 0 ? 'They come back after the last day.' : `${showNumber(stayUsed)} of them may stay used as their licence says.`}`,
  takeSeats: 'Take those back too',
  takeSeatsHint: 'Once the last day is past.',
  people: (count: number) =>
    count === 0 ? 'Everybody here is in another group too.' : `${some(count, 'person is', 'people are')} in no other group`,
  peopleDo: { stay: 'Leave their accounts as they are', end: 'Let their accounts work until the last day', move: 'Put them into a group' },
  into: 'Group',
  keepReport: 'Keep the report as it stands today',
  keepName: 'Name of the kept report',
  kept: (group: string, day: string) => `${group}, ${showDay(day)}`,
  close: 'Close',
  closed: 'Closed.',
  closedOn: (at: string) => `Closed on ${at}.`,
  canUndo: 'This can be undone from the log until somebody is in the next period.',
  cannotUndo: 'People are in the next period: undo that first.',
  name: 'Name of the next period',
  parent: 'In which group',
  shift: 'Days move by',
  years: (count: number) => some(count, 'year', 'years'),
  days: 'A number of days',
  daysField: 'Days',
  copies: { courses: 'Courses', leaders: 'Leaders', codes: 'Join codes (new ones)', limits: 'Seat limits' },
  copiesTitle: 'Copied as well',
  copiesHint: 'Groups, tags, handouts and settings are copied always; people never.',
  table: 'Where people go',
  from: 'From',
  peopleHead: 'People',
  to: 'To, in the next period',
  leaves: 'They leave',
  allSame: 'All into the group of the same name',
  allUp: 'All one group up',
  make: 'Make the next period',
  made: 'Made.',
  nowhere: (count: number) => `${some(count, 'person goes', 'people go')} nowhere and will be in none of these groups.`,
  fixed: (day: string) => `As it stood on ${showDay(day)}.`,
};
