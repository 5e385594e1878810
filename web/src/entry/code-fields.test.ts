import type { JoinCode } from '@gate-roster/contract';
import { presets } from '@gate-roster/core';
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { tellMomentsIn } from '../ui/format.ts';
import { codeFields, codeValues, forLeadersAtFirst, newQuestion } from './code-fields.ts';

beforeEach(() => {
  tellMomentsIn('America/New_York');
});
afterEach(() => {
  tellMomentsIn('UTC');
});

const code: JoinCode = {
  id: 7,
  code: 'HARBOUR WATCH',
  isChosen: true,
  state: 'open',
  note: 'For the poster',
  groups: [
    { id: 3, name: 'Gullhaven', path: [] },
    { id: 4, name: 'Night watch', path: ['Gullhaven'] },
  ],
  tags: ['new'],
  powers: ['seeProgress'],
  firstAt: '2026-11-03T05:00:00.000Z',
  lastAt: '2026-11-05T04:59:59.000Z',
  useLimit: 40,
  uses: 2,
  emailEnding: '@gullhaven.example',
  needsDecision: true,
  paused: true,
  asks: {
    email: 'must',
    idNumber: 'may',
    questions: [{ key: 'boat', label: 'Which boat?', kind: 'choice', choices: ['Skua', 'Tern'], required: true }],
  },
  price: 1250,
  paying: 0,
  youngLearners: false,
  madeBy: null,
  madeAt: '2026-11-01T00:00:00.000Z',
  mine: true,
};
const plain = { isYoung: false, price: null, paused: false };

test('a code that is opened and saved without a change is what it was', () => {
  const { groups, isChosen, code: text, ...kept } = code;
  expect(isChosen).toBe(true);
  expect(codeValues(codeFields(code, 1), { isYoung: false, price: code.price, paused: code.paused })).toEqual({
    groupIds: groups.map(({ id }) => id),
    chosen: text,
    note: kept.note,
    tags: kept.tags,
    powers: kept.powers,
    firstAt: kept.firstAt,
    lastAt: kept.lastAt,
    useLimit: kept.useLimit,
    emailEnding: kept.emailEnding,
    needsDecision: kept.needsDecision,
    paused: kept.paused,
    price: kept.price,
    asks: kept.asks,
  });
});

test('days are the platform’s: the first from its midnight, the last to its last second, in summer and in winter', () => {
  const fields = codeFields(code, 1);
  expect([fields.firstDay, fields.lastDay]).toEqual(['2026-11-03', '2026-11-04']);
  const summer = codeValues({ ...fields, firstDay: '2026-07-01', lastDay: '2026-11-01' }, plain);
  expect([summer.firstAt, summer.lastAt]).toEqual(['2026-07-01T04:00:00.000Z', '2026-11-02T04:59:59.000Z']);
});

test('with nothing filled in, a code lets people into its group without an end, a limit, a price or a question', () => {
  expect(codeValues(codeFields(null, 3), plain)).toEqual({
    groupIds: [3],
    chosen: null,
    note: null,
    tags: [],
    powers: null,
    firstAt: null,
    lastAt: null,
    useLimit: null,
    emailEnding: null,
    needsDecision: false,
    paused: false,
    price: null,
    asks: { email: 'may', idNumber: 'no', questions: [] },
  });
});

test('a code for leaders is short, for few and decided about, unless somebody said otherwise before', () => {
  jest.useFakeTimers({ now: new Date('2026-11-04T02:30:00Z') });
  const fields = codeFields(null, 3);
  expect(forLeadersAtFirst(fields)).toEqual({ needsDecision: true, limit: '5', lastDay: '2026-11-17' });
  expect(forLeadersAtFirst({ ...fields, limit: '2', lastDay: '2026-11-05' })).toMatchObject({ limit: '2', lastDay: '2026-11-05' });
  expect(codeValues({ ...fields, leads: true }, plain).powers).toEqual([...presets.helper]);
  jest.useRealTimers();
});

test('what makes no sense is left out: a limit that is no number, spaces, questions without words, choices of what is none', () => {
  const fields = {
    ...codeFields(null, 3),
    limit: 'many',
    ending: '  ',
    note: ' ',
    chosen: 'NOT USED',
    questions: [
      { ...newQuestion('a'), label: ' ' },
      { ...newQuestion('b'), label: 'Shoe size', typed: 'left, over' },
      { ...newQuestion('c'), label: 'Boat', kind: 'choice' as const, typed: ' Skua,, Tern ,' },
    ],
  };
  const values = codeValues(fields, { ...plain, price: 0 });
  expect(values).toMatchObject({ useLimit: null, emailEnding: null, note: null, chosen: null, price: null });
  expect(values.asks.questions.map(({ label, choices }) => [label, choices])).toEqual([
    ['Shoe size', []],
    ['Boat', ['Skua', 'Tern']],
  ]);
  expect(codeValues({ ...fields, limit: '-3' }, plain).useLimit).toBeNull();
});

test('nobody young is asked for an address, whatever was chosen before', () => {
  const values = codeValues(codeFields(code, 1), { isYoung: true, price: null, paused: false });
  expect([values.emailEnding, values.asks.email, values.asks.idNumber]).toEqual([null, 'no', 'may']);
});
