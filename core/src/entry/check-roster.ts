import type { Preset } from '../accounts/powers.ts';
import type { GroupId, Tree } from '../groups/tree.ts';
import type { PersonName } from '../people/person-name.ts';
import type { SignInNameProblem } from '../people/sign-in-name.ts';
import type { Day } from '../time/day.ts';
import type { EmailProblem } from './email.ts';
import { groupFinder } from './find-group.ts';
import { detailChanges, knownFinder, rowFinder } from './match-known.ts';
import { type ReadRow, readRow } from './read-row.ts';
import type { DateOrder, RosterField, RosterRow } from './roster-fields.ts';

/** Somebody the platform knows and whom the actor may see. */
export interface KnownPerson extends PersonName {
  id: number;
  email: string | null;
  idNumber: string | null;
  signInName: string | null;
  guardianEmail: string | null;
  nameHidden: boolean;
  isAdministrator: boolean;
  /** May the actor change their details? */
  isTheirs: boolean;
  /** Groups they are in, or will be. */
  groups: GroupId[];
  leads: GroupId[];
  tags: string[];
}

export interface RosterFacts {
  /** With the groups that would be made. */
  tree: Tree;
  /** The group on top of the screen: where people go, or below. */
  into: GroupId;
  /** Does the file say which group? If not, everybody goes into `into`. */
  hasGroupColumn: boolean;
  dateOrder: DateOrder;
  known: readonly KnownPerson[];
  /** In lower case; of anybody, seen or not: two cannot have one. */
  takenSignInNames: ReadonlySet<string>;
  /** ID numbers of this issuer that somebody has whom the actor may not see. */
  takenIdNumbers?: ReadonlySet<string>;
  /** May the actor make somebody a leader with these powers there? */
  mayAppoint: (preset: Preset) => boolean;
  /** Changes of details that somebody declined: `row/field`. */
  declined?: ReadonlySet<string>;
  /** What a group's text was mended to before, by the text in lower case. */
  proposals?: ReadonlyMap<string, string>;
}

export type RowReason =
  | { code: 'too many cells' }
  | { code: 'sheet error'; text: string }
  | { code: 'letters lost' }
  | { code: 'too long'; most: number }
  | { code: 'names turned'; likeRow: number }
  | { code: 'other days'; likeRow: number }
  | { code: 'name missing' }
  | { code: 'email'; problem: EmailProblem }
  | { code: 'email of another row'; likeRow: number }
  | { code: 'ID number of another row'; likeRow: number }
  | { code: 'sign-in name of another row'; likeRow: number }
  | { code: 'rows contradict'; likeRow: number }
  | { code: 'sign-in name'; problem: SignInNameProblem }
  | { code: 'sign-in name taken' }
  | { code: 'password too short' }
  | { code: 'not a choice' }
  | { code: 'power lacked' }
  | { code: 'group missing' }
  | { code: 'group unknown' | 'group ambiguous'; group: string; near: string | null }
  | { code: 'no such day' | 'not a date'; field: 'firstDay' | 'lastDay' }
  | { code: 'ends before it starts' }
  | { code: 'known by another name' }
  | { code: 'known by another number' }
  | { code: 'email of several' }
  | { code: 'ID number taken' }
  | { code: 'two known people' }
  | { code: 'administrator' }
  | { code: 'not yours' };
export type Problem = { reason: RowReason; field: RosterField | null };

export interface DetailChange {
  field: 'givenName' | 'familyName' | 'email' | 'idNumber' | 'signInName' | 'guardianEmail' | 'nameHidden';
  before: string;
  after: string;
}

export const rowOutcomes = ['new', 'joins', 'changes', 'nothing', 'needs a look'] as const;
export type RowOutcome = (typeof rowOutcomes)[number];

export interface CheckedRow {
  row: number;
  outcome: RowOutcome;
  reason: RowReason | null;
  /** The cell to mend; null when the row is whole, or wrong as a whole. */
  field: RosterField | null;
  /** The cells as they were read, for showing. */
  cells: RosterRow['cells'];
  /** Details of a known person that this row would change. */
  changes: DetailChange[];
  /** Details that it would change if that had not been declined. */
  declined: DetailChange[];
}

/** What one person's good rows come to. */
export interface RosterPerson extends PersonName {
  rows: number[];
  personId: number | null;
  email: string | null;
  idNumber: string | null;
  signInName: string | null;
  password: string | null;
  guardianEmail: string | null;
  nameHidden: boolean;
  memberships: { groupId: GroupId; firstDay: Day | null; lastDay: Day | null }[];
  leads: { groupId: GroupId; preset: Preset; firstDay: Day | null; lastDay: Day | null }[];
  /** All groups that the file names for them, whether or not they are in them already. */
  named: GroupId[];
  tags: string[];
  changes: DetailChange[];
}

export interface CheckedRoster {
  rows: CheckedRow[];
  /** Everybody who would be brought in or changed; rows that need a look are not in it. */
  people: RosterPerson[];
  /** Known people whom good rows mean, with the groups they name, for replacing a list. */
  listed: { personId: number; groups: GroupId[] }[];
}

const rowsInStep = 2000;

/**
 * Row by row what a roster would do. Pure: run in the browser's worker and again on the server.
 *
 * People are matched by ID number, then by email, by sign-in name alone only where the name agrees and nothing contradicts;
 * two rows of one person with two groups put them in both. A blank cell never erases what is known. What contradicts needs
 * a look, and is never guessed. `told` hears now and then how many rows are checked.
 */
export function checkRoster(rows: readonly RosterRow[], facts: RosterFacts, told: (rows: number) => void = () => undefined): CheckedRoster {
  const steps = rosterSteps(rows, facts);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    told(step.value);
  }
}

