import { type Day, dayFromParts } from '../time/day.ts';
import { emailProblem, type EmailProblem } from './email.ts';

/** What a code asks of whoever registers by it. */
export const askedFields = ['email', 'idNumber'] as const;
export type AskedField = (typeof askedFields)[number];
export type Asking = 'no' | 'may' | 'must';

/** A question of the code's own. */
export interface JoinQuestion {
  key: string;
  label: string;
  kind: 'text' | 'choice' | 'date';
  choices: string[];
  required: boolean;
}

export interface JoinAsks {
  email: Asking;
  idNumber: Asking;
  questions: JoinQuestion[];
}
export const mostQuestions = 10;

export interface JoinGiven {
  givenName: string;
  familyName: string;
  email: string;
  idNumber: string;
  answers: Record<string, string>;
}

export type GivenProblem =
  { field: string; code: 'missing' | 'not a choice' | 'not a day' | 'too long' } | { field: 'email'; code: 'email'; problem: EmailProblem };

const longestAnswer = 300;

/** What was answered, each beside its question, in the order of the questions; those left empty are left out. */
export function answersTo(
  questions: readonly JoinQuestion[],
  answers: Readonly<Record<string, string>>,
): { label: string; answer: string }[] {
  return questions.flatMap(({ key, label }) => {
    const answer = Object.hasOwn(answers, key) ? answers[key]?.trim() : '';
    return answer ? [{ label, answer }] : [];
  });
}

/**
 * What is wrong with what somebody gave, one problem for each field; `field` is that of the form, or a question's key.
 * Whoever is known already is asked the code's own questions only.
 */
export function givenProblems(asks: JoinAsks, given: JoinGiven, isKnown: boolean): GivenProblem[] {
  const problems: GivenProblem[] = isKnown ? [] : personProblems(asks, given);
  for (const { key, kind, choices, required } of asks.questions) {
    const answer = (given.answers[key] ?? '').trim();
    if (answer === '') {
      if (required) problems.push({ field: key, code: 'missing' });
    } else if (answer.length > longestAnswer) problems.push({ field: key, code: 'too long' });
    else if (kind === 'choice' && !choices.includes(answer)) problems.push({ field: key, code: 'not a choice' });
    else if (kind === 'date' && !isDay(answer)) problems.push({ field: key, code: 'not a day' });
  }
  return problems;
}

function personProblems(asks: JoinAsks, given: JoinGiven): GivenProblem[] {
  const problems: GivenProblem[] = [];
  if (`${given.givenName}${given.familyName}`.trim() === '') problems.push({ field: 'givenName', code: 'missing' });
  for (const field of askedFields) {
    const value = given[field].trim();
    if (asks[field] === 'must' && value === '') problems.push({ field, code: 'missing' });
  }
  const wrong = asks.email === 'no' || given.email.trim() === '' ? null : emailProblem(given.email.trim());
  if (wrong) problems.push({ field: 'email', code: 'email', problem: wrong });
  return problems;
}

function isDay(text: Day): boolean {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})$/u.exec(text) ?? [];
  return year !== undefined && dayFromParts(Number(year), Number(month), Number(day)) !== null;
}
