import { tidyName } from '../groups/group-name.ts';
import type { GroupId, Tree } from '../groups/tree.ts';
import { type PersonName, sameName, splitFullName } from '../people/person-name.ts';
import type { Day } from '../time/day.ts';
import { readDay } from './dates.ts';
import { emailKey, emailProblem, type EmailProblem } from './email.ts';
import { groupFinder, splitGroups } from './find-group.ts';
import type { DateOrder, RosterField, RosterRow } from './roster-fields.ts';

/** Somebody the platform knows and whom the actor may see. */
export interface KnownPerson extends PersonName {
  id: number;
  email: string | null;
  idNumber: string | null;
  isAdministrator: boolean;
  /** Groups they are in, or will be. */
  groups: readonly GroupId[];
  tags: readonly string[];
}

export interface RosterFacts {
  tree: Tree;
  /** The group on top of the screen: where people go, or below. */
  into: GroupId;
  /** Does the file say which group? If not, everybody goes into `into`. */
  hasGroupColumn: boolean;
  dateOrder: DateOrder;
  known: readonly KnownPerson[];
}

export type RowReason =
  | { code: 'name missing' }
  | { code: 'email'; problem: EmailProblem }
  | { code: 'email of another row'; likeRow: number }
  | { code: 'ID number of another row'; likeRow: number }
  | { code: 'rows contradict'; likeRow: number }
  | { code: 'group missing' }
  | { code: 'group unknown' | 'group ambiguous'; group: string; near: string | null }
  | { code: 'no such day' | 'not a date'; field: 'firstDay' | 'lastDay' }
  | { code: 'ends before it starts' }
  | { code: 'known by another name' }
  | { code: 'two known people' }
  | { code: 'administrator' };

export interface DetailChange {
  field: 'givenName' | 'familyName' | 'email' | 'idNumber';
  before: string;
  after: string;
}

export type RowOutcome = 'new' | 'joins' | 'changes' | 'nothing' | 'needs a look';

export interface CheckedRow {
  row: number;
  outcome: RowOutcome;
  reason: RowReason | null;
  /** The cell to mend; null when the row is whole. */
  field: RosterField | null;
  /** The cells as they were read, for showing. */
  cells: RosterRow['cells'];
}

/** What one person's good rows come to. */
export interface RosterPerson extends PersonName {
  rows: number[];
  personId: number | null;
  email: string | null;
  idNumber: string | null;
  memberships: { groupId: GroupId; firstDay: Day | null; lastDay: Day | null }[];
  tags: string[];
  changes: DetailChange[];
}

export interface CheckedRoster {
  rows: CheckedRow[];
  /** Everybody who would be brought in or changed; rows that need a look are not in it. */
  people: RosterPerson[];
}

/** Tags in a cell stand apart by commas, semicolons or bars. */
const splitTags = (cell: string): string[] => [
  ...new Set(
    cell
      .split(/[,;|]/u)
      .map(tidyName)
      .filter((tag) => tag !== ''),
  ),
];

/**
 * Row by row what a roster would do. Pure: run in the browser's worker and again on the server.
 *
 * People are matched by ID number, then by email; two rows of one person with two groups put them in
 * both. A blank cell never erases what is known. What contradicts needs a look, and is never guessed.
 */
export function checkRoster(rows: readonly RosterRow[], facts: RosterFacts): CheckedRoster {
  const find = groupFinder(facts.tree, facts.into);
  const known = knownPeople(facts.known);
  const byEmail = new Map<string, ReadRow>();
  const byIdNumber = new Map<string, ReadRow>();
  const people = new Map<ReadRow, RosterPerson>();
  const checked: CheckedRow[] = [];

  for (const { row, cells } of rows) {
    const read = readRow(row, cells, facts, find);
    const needsLook = (reason: RowReason, field: RosterField): void => {
      checked.push({ row, outcome: 'needs a look', reason, field, cells });
    };
    if ('reason' in read) {
      needsLook(read.reason, read.field);
      continue;
    }
    const like = sameInFile(read, byEmail, byIdNumber);
    if (like && 'reason' in like) {
      needsLook(like.reason, like.field);
      continue;
    }
    const match = known(read);
    if (match && 'reason' in match) {
      needsLook(match.reason, match.field);
      continue;
    }
    const first = like?.row ?? read;
    const changes = match ? detailChanges(match.person, read) : [];
    if (match?.person.isAdministrator && changes.length > 0) {
      needsLook({ code: 'administrator' }, changes[0]?.field ?? 'email');
      continue;
    }
    if (read.email && !byEmail.has(emailKey(read.email))) byEmail.set(emailKey(read.email), first);
    if (read.idNumber && !byIdNumber.has(read.idNumber)) byIdNumber.set(read.idNumber, first);

    const person = people.get(first) ?? newPerson(read, match?.person ?? null);
    people.set(first, person);
    person.rows.push(row);
    person.email ??= read.email;
    person.idNumber ??= read.idNumber;
    for (const change of changes) if (!person.changes.some(({ field }) => field === change.field)) person.changes.push(change);
    const joins = read.groups.filter(
      (groupId) => !match?.person.groups.includes(groupId) && !person.memberships.some((held) => held.groupId === groupId),
    );
    for (const groupId of joins) person.memberships.push({ groupId, firstDay: read.firstDay, lastDay: read.lastDay });
    const tags = read.tags.filter((tag) => !match?.person.tags.includes(tag) && !person.tags.includes(tag));
    person.tags.push(...tags);
    const outcome = !match
      ? person.rows.length > 1
        ? 'joins'
        : 'new'
      : joins.length > 0
        ? 'joins'
        : changes.length > 0 || tags.length > 0
          ? 'changes'
          : 'nothing';
    checked.push({ row, outcome, reason: null, field: null, cells });
  }
  const acting = [...people.values()].filter(
    (person) => person.personId === null || person.memberships.length > 0 || person.changes.length > 0 || person.tags.length > 0,
  );
  return { rows: checked, people: acting };
}

