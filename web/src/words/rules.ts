import type { RuleNames, RuleRow, ruleOutcomes, ruleStates, whyNotReasons } from '@gate-roster/contract';
import type { RuleAct, RuleWhen } from '@gate-roster/core';
import { showAgo, showDay, showDayOf, showNumber } from '../ui/format.ts';
import { list, some } from './grammar.ts';

const elsewhere = 'a group outside yours';
const nameIn = (names: readonly { id: number; name: string }[], id: number, otherwise: string): string =>
  names.find((each) => each.id === id)?.name ?? otherwise;

const whens: Record<RuleWhen['when'], string> = {
  enters: 'somebody enters a group',
  leaves: 'somebody leaves a group',
  gets: 'somebody gets a course',
  begins: 'somebody begins a course, unit or activity',
  finishes: 'somebody finishes a course, unit or activity',
  scores: 'somebody reaches a score',
  tagged: 'somebody is tagged',
  due: 'a due day is near, or has passed',
  idle: 'nothing is heard of somebody',
  day: 'a day comes',
  'before end': 'a membership is about to end',
};

const acts: Record<RuleAct['act'], string> = {
  'put in': 'put them in a group',
  move: 'move them',
  'take out': 'take them out of a group',
  tag: 'tag them',
  open: 'open a course to them',
  block: 'block a course for them',
  'more time': 'give them more time',
  'give back a seat': 'take back their seat',
  write: 'write to them',
  'tell leaders': 'tell the leaders',
};

/** The course, or the part of it that is named. */
function partSays(when: Extract<RuleWhen, { courseId: number }>, { courses, units, activities }: RuleNames): string {
  const course = nameIn(courses, when.courseId, 'a course');
  if (when.activityId) return `${nameIn(activities, when.activityId, 'an activity')}, of ${course}`;
  return when.unitId ? `${nameIn(units, when.unitId, 'a unit')}, of ${course}` : course;
}

function whenSays(when: RuleWhen, names: RuleNames): string {
  const { groups, courses, tags } = names;
  switch (when.when) {
    case 'enters':
      return `somebody enters ${nameIn(groups, when.groupId, elsewhere)}`;
    case 'leaves':
      return `somebody leaves ${nameIn(groups, when.groupId, elsewhere)}`;
    case 'gets':
      return `somebody gets ${list(when.courses.map((id) => nameIn(courses, id, 'a course')))}`;
    case 'begins':
      return `somebody begins ${partSays(when, names)}`;
    case 'finishes':
      return `somebody finishes ${partSays(when, names)}`;
    case 'scores':
      return `somebody reaches ${showNumber(when.least)} % in ${partSays(when, names)}`;
    case 'tagged':
      return `somebody is tagged ${nameIn(tags, when.tagId, 'with a tag')}`;
    case 'due': {
      const what = when.courses.length === 0 ? 'any course' : list(when.courses.map((id) => nameIn(courses, id, 'a course')));
      const where = when.days === 0 ? 'it is the day on which' : `${some(when.days, 'day', 'days')} ${when.side}`;
      return when.days === 0 ? `${where} somebody is due in ${what}` : `it is ${where} the day on which somebody is due in ${what}`;
    }
    case 'idle':
      return `nothing is heard of somebody for ${some(when.days, 'day', 'days')}`;
    case 'day':
      return `${showDay(when.day)} comes`;
    case 'before end':
      return `a membership ends in ${some(when.days, 'day', 'days')}`;
  }
}

function actSays(act: RuleAct, { groups, courses, licences }: RuleNames): string {
  const group = (id: number): string => nameIn(groups, id, elsewhere);
  switch (act.act) {
    case 'put in':
      return `put them in ${group(act.groupId)}`;
    case 'move':
      return `move them from ${group(act.fromId)} to ${group(act.intoId)}`;
    case 'take out':
      return `take them out of ${group(act.groupId)}`;
    case 'tag':
      return `tag them ${act.name}`;
    case 'open':
      return `open ${nameIn(courses, act.courseId, 'a course')} to them`;
    case 'block':
      return `block ${nameIn(courses, act.courseId, 'a course')} for them`;
    case 'more time':
      return `give them ${some(act.days, 'more day', 'more days')} in ${nameIn(courses, act.courseId, 'a course')}`;
    case 'give back a seat':
      return `take back their seat of ${nameIn(licences, act.licenceId, 'a licence')}`;
    case 'write':
      return `write to them: “${act.title}”`;
    case 'tell leaders':
      return 'tell the leaders';
  }
}

