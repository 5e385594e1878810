import type { JoinCode, JoinCodeValues } from '@gate-roster/contract';
import { addDays, type Asking, type JoinQuestion, type Power, presets } from '@gate-roster/core';
import { dayBegins, dayEnds, dayOf, today } from '../ui/format.ts';

/** What the form of a join code holds, as it is typed; days in the platform's time zone, '' for none. */
export interface CodeFields {
  groupIds: number[];
  isChosen: boolean;
  chosen: string;
  firstDay: string;
  lastDay: string;
  limit: string;
  ending: string;
  needsDecision: boolean;
  leads: boolean;
  powers: readonly Power[];
  note: string;
  tags: string[];
  asks: { email: Asking; idNumber: Asking };
  /** Choices are typed in one line, with commas. */
  questions: (JoinQuestion & { typed: string })[];
}

export const newQuestion = (key: string): CodeFields['questions'][number] => ({
  key,
  label: '',
  kind: 'text',
  choices: [],
  required: false,
  typed: '',
});

/** Of a code that there is, or of a new one for a group. */
export const codeFields = (code: JoinCode | null, groupId: number): CodeFields => ({
  groupIds: code?.groups.map(({ id }) => id) ?? [groupId],
  isChosen: code?.isChosen ?? false,
  chosen: code?.isChosen ? code.code : '',
  firstDay: code?.firstAt ? dayOf(code.firstAt) : '',
  lastDay: code?.lastAt ? dayOf(code.lastAt) : '',
  limit: code?.useLimit?.toString() ?? '',
  ending: code?.emailEnding ?? '',
  needsDecision: code?.needsDecision ?? false,
  leads: code !== null && code.powers !== null,
  powers: code?.powers ?? presets.helper,
  note: code?.note ?? '',
  tags: [...(code?.tags ?? [])],
  asks: { email: code?.asks.email ?? 'may', idNumber: code?.asks.idNumber ?? 'no' },
  questions: (code?.asks.questions ?? []).map((question) => ({ ...question, typed: question.choices.join(', ') })),
});

const leadersAtFirst = 5;
const leadersDays = 14;

/** Anybody who finds a code for leaders leads: so it ends soon, is for few, and somebody decides. What was typed before stays. */
export const forLeadersAtFirst = ({ limit, lastDay }: CodeFields): Pick<CodeFields, 'needsDecision' | 'limit' | 'lastDay'> => ({
  needsDecision: true,
  limit: limit || String(leadersAtFirst),
  lastDay: lastDay || addDays(today(), leadersDays),
});

/** @param isYoung A group of young learners is among them: nobody is asked for an address. @param price In minor units. */
export function codeValues(
  fields: CodeFields,
  { isYoung, price, paused }: { isYoung: boolean; price: number | null; paused: boolean },
): JoinCodeValues {
  const limit = Number.parseInt(fields.limit, 10);
  return {
    groupIds: [...fields.groupIds],
    chosen: fields.isChosen ? fields.chosen : null,
    note: fields.note.trim() || null,
    tags: [...fields.tags],
    powers: fields.leads ? [...fields.powers] : null,
    firstAt: fields.firstDay ? dayBegins(fields.firstDay) : null,
    // The last day is meant whole.
    lastAt: fields.lastDay ? dayEnds(fields.lastDay) : null,
    useLimit: limit > 0 ? limit : null,
    emailEnding: isYoung ? null : fields.ending.trim() || null,
    needsDecision: fields.needsDecision,
    paused,
    price: price === 0 ? null : price,
    asks: {
      email: isYoung ? 'no' : fields.asks.email,
      idNumber: fields.asks.idNumber,
      questions: fields.questions.filter(({ label }) => label.trim() !== '').map(questionOf),
    },
  };
}

const questionOf = ({ typed, ...question }: CodeFields['questions'][number]): JoinQuestion => ({
  ...question,
  choices:
    question.kind === 'choice'
      ? typed
          .split(',')
          .map((choice) => choice.trim())
          .filter(Boolean)
      : [],
});