interface ReadRow extends PersonName {
  row: number;
  email: string | null;
  idNumber: string | null;
  groups: GroupId[];
  tags: string[];
  firstDay: Day | null;
  lastDay: Day | null;
}
type Problem = { reason: RowReason; field: RosterField };

function readRow(row: number, cells: RosterRow['cells'], facts: RosterFacts, find: ReturnType<typeof groupFinder>): ReadRow | Problem {
  const text = (field: RosterField): string => tidyName(cells[field] ?? '');
  const name =
    cells.fullName !== undefined && text('familyName') === ''
      ? splitFullName(text('fullName'))
      : { givenName: text('givenName'), familyName: text('familyName') };
  if (name.givenName === '' && name.familyName === '')
    return { reason: { code: 'name missing' }, field: cells.fullName === undefined ? 'familyName' : 'fullName' };

  const email = text('email') || null;
  const wrong = email === null ? null : emailProblem(email);
  if (wrong) return { reason: { code: 'email', problem: wrong }, field: 'email' };

  const groups: GroupId[] = [];
  const groupCell = text('group');
  if (facts.hasGroupColumn && groupCell === '') return { reason: { code: 'group missing' }, field: 'group' };
  for (const path of splitGroups(groupCell)) {
    const found = find(path);
    if ('problem' in found) return { reason: { code: `group ${found.problem}`, group: path, near: found.near }, field: 'group' };
    groups.push(found.groupId);
  }
  if (groups.length === 0) groups.push(facts.into);

  const days: Record<'firstDay' | 'lastDay', Day | null> = { firstDay: null, lastDay: null };
  for (const field of ['firstDay', 'lastDay'] as const) {
    if (text(field) === '') continue;
    const read = readDay(text(field), facts.dateOrder);
    if ('problem' in read) return { reason: { code: read.problem, field }, field };
    days[field] = read.day;
  }
  if (days.firstDay && days.lastDay && days.lastDay < days.firstDay) return { reason: { code: 'ends before it starts' }, field: 'lastDay' };
  return { row, ...name, email, idNumber: text('idNumber') || null, groups, tags: splitTags(text('tags')), ...days };
}

/** An earlier row of the same person, or what contradicts it. */
function sameInFile(
  read: ReadRow,
  byEmail: ReadonlyMap<string, ReadRow>,
  byIdNumber: ReadonlyMap<string, ReadRow>,
): { row: ReadRow } | Problem | null {
  const withId = read.idNumber === null ? undefined : byIdNumber.get(read.idNumber);
  const withEmail = read.email === null ? undefined : byEmail.get(emailKey(read.email));
  const other = withId ?? withEmail;
  if (!other) return null;
  const agrees = (a: string | null, b: string | null): boolean => a === null || b === null || emailKey(a) === emailKey(b);
  const agreeing = sameName(read, other) && agrees(read.email, other.email) && agrees(read.idNumber, other.idNumber);
  if (agreeing && (!withId || !withEmail || withId === withEmail)) return { row: other };
  if (sameName(read, other)) return { reason: { code: 'rows contradict', likeRow: other.row }, field: withId ? 'email' : 'idNumber' };
  return withId
    ? { reason: { code: 'ID number of another row', likeRow: withId.row }, field: 'idNumber' }
    : { reason: { code: 'email of another row', likeRow: other.row }, field: 'email' };
}

function knownPeople(known: readonly KnownPerson[]): (read: ReadRow) => { person: KnownPerson } | Problem | null {
  const byEmail = new Map(known.flatMap((person) => (person.email ? [[emailKey(person.email), person] as const] : [])));
  const byIdNumber = new Map(known.flatMap((person) => (person.idNumber ? [[person.idNumber, person] as const] : [])));
  return (read) => {
    const withId = read.idNumber === null ? undefined : byIdNumber.get(read.idNumber);
    const withEmail = read.email === null ? undefined : byEmail.get(emailKey(read.email));
    if (withId && withEmail && withId !== withEmail) return { reason: { code: 'two known people' }, field: 'email' };
    const person = withId ?? withEmail;
    if (!person) return null;
    const field = withId ? 'idNumber' : 'email';
    const idDiffers = read.idNumber !== null && person.idNumber !== null && read.idNumber !== person.idNumber;
    // One of the two names may have changed, by marriage or a mended spelling; both at once is somebody else.
    const sharesName =
      sameName({ ...read, familyName: '' }, { ...person, familyName: '' }) ||
      sameName({ ...read, givenName: '' }, { ...person, givenName: '' });
    return !sharesName || idDiffers ? { reason: { code: 'known by another name' }, field } : { person };
  };
}

function detailChanges(person: KnownPerson, read: ReadRow): DetailChange[] {
  const fields = ['givenName', 'familyName', 'email', 'idNumber'] as const;
  return fields.flatMap((field) => {
    const [before, after] = [person[field] ?? '', read[field] ?? ''];
    const same = field === 'email' ? emailKey(before) === emailKey(after) : before === after;
    return after === '' || same ? [] : [{ field, before, after }];
  });
}

function newPerson(read: ReadRow, match: KnownPerson | null): RosterPerson {
  return {
    rows: [],
    personId: match?.id ?? null,
    givenName: read.givenName,
    familyName: read.familyName,
    email: read.email,
    idNumber: read.idNumber,
    memberships: [],
    tags: [],
    changes: [],
  };
}
