import { dueDay, type DuePath } from './due.ts';

const since = '2027-03-01';
const path = (rule: DuePath['rule'], more: Partial<DuePath> = {}): DuePath => ({ rule, couldBegin: since, ...more });
const days = (count: number, leastDays: number | null = null, firm = false): DuePath['rule'] => ({ at: { days: count }, leastDays, firm });
const on = (day: string, leastDays: number | null = null, firm = false): DuePath['rule'] => ({ at: { day }, leastDays, firm });

test.each<[string, DuePath[], string | null]>([
  ['days from when one could begin', [path(days(14))], '2027-03-15'],
  ['a fixed day', [path(on('2027-03-10'))], '2027-03-10'],
  ['no path at all: never', [], null],
  ['no rule: never', [path(null)], null],
  ['the later of two', [path(days(3)), path(days(14))], '2027-03-15'],
  ['a path that is never due is the latest', [path(days(3)), path(null)], null],
  ['a firm day counts before a later one, and before never', [path(days(3, null, true)), path(days(14)), path(null)], '2027-03-04'],
  ['the earliest of two firm days', [path(days(9, null, true)), path(days(3, null, true))], '2027-03-04'],
  ['at least so many days for who begins late', [path(on('2027-03-02', 10))], '2027-03-11'],
  ['and the day itself for who began in time', [path(on('2027-03-20', 10))], '2027-03-20'],
  ['more time: not before', [path(days(3), { notBefore: '2027-04-01' })], '2027-04-01'],
  ['more time takes nothing away', [path(days(14), { notBefore: '2027-03-02' })], '2027-03-15'],
  ['more time makes nothing due that never is', [path(null, { notBefore: '2027-04-01' })], null],
  ['in a later round days count from its opening', [path(days(14), { roundOpened: '2027-06-01' })], '2027-06-15'],
  ['a round that opened before one could begin alters nothing', [path(days(14), { roundOpened: '2027-01-01' })], '2027-03-15'],
  ['a fixed day before the round says nothing of it', [path(on('2027-03-10'), { roundOpened: '2027-06-01' })], null],
  ['but so many days hold', [path(on('2027-03-10', 7), { roundOpened: '2027-06-01' })], '2027-06-08'],
  ['and more time there too', [path(on('2027-03-10', 7), { roundOpened: '2027-06-01', notBefore: '2027-07-01' })], '2027-07-01'],
  ['a fixed day on which the round opens, or later, holds', [path(on('2027-06-01'), { roundOpened: '2027-06-01' })], '2027-06-01'],
  [
    'a firm path that is never due in this round leaves the others',
    [path(on('2027-03-10', null, true), { roundOpened: '2027-06-01' }), path(days(14), { roundOpened: '2027-06-01' })],
    null,
  ],
])('%s', (_, paths, expected) => {
  expect(dueDay(paths)).toBe(expected);
});
