import type { LicenceSheet } from '@gate-roster/contract';
import { showDay, showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

export const seats = {
  licence: 'Licence',
  about: (about: string, seats: number | null, until: string | null, inForce: boolean) =>
    `${about}${seats === null ? '' : `, ${some(seats, 'seat', 'seats')}`}${until ? ` until ${until}` : ''}${inForce ? '' : ', not in force today'}.`,
  onLeaving: {
    'comes back': 'A seat comes back when its holder leaves.',
    'comes back if not begun': 'A seat comes back if its holder leaves before beginning.',
    'stays used': 'A seat stays used until the licence ends.',
  },
  byHand: 'Seats are given by hand.',
  idleRuleOf: (days: number) => `A seat that is not used for ${some(days, 'day', 'days')} comes back.`,
  byHandField: 'Seats are given by hand: nobody gets one by themselves',
  takeBack: (count: number) => `Take back ${some(count, 'seat', 'seats')}…`,
  takeBackIdle: 'Take back…',
  idleDays: 'Not begun for days',
  give: (count: number) => `Give ${some(count, 'seat', 'seats')}…`,
  goFirst: (count: number) => `Let ${some(count, 'person', 'people')} go first…`,
  swap: 'Swap their places…',
  move: (count: number) => `Move ${some(count, 'seat', 'seats')} to another licence…`,
  toLicence: 'To the licence',
  giveUp: (count: number) => `Take ${some(count, 'person', 'people')} out of the line…`,
  putBack: (count: number) => `Put ${some(count, 'person', 'people')} back in line…`,
  acts: {
    give: { title: 'Give seats', hint: '', done: 'Seats given.' },
    'put back': {
      title: 'Put people back in line',
      hint: 'They come last in the line, or get a seat if one is free.',
      done: 'They are back.',
    },
    'take back': {
      title: 'Take seats back',
      hint: 'They lose the course and are in line until somebody gives them a seat again. Work they have done stays.',
      done: 'Seats taken back.',
    },
    idle: {
      title: 'Take seats back',
      hint: 'They lose the course and are in line until somebody gives them a seat again.',
      done: 'Seats taken back.',
    },
    first: {
      title: 'Change the order of the line',
      hint: 'Only people of this group change places. People of other groups keep theirs.',
      done: 'The order of the line is changed.',
    },
    swap: {
      title: 'Change the order of the line',
      hint: 'Only people of this group change places. People of other groups keep theirs.',
      done: 'The order of the line is changed.',
    },
    'give up': {
      title: 'Take people out of the line',
      hint: 'They wait for no seat of this licence until somebody puts them back.',
      done: 'Out of the line.',
    },
    move: {
      title: 'Move seats to another licence',
      hint: 'Nobody loses the course. Seats of this licence become free for the next in line.',
      done: 'Seats moved.',
    },
  },
  gaveUp: (people: number) => `${some(people, 'person', 'people')} gave up their place in line.`,
  showThem: 'Show them',
  isHeld: 'waits until a seat is given',
  choose: (name: string) => `Choose ${name}`,
  make: 'Add a licence',
  edit: 'Change this licence',
  editTitle: 'Change the licence',
  saved: 'Licence saved.',
  limited: 'Limits saved.',
  none: 'No licence pays for courses here.',
  noneYet: 'No licence pays for courses here. Add one for a course that is bought by the seat; all other courses cost nobody a seat.',
  group: 'Group',
  bar: 'In use, and the limit',
  used: 'In use',
  free: 'Free',
  held: (count: number) => `${some(count, 'more is', 'more are')} held while somebody pays to join.`,
  freeOrOver: (free: number) => (free < 0 ? `${showNumber(-free)} over` : showNumber(free)),
  inLine: 'In line',
  whole: 'Seats',
  allLicences: 'All licences',
  lasts: 'Lasts until',
  overTime: 'Seats in use, and where it is heading',
  overTimeTable: 'As a table',
  seatsNow: 'Seats',
  day: 'Day',
  spoken: (points: string) => `Seats in use by week: ${points}`,
  heading: (forecast: LicenceSheet['groups'][number]['forecast'], free: number | null) => {
    if (forecast === null) return '';
    if (forecast.kind === 'too little') return 'Too few seats began or ended in the last 8 weeks to say more.';
    if (forecast.kind === 'ends first') return 'At the pace of the last 8 weeks there are seats for longer than the licence lasts.';
    if (free !== null && free <= 0) return 'No seat is free now.';
    const { day, early, late } = forecast;
    return `At the pace of the last 8 weeks the last seat goes on about ${showDay(day)}${early === late ? '' : ` (${showDay(early)} to ${late === null ? 'much later' : showDay(late)})`}.`;
  },
  idle: (people: number, days: number) => `${some(people, 'seat', 'seats')} unused: taken over ${days} days ago, nothing begun.`,
  idleServes: (served: number, inLine: number) =>
    inLine === 0 ? '' : `Taking them back would serve up to ${showNumber(served)} of the ${showNumber(inLine)} in line.`,
  takeBackUnused: 'Take back unused',
  price: 'Price of a seat, without VAT',
  priceHint: (currency: string) => `In ${currency}. Empty: none can be ordered.`,
  duringSplits: 'Parts of a group may use it for a while without seats',
  needsApproval: 'An administrator decides about orders of leaders',
  renewMonths: 'Months by which it is renewed',
  renewHint: 'Empty: it ends on its last day. Once paid by a payer who agreed, it renews itself two weeks before.',
  idleRule: 'Days after which an unused seat comes back',
  idleRuleHint: 'Empty: none does by itself. Those who lose one are in line until somebody gives it again.',
  idNumber: 'ID number',
  foldAll: (name: string) => `Groups in ${name}`,
  lastsHint: 'At the rate of the last 8 weeks, with those known to leave. Four of five times the day lies in the range below it.',
  forecast: (forecast: NonNullable<LicenceSheet['groups'][number]['forecast']>, free: number | null) => {
    if (forecast.kind === 'too little') return { day: 'too little to say', range: '' };
    if (forecast.kind === 'ends first') return { day: 'longer than needed', range: '' };
    if (free !== null && free <= 0) return { day: 'nothing free now', range: '' };
    const { day, early, late } = forecast;
    return { day: showDay(day), range: early === late ? '' : `${showDay(early)} – ${late === null ? 'much later' : showDay(late)}` };
  },
  limit: 'Limit',
  noLimit: 'none',
  limitOf: (group: string) => `Seat limit of ${group}`,
  barLabel: (used: number, limit: number | null) =>
    `${some(used, 'seat', 'seats')} in use${limit === null ? '' : `, at most ${showNumber(limit)}`}`,
  limitsAddUp: (limits: number, seats: number) =>
    `The limits add up to ${showNumber(limits)}, more than the ${showNumber(seats)} seats: first come, first served.`,
  peopleTitle: { 'in use': 'using a seat', 'in line': 'in line for a seat', 'gave up': 'gave up their place' },
  peopleWhat: {
    'in use': 'A seat counts in one of its holder’s groups.',
    'in line': 'A seat that comes free goes to the first whose groups have room.',
    'gave up': 'They wait for no seat of this licence.',
  },
  since: (course: string, day: string) => (course ? `${course}, since ${day}` : `since ${day}`),
  name: 'Name',
  paysFor: 'Pays for',
  aSet: (name: string) => `${name} (course set)`,
  seats: 'Seats',
  seatsHint: 'Used by groups here and below.',
  fewer: 'Nobody loses a seat when there are fewer. New people wait until there is room.',
  firstDay: 'First day',
  lastDay: 'Last day',
  whenLeaving: 'When somebody leaves',
  thenOpen: 'Next: under Access, choose this licence when you open a course.',
};
