import type { RuleValues } from '@gate-roster/contract';
import type { FilterPart, RuleAct, RuleWhen } from '@gate-roster/core';

/* What is chosen and typed about a rule, before it is whole. */

export type WhenName = RuleWhen['when'];
export type ActName = RuleAct['act'];
export const whenNames: readonly WhenName[] = [
  'enters',
  'leaves',
  'gets',
  'begins',
  'finishes',
  'scores',
  'tagged',
  'due',
  'idle',
  'day',
  'before end',
];
export const actNames: readonly ActName[] = [
  'put in',
  'move',
  'take out',
  'tag',
  'open',
  'block',
  'more time',
  'give back a seat',
  'write',
  'tell leaders',
];

export interface WhenForm {
  when: WhenName;
  groupId: number | null;
  courses: number[];
  courseId: number | null;
  unitId: number | null;
  activityId: number | null;
  tagId: number | null;
  least: number;
  days: number;
  side: 'before' | 'after';
  day: string;
}

export interface ActForm {
  act: ActName;
  groupId: number | null;
  fromId: number | null;
  intoId: number | null;
  courseId: number | null;
  licenceId: number | null;
  days: number;
  name: string;
  title: string;
  /** Of a message, and to leaders. */
  text: string;
}

export interface RuleForm {
  name: string;
  when: WhenForm;
  filter: FilterPart[];
  then: ActForm[];
  /** A leader is asked before it acts. */
  asksFirst: boolean;
}

export const newAct = (act: ActName = 'put in'): ActForm => ({
  act,
  groupId: null,
  fromId: null,
  intoId: null,
  courseId: null,
  licenceId: null,
  days: 14,
  name: '',
  title: '',
  text: '',
});

/** A rule that nobody has written yet; `courseId`: it begins at that course. */
export const newRule = (groupId: number, courseId: number | null = null): RuleForm => ({
  name: '',
  when: {
    when: courseId === null ? 'finishes' : 'gets',
    groupId,
    courses: courseId === null ? [] : [courseId],
    courseId: null,
    unitId: null,
    activityId: null,
    tagId: null,
    least: 60,
    days: courseId === null ? 7 : 30,
    side: 'before',
    day: '',
  },
  filter: [],
  then: [newAct()],
  asksFirst: false,
});

/** The form of a rule that stands. */
export function formOf(groupId: number, { name, when, filter, then, asksFirst = false }: RuleValues): RuleForm {
  return {
    name,
    asksFirst,
    when: {
      ...newRule(groupId).when,
      ...when,
      unitId: ('unitId' in when ? when.unitId : null) ?? null,
      activityId: ('activityId' in when ? when.activityId : null) ?? null,
    },
    filter: [...(filter as FilterPart[])],
    then: then.map((each) => ({
      ...newAct(each.act),
      ...each,
      text: each.act === 'write' ? each.body : each.act === 'tell leaders' ? each.words : '',
    })),
  };
}

function whenOf({ when, groupId, courses, courseId, unitId, activityId, tagId, least, days, side, day }: WhenForm): RuleWhen | null {
  switch (when) {
    case 'enters':
    case 'leaves':
      return groupId === null ? null : { when, groupId };
    case 'gets':
      return courses.length === 0 ? null : { when, courses: [...courses] };
    case 'due':
      return { when, courses: [...courses], days, side };
    case 'begins':
      return courseId === null ? null : { when, courseId, ...partOf(unitId, activityId) };
    case 'finishes':
      return courseId === null ? null : { when, courseId, unitId, ...(activityId === null ? {} : { activityId }) };
    case 'scores':
      return courseId === null ? null : { when, courseId, least, ...(activityId === null ? {} : partOf(unitId, activityId)) };
    case 'tagged':
      return tagId === null ? null : { when, tagId };
    case 'idle':
    case 'before end':
      return days >= 1 ? { when, days } : null;
    case 'day':
      return day === '' ? null : { when, day };
  }
}

/** What is said of a part of a course; nothing is said of the whole. */
const partOf = (unitId: number | null, activityId: number | null) => ({
  ...(unitId === null ? {} : { unitId }),
  ...(activityId === null ? {} : { activityId }),
});

function actOf({ act, groupId, fromId, intoId, courseId, licenceId, days, name, title, text }: ActForm): RuleAct | null {
  switch (act) {
    case 'put in':
    case 'take out':
      return groupId === null ? null : { act, groupId };
    case 'move':
      return fromId === null || intoId === null ? null : { act, fromId, intoId };
    case 'tag':
      return name.trim() === '' ? null : { act, name: name.trim() };
    case 'open':
    case 'block':
      return courseId === null ? null : { act, courseId };
    case 'more time':
      return courseId === null || days < 1 ? null : { act, courseId, days };
    case 'give back a seat':
      return licenceId === null ? null : { act, licenceId };
    case 'write':
      return title.trim() === '' ? null : { act, title: title.trim(), body: text.trim() };
    case 'tell leaders':
      return text.trim() === '' ? null : { act, words: text.trim() };
  }
}

/** The rule that the form says; null while something is missing. `sentence` names one that has no name of its own. */
export function valuesOf(form: RuleForm, sentence: (when: RuleWhen, then: readonly RuleAct[]) => string): RuleValues | null {
  const when = whenOf(form.when);
  const then = form.then.map(actOf);
  if (!when || then.length === 0 || then.includes(null)) return null;
  const acts = then.flatMap((act) => act ?? []);
  const name = form.name.trim() === '' ? sentence(when, acts).slice(0, 200) : form.name.trim();
  return { name, when, filter: [...form.filter], then: acts, ...(form.asksFirst ? { asksFirst: true } : {}) };
}
