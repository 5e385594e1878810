import type { RuleAct, RuleWhen } from '@gate-roster/core';
import { actNames, formOf, newAct, newRule, valuesOf, whenNames } from './rule-form.ts';

const whens: RuleWhen[] = [
  { when: 'enters', groupId: 3 },
  { when: 'leaves', groupId: 4 },
  { when: 'gets', courses: [1, 2] },
  { when: 'begins', courseId: 1 },
  { when: 'begins', courseId: 1, unitId: 5 },
  { when: 'begins', courseId: 1, unitId: 5, activityId: 8 },
  { when: 'finishes', courseId: 1, unitId: 5, activityId: 8 },
  { when: 'scores', courseId: 1, least: 80, unitId: 5, activityId: 8 },
  { when: 'finishes', courseId: 1, unitId: 5 },
  { when: 'finishes', courseId: 1, unitId: null },
  { when: 'scores', courseId: 1, least: 80 },
  { when: 'tagged', tagId: 9 },
  { when: 'due', courses: [1], days: 7, side: 'before' },
  { when: 'due', courses: [], days: 3, side: 'after' },
  { when: 'idle', days: 30 },
  { when: 'day', day: '2027-01-01' },
  { when: 'before end', days: 14 },
];
const acts: RuleAct[] = [
  { act: 'put in', groupId: 3 },
  { act: 'move', fromId: 3, intoId: 4 },
  { act: 'take out', groupId: 3 },
  { act: 'tag', name: 'boat ready' },
  { act: 'open', courseId: 1 },
  { act: 'block', courseId: 1 },
  { act: 'more time', courseId: 1, days: 7 },
  { act: 'give back a seat', licenceId: 2 },
  { act: 'write', title: 'The boats', body: 'They are open to you now.' },
  { act: 'tell leaders', words: 'Look at this.' },
];

test('every rule comes out of its form as it went in', () => {
  expect(new Set(whens.map(({ when }) => when))).toEqual(new Set(whenNames));
  expect(new Set(acts.map(({ act }) => act))).toEqual(new Set(actNames));
  for (const when of whens)
    for (const act of acts) {
      const values = {
        name: 'One',
        when,
        filter: [{ part: 'exempt' as const, is: true }],
        then: [act, acts[3] ?? act],
        ...(act.act === 'tag' ? { asksFirst: true } : {}),
      };
      expect(valuesOf(formOf(1, values), () => '')).toEqual(values);
    }
});

test('a rule that names nothing yet is none, and one without a name is called by its sentence', () => {
  const form = newRule(3);
  expect(valuesOf(form, () => 'said')).toBeNull();
  form.when.courseId = 1;
  expect(valuesOf(form, () => 'said')).toBeNull();
  form.then = [{ ...newAct(), groupId: 7 }];
  expect(valuesOf(form, (when, then) => `${when.when}, ${then.length}`)?.name).toBe('finishes, 1');
  form.then.push(newAct('write'));
  expect(valuesOf(form, () => 'said')).toBeNull();
});
