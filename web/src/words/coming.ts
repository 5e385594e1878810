import type { ComingKind, ComingLine } from '@gate-roster/contract';
import { comingSays } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

const at = ({ group }: ComingLine): string => (group ? ` at ${group.name}` : '');

/** What the next days will do by themselves. */
export const coming = {
  title: 'Coming up',
  what: (days: number) => `what days will do by themselves in the next ${days}, if nothing changes`,
  kind: 'What',
  everything: 'everything',
  kinds: {
    opens: 'courses that open',
    closes: 'courses that close',
    due: 'due days',
    'opens again': 'courses that open again',
    'memberships end': 'memberships that end',
    'accounts end': 'accounts that end',
    'seats come back': 'idle seats that come back',
    'group begins': 'groups that begin',
    'group ends': 'groups that end',
    'leader ends': 'leaders who stop',
    'code ends': 'join codes that end',
    'licence ends': 'licences that end',
  } satisfies Record<ComingKind, string>,
  days: 'How far',
  nextDays: (days: number) => `next ${days} days`,
  none: 'Nothing happens by itself in this time.',
  more: (count: number) => `${some(count, 'line', 'lines')} more. Choose fewer days, one kind, or a smaller group.`,
  today: 'today',
  upTo: (day: string) => `, and until ${showDay(day)}`,
  says: ({ kind, people, course, group, name }: ComingLine): string =>
    comingSays({ kind, people, course: course?.name ?? '', group: group?.name ?? '', name: name ?? '' }, showNumber),
  detail(line: ComingLine): string {
    switch (line.kind) {
      case 'opens':
        return line.group ? `Opened${at(line)}.` : '';
      case 'closes':
        return [line.group ? `Open until then${at(line)}.` : '', line.some > 0 ? `${some(line.some, 'has', 'have')} not finished it.` : '']
          .filter(Boolean)
          .join(' ');
      case 'due':
        if (line.some > 0) return `${some(line.some, 'has', 'have')} not begun.`;
        return line.people === 1 ? 'They have begun.' : 'All have begun.';
      case 'seats come back':
        return 'Nothing is begun with them. Their licence takes them back, and the line goes on.';
      case 'opens again':
        return 'They did it before, and it is no longer valid soon.';
      case 'memberships end':
        if (line.some > 0) return `${showNumber(line.some)} would be in no group afterwards.`;
        return line.people === 1 ? 'They are in another group too.' : 'All are in another group too.';
      case 'code ends':
        return `${at(line).trim()}, used ${line.most === null ? some(line.some, 'time', 'times') : `${showNumber(line.some)} of ${some(line.most, 'time', 'times')}`}.`;
      case 'licence ends':
        return `${showNumber(line.people)} of ${some(line.most ?? 0, 'seat', 'seats')} in use.`;
      default:
        return '';
    }
  },
  calendar: {
    open: 'In your calendar…',
    title: 'What is coming up, in your calendar',
    what: 'A calendar that can subscribe to an address shows these days, with numbers and without names of people. Whoever has the address can read it, so keep it to yourself.',
    none: 'You have no address yet.',
    since: (made: string, read: string | null) =>
      `Your address was made ${made}; ${read === null ? 'no calendar has asked for it yet' : `a calendar last asked for it ${read}`}.`,
    make: 'Make an address',
    replace: 'Replace the address',
    stop: 'Stop it',
    address: 'Address for your calendar',
    once: 'It is shown only now. The address before it no longer works.',
    copy: 'Copy',
  },
  who: 'Who?',
  acts: {
    opens: 'Show access',
    closes: 'Show access',
    due: 'Show progress',
    'opens again': 'Show course',
    'memberships end': 'Show group',
    'accounts end': 'Show people',
    'seats come back': 'Show seats',
    'group begins': 'Show group',
    'group ends': 'Show group',
    'leader ends': 'Show group',
    'code ends': 'Show code',
    'licence ends': 'Show licence',
  } satisfies Record<ComingKind, string>,
  some: {
    closes: 'not finished',
    due: 'not begun',
    'memberships end': 'in no group afterwards',
  } as Partial<Record<ComingKind, string>>,
};