/** The same in steps, each yielding how many rows are checked, for whoever has other things to do in between. */
export function* rosterSteps(rows: readonly RosterRow[], facts: RosterFacts): Generator<number, CheckedRoster> {
  const find = groupFinder(facts.tree, facts.into);
  const known = knownFinder(facts);
  const earlier = rowFinder();
  const people = new Map<ReadRow, RosterPerson>();
  const checked: CheckedRow[] = [];

  for (const [index, each] of rows.entries()) {
    if (index % rowsInStep === 0) yield index;
    const { row, cells } = each;
    const needsLook = ({ reason, field }: Problem): void => {
      checked.push({ row, outcome: 'needs a look', reason, field, cells, changes: [], declined: [] });
    };
    const read = readRow(each, facts, find);
    if ('reason' in read) {
      needsLook(read);
      continue;
    }
    const like = earlier.find(read);
    const match = like && 'reason' in like ? null : known(read);
    const turned = like ? null : earlier.findTurned(read);
    const otherDays = like && 'row' in like ? sameGroupOtherDays(people.get(like.row), read) : null;
    if (like && 'reason' in like) needsLook(like);
    else if (match && 'reason' in match) needsLook(match);
    else if (turned && !match) needsLook(turned);
    else if (otherDays) needsLook(otherDays);
    else {
      const differing = match ? detailChanges(match.person, read) : [];
      const declined = differing.filter(({ field }) => facts.declined?.has(`${row}/${field}`));
      const changes = differing.filter((each) => !declined.includes(each));
      const stop = match && changes[0] ? keptFrom(match.person, changes[0]) : null;
      if (stop) {
        needsLook(stop);
        continue;
      }
      const first = like?.row ?? read;
      earlier.keep(read, first);
      const person = people.get(first) ?? newPerson(read, match?.person ?? null);
      people.set(first, person);
      checked.push({
        row,
        outcome: take(person, read, match?.person ?? null, changes),
        reason: null,
        field: null,
        cells,
        changes,
        declined,
      });
    }
  }
  yield rows.length;
  const all = [...people.values()];
  return {
    rows: checked,
    people: all.filter(
      (person) =>
        person.personId === null || person.memberships.length + person.leads.length + person.changes.length + person.tags.length > 0,
    ),
    listed: all.flatMap(({ personId, named }) => (personId === null ? [] : [{ personId, groups: named }])),
  };
}

/** A row that names a group once more, between other days than an earlier row of the same person. */
function sameGroupOtherDays(person: RosterPerson | undefined, read: ReadRow): Problem | null {
  const held = read.leads === null ? person?.memberships : person?.leads;
  const other = held?.find(
    ({ groupId, firstDay, lastDay }) => read.groups.includes(groupId) && (firstDay !== read.firstDay || lastDay !== read.lastDay),
  );
  return person && other ? { reason: { code: 'other days', likeRow: person.rows[0] ?? 0 }, field: 'firstDay' } : null;
}

/** A file changes no details of an administrator, and a leader's file none of people that are not wholly theirs. */
function keptFrom(person: KnownPerson, { field }: DetailChange): Problem | null {
  if (person.isAdministrator) return { reason: { code: 'administrator' }, field };
  return person.isTheirs ? null : { reason: { code: 'not yours' }, field };
}

/** Adds what a row says to its person. @returns What the row comes to. */
function take(person: RosterPerson, read: ReadRow, match: KnownPerson | null, changes: readonly DetailChange[]): RowOutcome {
  person.rows.push(read.row);
  person.email ??= read.email;
  person.idNumber ??= read.idNumber;
  person.signInName ??= read.signInName;
  person.password ??= read.password;
  person.guardianEmail ??= read.guardianEmail;
  for (const change of changes) if (!person.changes.some(({ field }) => field === change.field)) person.changes.push(change);
  const span = { firstDay: read.firstDay, lastDay: read.lastDay };
  let joins = 0;
  for (const groupId of read.groups) {
    if (read.leads !== null) {
      if (match?.leads.includes(groupId) || person.leads.some((held) => held.groupId === groupId)) continue;
      person.leads.push({ groupId, preset: read.leads, ...span });
      joins++;
    } else {
      if (!person.named.includes(groupId)) person.named.push(groupId);
      if (match?.groups.includes(groupId) || person.memberships.some((held) => held.groupId === groupId)) continue;
      person.memberships.push({ groupId, ...span });
      joins++;
    }
  }
  const tags = read.tags.filter((tag) => !match?.tags.includes(tag) && !person.tags.includes(tag));
  person.tags = [...person.tags, ...tags];
  if (!match) return person.rows.length === 1 ? 'new' : joins > 0 ? 'joins' : tags.length > 0 ? 'changes' : 'nothing';
  if (joins > 0) return 'joins';
  return changes.length + tags.length > 0 ? 'changes' : 'nothing';
}

function newPerson(read: ReadRow, match: KnownPerson | null): RosterPerson {
  return {
    rows: [],
    personId: match?.id ?? null,
    givenName: read.givenName,
    familyName: read.familyName,
    email: read.email,
    idNumber: read.idNumber,
    signInName: read.signInName,
    password: read.password,
    guardianEmail: read.guardianEmail,
    nameHidden: read.nameHidden ?? false,
    memberships: [],
    leads: [],
    named: [],
    tags: [],
    changes: [],
  };
}

/** How many rows come to what. */
export function countOutcomes(rows: readonly CheckedRow[]): Record<RowOutcome, number> {
  const counts: Record<RowOutcome, number> = { new: 0, joins: 0, changes: 0, nothing: 0, 'needs a look': 0 };
  for (const { outcome } of rows) counts[outcome]++;
  return counts;
}
