import type { Preset } from '../accounts/powers.ts';
import { tidyName } from '../groups/group-name.ts';
import type { GroupId } from '../groups/tree.ts';
import { type PersonName, splitFullName } from '../people/person-name.ts';
import { signInNameProblem } from '../people/sign-in-name.ts';
import type { Day } from '../time/day.ts';
import type { Problem, RosterFacts } from './check-roster.ts';
import { readDay } from './dates.ts';
import { emailProblem } from './email.ts';
import { type groupFinder, splitGroups } from './find-group.ts';
import { splitQuoted, unquoteName } from './quoted-names.ts';
import { readPreset, readRole, readYesNo } from './read-choices.ts';
import type { RosterField, RosterRow } from './roster-fields.ts';

/** A row on its own, read; blank cells are null. */
export interface ReadRow extends PersonName {
  row: number;
  email: string | null;
  idNumber: string | null;
  signInName: string | null;
  password: string | null;
  nameHidden: boolean | null;
  guardianEmail: string | null;
  groups: GroupId[];
  /** Leads these groups, with the powers of a preset; null: learns in them. */
  leads: Preset | null;
  tags: string[];
  firstDay: Day | null;
  lastDay: Day | null;
}

export const leastPassword = 10;

/** Tags in a cell stand apart by commas, semicolons or bars. */
const splitTags = (cell: string): string[] => [
  ...new Set(
    splitQuoted(cell, ',;|')
      .map((tag) => tidyName(unquoteName(tag)))
      .filter((tag) => tag !== ''),
  ),
];

/** The most letters of a value, as everywhere else where it can be given. */
export const longest = {
  givenName: 120,
  familyName: 120,
  fullName: 240,
  email: 254,
  guardianEmail: 254,
  idNumber: 60,
  signInName: 60,
  password: 200,
  tag: 60,
} as const;

/** What a spreadsheet shows in place of a value that it cannot work out. */
const sheetError = /^#(?:N\/A|REF!|VALUE!|NAME\?|DIV\/0!|NULL!|NUM!|SPILL!|CALC!)$/u;

/** A cell that cannot be what stood in it, or is too long. */
function wrongCell(cells: RosterRow['cells']): Problem | null {
  for (const [field, text = ''] of Object.entries(cells) as [RosterField, string | undefined][]) {
    if (sheetError.test(text.trim())) return { reason: { code: 'sheet error', text: text.trim() }, field };
    if (text.includes('\uFFFD')) return { reason: { code: 'letters lost' }, field };
    const most = field in longest ? longest[field as keyof typeof longest] : null;
    if (most !== null && tidyName(text).length > most) return { reason: { code: 'too long', most }, field };
  }
  const tag = splitTags(cells.tags ?? '').find((each) => each.length > longest.tag);
  return tag === undefined ? null : { reason: { code: 'too long', most: longest.tag }, field: 'tags' };
}

/** The row, or the first cell that is wrong in it. */
export function readRow({ row, cells, isRagged }: RosterRow, facts: RosterFacts, find: ReturnType<typeof groupFinder>): ReadRow | Problem {
  const text = (field: RosterField): string => tidyName(cells[field] ?? '');
  if (isRagged) return { reason: { code: 'too many cells' }, field: null };
  const wrong = wrongCell(cells);
  if (wrong) return wrong;
  const name =
    cells.fullName !== undefined && text('familyName') === ''
      ? splitFullName(text('fullName'))
      : { givenName: text('givenName'), familyName: text('familyName') };
  if (name.givenName === '' && name.familyName === '')
    return { reason: { code: 'name missing' }, field: cells.fullName === undefined ? 'familyName' : 'fullName' };

  for (const field of ['email', 'guardianEmail'] as const) {
    const unfit = text(field) === '' ? null : emailProblem(text(field));
    if (unfit) return { reason: { code: 'email', problem: unfit }, field };
  }
  const wrongName = text('signInName') === '' ? null : signInNameProblem(text('signInName'));
  if (wrongName) return { reason: { code: 'sign-in name', problem: wrongName }, field: 'signInName' };
  const password = cells.password?.trim() || null;
  if (password !== null && password.length < leastPassword) return { reason: { code: 'password too short' }, field: 'password' };

  const choices = readChoices(text, facts);
  if ('reason' in choices) return choices;
  const groups = readGroups(text('group'), facts, find);
  if ('reason' in groups) return groups;
  const days = readDays(text, facts);
  if ('reason' in days) return days;
  return {
    row,
    ...name,
    email: text('email') || null,
    idNumber: text('idNumber') || null,
    signInName: text('signInName') || null,
    password,
    guardianEmail: text('guardianEmail') || null,
    groups: groups.groups,
    tags: splitTags(text('tags')),
    ...choices,
    ...days,
  };
}

function readChoices(text: (field: RosterField) => string, facts: RosterFacts): Pick<ReadRow, 'leads' | 'nameHidden'> | Problem {
  const role = text('role') === '' ? null : readRole(text('role'));
  if (text('role') !== '' && role === null) return { reason: { code: 'not a choice' }, field: 'role' };
  const preset = text('powers') === '' ? null : readPreset(text('powers'));
  if (text('powers') !== '' && preset === null) return { reason: { code: 'not a choice' }, field: 'powers' };
  const hidden = text('nameHidden') === '' ? null : readYesNo(text('nameHidden'));
  if (text('nameHidden') !== '' && hidden === null) return { reason: { code: 'not a choice' }, field: 'nameHidden' };
  // Powers without a role mean a leader; a leader without powers helps.
  const leads = role === 'leader' || (role === null && preset !== null) ? (preset ?? 'helper') : null;
  if (leads !== null && !facts.mayAppoint(leads)) return { reason: { code: 'power lacked' }, field: preset === null ? 'role' : 'powers' };
  return { leads, nameHidden: hidden === null ? null : hidden === 'yes' };
}

function readGroups(cell: string, facts: RosterFacts, find: ReturnType<typeof groupFinder>): { groups: GroupId[] } | Problem {
  if (facts.hasGroupColumn && cell === '') return { reason: { code: 'group missing' }, field: 'group' };
  const groups: GroupId[] = [];
  for (const path of splitGroups(cell)) {
    const found = find(path);
    if ('problem' in found)
      return {
        reason: { code: `group ${found.problem}`, group: path, near: facts.proposals?.get(path.toLowerCase()) ?? found.near },
        field: 'group',
      };
    groups.push(found.groupId);
  }
  return { groups: groups.length === 0 ? [facts.into] : groups };
}

function readDays(text: (field: RosterField) => string, facts: RosterFacts): Record<'firstDay' | 'lastDay', Day | null> | Problem {
  const days: Record<'firstDay' | 'lastDay', Day | null> = { firstDay: null, lastDay: null };
  for (const field of ['firstDay', 'lastDay'] as const) {
    if (text(field) === '') continue;
    const read = readDay(text(field), facts.dateOrder);
    if ('problem' in read) return { reason: { code: read.problem, field }, field };
    days[field] = read.day;
  }
  if (days.firstDay && days.lastDay && days.lastDay < days.firstDay) return { reason: { code: 'ends before it starts' }, field: 'lastDay' };
  return days;
}