export const rules = {
  title: 'Automatic rules',
  what: 'A rule acts by itself, in the name of whoever made it. Each time it acts is in the log and can be undone.',
  here: 'Rules here',
  count: (here: number, above: number) =>
    above > 0 ? `${some(here, 'rule', 'rules')}, ${showNumber(above)} more in groups above.` : `${some(here, 'rule', 'rules')}.`,
  none: 'No rules here yet. A rule can move people on when they finish a course, tag them, or tell you when nothing is heard of them.',
  make: 'New rule',
  when: 'When',
  and: 'and they fit',
  everybody: 'Everybody of this group and its subgroups, if you add nothing.',
  then: 'then',
  also: 'And also…',
  dropAct: (act: string) => `Do not ${act}`,
  whens,
  acts,
  whenSays,
  actSays,
  sentence: (when: RuleWhen, then: readonly RuleAct[], names: RuleNames) => {
    const said = `${whenSays(when, names)}: ${list(then.map((act) => actSays(act, names)))}`;
    return said.charAt(0).toUpperCase() + said.slice(1);
  },
  fields: {
    name: 'Name (optional)',
    kind: 'What happens',
    act: 'What the rule does',
    group: 'Group',
    from: 'From group',
    into: 'To group',
    course: 'Course',
    courses: 'Any of these courses',
    anyCourse: 'Courses (none: any)',
    side: 'Before or after',
    unit: 'Part of the course',
    licence: 'Licence',
    wholeCourse: 'The whole course',
    tag: 'Tag',
    least: 'Score, at least (%)',
    days: 'Days',
    day: 'Day',
    title: 'Title',
    text: 'Text',
    told: 'What to tell them',
  },
  activityOf: (activity: string, unit: string) => `${activity} (${unit})`,
  asksFirst: 'Ask a leader before it acts',
  asksSays: 'It asks a leader first.',
  waitingTitle: (count: number) => `${some(count, 'person waits', 'people wait')} for your word`,
  actOnAll: (count: number) => (count === 1 ? 'Act' : `Act on all ${showNumber(count)}`),
  leaveAll: 'Leave them alone',
  leaveOne: 'Leave',
  actOn: (name: string) => `Act on ${name}`,
  leave: (name: string) => `Leave ${name} alone`,
  answered: 'Done.',
  waits: (count: number) => `${some(count, 'person waits', 'people wait')}`,
  sides: { before: 'before the due day', after: 'after the due day' },
  today: 'Whom it fits today',
  fits: (count: number) => `${some(count, 'person fits', 'people fit')} today.`,
  fitsNobody: 'It fits nobody today.',
  more: (count: number) => `and ${showNumber(count)} more`,
  past: 'In the last 90 days',
  happened: (times: number, people: number, days: number) =>
    times === 0
      ? 'This did not happen here.'
      : `It happened to ${some(people, 'person', 'people')}, ${some(times, 'time', 'times')}, on ${some(days, 'day', 'days')}. Counted whether or not they fit the filter today.`,
  noPast: 'The past of this is not kept, so it cannot be counted.',
  week: 'Week from',
  times: 'Times',
  weeksSpoken: (text: string) => `Times per week: ${text}`,
  state: 'Is it on?',
  states: {
    'those it fits too': 'On, and it acts now on those it fits today',
    'later ones': 'On, for later ones only',
    off: 'Off',
  } satisfies Record<(typeof ruleStates)[number], string>,
  apply: {
    'those it fits too': (count: number) => (count === 0 ? 'Switch on' : `Act on ${showNumber(count)}, and switch on`),
    'later ones': () => 'Switch on for later ones',
    off: () => 'Keep it, switched off',
  },
  kept: 'Rule kept.',
  isOff: 'off',
  isOffNow: 'Off',
  isOn: (since: string) => `On since ${showDayOf(since)}`,
  acted: ({ acted, lastAt }: Pick<RuleRow, 'acted' | 'lastAt'>) =>
    acted === 0 || lastAt === null ? 'has not acted yet' : `acted ${some(acted, 'time', 'times')}, last ${showAgo(lastAt)}`,
  at: (group: string) => `in ${group}`,
  paused: {
    powers: 'Paused: whoever made it may no longer do this here. Check it and switch it on again in your own name.',
    gone: 'Paused: a group or course that it names is gone. Choose another and switch it on again.',
  },
  pausedShort: 'paused',
  by: (name: string | null) => (name === null ? 'Made by somebody above you. You can delete it, not change it.' : `Made by ${name}.`),
  change: 'Change',
  end: 'Delete…',
  endTitle: (name: string) => `Delete the rule “${name}”`,
  endHint: 'It does not act any more. What it has done stays.',
  ended: 'Rule deleted.',
  lastActs: 'What it did last',
  noActs: 'Nothing yet.',
  older: 'Show earlier ones',
  outcomes: {
    acted: 'acted',
    before: 'happened before it was switched on',
    'nothing to do': 'there was nothing to do',
    chain: 'left alone: too many rules one after the other',
    undo: 'left alone: it came about by an undo',
    asked: 'waits for a leader',
    'left alone': 'left alone by a leader',
  } satisfies Record<(typeof ruleOutcomes)[number], string>,
  whyTitle: 'Why did it act on somebody, or not?',
  whom: 'Person',
  why: {
    off: 'The rule is off.',
    paused: 'The rule is paused.',
    'not in branch': 'They are not counted in the group of the rule.',
    'not happened': 'What the rule waits for has not happened to them.',
    'before switched on': 'It happened before the rule was switched on.',
    acted: 'It acted.',
    undone: 'It acted or would have, and somebody undid it: it does not act again for the same occasion.',
    'nothing to do': 'It would have acted, and there was nothing to do.',
    chain: 'Too many rules acted one after the other, so this one left them alone.',
    filter: 'It happened, and they do not fit the filter.',
    'too often today': 'Rules have acted on them very often today. They are left alone until tomorrow.',
    soon: 'It acts within a few seconds.',
    asked: 'It waits until a leader says so.',
    'left alone': 'A leader left them alone for this occasion.',
  } satisfies Record<(typeof whyNotReasons)[number], string>,
  loopHint: 'The loop:',
  joinsGroup: 'Who gets it joins a group…',
};
