import { marksToHtml } from './marks.ts';

/** The letters that the application writes by itself; a branch may have its own text for each. */
export const letterKinds = [
  'invitation',
  'welcome',
  'sign in',
  'let in',
  'turned away',
  'course opened',
  'course refused',
  'confirm',
  'confirm address',
  'reset',
  'waiting',
  'address changed',
  'messages',
  'rule told',
  'work waits',
  'report',
  'seat order',
  'seat',
  'address fails',
] as const;
export type LetterKind = (typeof letterKinds)[number];

/** What a text may name between braces. */
export const letterFields = [
  'name',
  'group',
  'organisation',
  'leader',
  'link',
  'code',
  'until',
  'words',
  'course',
  'title',
  'stop',
] as const;
export type LetterField = (typeof letterFields)[number];
export type LetterValues = Partial<Record<LetterField, string>>;

export interface LetterText {
  subject: string;
  body: string;
}

/** A letter without its link would lead nowhere. */
export const needsLink: Record<LetterKind, boolean> = {
  invitation: true,
  welcome: true,
  'sign in': true,
  'let in': false,
  'turned away': false,
  'course opened': false,
  'course refused': false,
  confirm: true,
  'confirm address': true,
  reset: true,
  waiting: true,
  'address changed': false,
  messages: true,
  'rule told': false,
  'work waits': true,
  report: true,
  'seat order': true,
  seat: true,
  'address fails': true,
};

export type LetterProblem = { code: 'unknown field'; field: string } | { code: 'no link' } | { code: 'empty' };

/** What is wrong with a text before it is kept. */
export function letterProblems(kind: LetterKind, text: LetterText): LetterProblem[] {
  if (text.subject.trim() === '' || text.body.trim() === '') return [{ code: 'empty' }];
  const named = [...`${text.subject}\n${text.body}`.matchAll(fieldMark)].map(([, field = '']) => field);
  const unknown = [...new Set(named.filter((field) => !letterFields.some((known) => known === field)))];
  const problems: LetterProblem[] = unknown.map((field) => ({ code: 'unknown field', field }));
  if (needsLink[kind] && !/\{link\}/u.test(text.body)) problems.push({ code: 'no link' });
  return problems;
}

const fieldMark = /\{([^{}\s]+)\}/gu;

/**
 * The text with its fields filled in, in one pass: what stands in a value is never read as a field. A field without a
 * value leaves nothing; a line that held nothing but such fields goes, and blank lines that meet become one.
 * @example fillLetter({ subject: 'To {name}', body: 'Hello {name},\n\n{words}\n\n{link}' }, { name: 'Ada', link: 'https://x.example' })
 *   // { subject: 'To Ada', body: 'Hello Ada,\n\nhttps://x.example\n' }
 */
export function fillLetter(text: LetterText, values: LetterValues): LetterText {
  const fill = (part: string): string => part.replace(fieldMark, (_, field: string) => values[field as LetterField] ?? '');
  const lines = text.body.split('\n').flatMap((line) => {
    const filled = fill(line);
    return line.trim() !== '' && filled.trim() === '' ? [] : [filled.replace(/[ \t]+$/u, '').replace(/ ,/gu, ',')];
  });
  const body = lines
    .join('\n')
    .replace(/\n{3,}/gu, '\n\n')
    .trim();
  return { subject: fill(text.subject).replace(/\s+/gu, ' ').trim(), body: `${body}\n` };
}

const escapeHtml = (text: string): string => text.replace(/[&<>"']/gu, (letter) => `&#${letter.charCodeAt(0)};`);

/** A picture over a letter: where it lies in the mail, and what is said where it is not shown. */
export interface LetterLogo {
  cid: string;
  alt: string;
}

const page = (subject: string, content: string, logo: LetterLogo | null): string =>
  `<!doctype html><html><head><meta charset="utf-8"><title>${escapeHtml(subject)}</title></head><body>${
    logo ? `<p><img src="cid:${escapeHtml(logo.cid)}" alt="${escapeHtml(logo.alt)}" style="max-height:64px;max-width:240px"></p>` : ''
  }${content}</body></html>`;

/** The HTML of a letter with what people wrote, whose marks it shows. */
export const messageLetterHtml = ({ subject, body }: LetterText, logo: LetterLogo | null = null): string =>
  page(subject, marksToHtml(body), logo);

/** The HTML of a letter, made from its plain text alone: paragraphs, line ends, and addresses as links. */
export function letterHtml({ subject, body }: LetterText, logo: LetterLogo | null = null): string {
  const linked = (text: string): string =>
    text
      .split(/(https?:\/\/[^\s<>"]+)/u)
      .map((part, index) => (index % 2 === 0 ? escapeHtml(part) : `<a href="${escapeHtml(part)}">${escapeHtml(part)}</a>`))
      .join('');
  const paragraphs = body
    .trim()
    .split(/\n{2,}/u)
    .map((paragraph) => `<p>${paragraph.split('\n').map(linked).join('<br>')}</p>`);
  return page(subject, paragraphs.join(''), logo);
}

/** Letters that may go to an address which nobody has confirmed: they ask for just that, or were asked for there. */
export const toUnconfirmed: readonly LetterKind[] = ['invitation', 'confirm', 'confirm address', 'waiting'];

/** Letters that can wait: people choose whether they want them, and each says where they are stopped. */
export const mayBeStopped: readonly LetterKind[] = ['messages', 'seat', 'report', 'rule told', 'work waits'];

/** Default texts. */
export const firstTexts: Record<LetterKind, LetterText> = {
  invitation: {
    subject: 'Invitation to {group}',
    body: 'Hello {name},\n\nyou are invited to join {group} at {organisation}.\n\n{words}\n\nUse this link until {until} to accept:\n\n{link}\n\nYou can ignore this email.\n',
  },
  welcome: {
    subject: 'Your account at {organisation}',
    body: 'Hello {name},\n\nyou now have an account at {organisation}, in {group}. This link signs you in once, until {until}; then choose your own password:\n\n{link}\n\nIf you do not know what this is about, you can ignore this email.\n',
  },
  'sign in': {
    subject: 'Sign in to {organisation}',
    body: 'Hello {name},\n\nthis link signs you in to {organisation} once, until {until}; then you can choose a new password:\n\n{link}\n\nIf you did not ask for it, you can ignore this email: nothing has changed.\n',
  },
  'let in': {
    subject: 'You are in {group}',
    body: 'Hello {name},\n\nyou asked to join {group} at {organisation}, and you are now in.\n\n{words}\n\nSign in here:\n\n{link}\n',
  },
  'turned away': {
    subject: 'Your request to join {group}',
    body: 'Hello {name},\n\nyour request to join {group} at {organisation} was not accepted.\n\n{words}\n',
  },
  'course opened': {
    subject: '{course} is open to you',
    body: 'Hello {name},\n\nyou asked for {course} at {organisation}, and it is now open to you.\n\n{words}\n\nSign in here:\n\n{link}\n',
  },
  'course refused': {
    subject: 'Your request for {course}',
    body: 'Hello {name},\n\nyour request for {course} at {organisation} was not accepted.\n\n{words}\n',
  },
  confirm: {
    subject: 'Confirm your email address',
    body: 'Hello,\n\nsomebody, probably you, gave this address to join {group} at {organisation}. Use this link until {until} to continue:\n\n{link}\n\nIf it was not you, you can ignore this email.\n',
  },
  'confirm address': {
    subject: 'Is this your account at {organisation}?',
    body: 'Hello {name},\n\nan account in {group} at {organisation} was made with this address. Use this link until {until} to see which account it is, and to say whether it is yours:\n\n{link}\n\nYou can ignore this email.\n',
  },
  reset: {
    subject: 'Choose a new password',
    body: 'Hello {name},\n\nthis link lets you choose a new password at {organisation}, until {until}:\n\n{link}\n\nIf you did not ask for it, you can ignore this email: nothing has changed.\n',
  },
  waiting: {
    subject: 'Something waits for you in {group}',
    body: 'Hello {name},\n\nsomething waits for you in {group} at {organisation}. Use this link until {until} to confirm your address and see it:\n\n{link}\n\nYou can ignore this email.\n',
  },
  'rule told': {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nThe automatic rule “{title}” of {group} wrote this.\n\n{link}\n\nNo more letters of this kind: {stop}\n',
  },
  'work waits': {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nRead and mark it here:\n\n{link}\n\nNo more letters of this kind: {stop}\n',
  },
  report: {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nThe whole view is here:\n\n{link}\n\nNo more letters of this kind: {stop}\n',
  },
  'seat order': {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nSee the order here:\n\n{link}\n',
  },
  seat: {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nYour courses are here:\n\n{link}\n\nNo more letters of this kind: {stop}\n',
  },
  'address fails': {
    subject: 'Emails to {title} come back',
    body: 'Hello {name},\n\nthree emails in a row to {title} of {group} came back, so no more are sent to that address. Correct it, or ask {title} for another:\n\n{link}\n',
  },
  'address changed': {
    subject: 'Your email address was changed',
    body: 'Hello {name},\n\nthe email address of your account at {organisation} was changed, and this address no longer belongs to it. If it was not you, tell {leader} or an administrator.\n',
  },
  messages: {
    subject: '{title}',
    body: 'Hello {name},\n\n{words}\n\nRead and answer here:\n\n{link}\n\nStop these emails, without signing in: {stop}\n',
  },
};
