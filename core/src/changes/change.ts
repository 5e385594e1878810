import type { Power } from '../accounts/powers.ts';
import type { LicenceId, OnLeaving } from '../seats/licence.ts';
import type { CourseId, DueRule, PersonId, GrantId, Payers, UnitId } from '../access/grant.ts';
import type { JoinAsks } from '../entry/join-questions.ts';
import type { NameAndAddress } from '../entry/read-people.ts';
import type { DateOrder, RosterRow } from '../entry/roster-fields.ts';
import type { GroupId } from '../groups/tree.ts';
import type { LetterKind, LetterText } from '../messages/letter.ts';
import type { Day, Span } from '../time/day.ts';

/** A grant that is not made yet. */
export interface GrantDraft {
  groupId: GroupId;
  courseId: CourseId;
  effect: 'open' | 'block';
  withSubgroups: boolean;
  firm: boolean;
  firstDay: Day | null;
  lastDay: Day | null;
  units: UnitId[] | null;
  due: DueRule | null;
  /** Which licences pay for an open; left out or null: it costs nobody a seat. */
  payers?: Payers | null | undefined;
}

export type TagId = number;

/** Some of the values; what is left out stays as it is. */
export type Some<T> = { [K in keyof T]?: T[K] | undefined };

/** A person who will lead: known, or by name and address. */
export interface NewLeader {
  who: { personId: PersonId } | { givenName: string; familyName: string; email: string };
  powers: Power[];
  firstDay: Day | null;
  lastDay: Day | null;
}

/** A group that is not made yet. */
export interface NewGroup {
  name: string;
  /** Index of an earlier group of the same list that it goes into; null: the parent of them all. */
  within: number | null;
  /** The group whose shape and fields it copies. */
  like: GroupId | null;
  leaders: NewLeader[];
}

export const groupColours = ['tide', 'kelp', 'brass', 'slate', 'flare', 'plum'] as const;
export type GroupColour = (typeof groupColours)[number];

/** What can be said of a group; only the name is needed. */
export interface GroupValues extends Span {
  name: string;
  idNumber: string | null;
  description: string | null;
  colour: GroupColour | null;
  pictureId: number | null;
  contactId: PersonId | null;
  signInPrefix: string | null;
  youngLearners: boolean;
  /** Names of tags. */
  tags: string[];
  handouts: { title: string; url: string | null; uploadId: number | null }[];
}

export interface PersonValues {
  givenName: string;
  familyName: string;
  email: string | null;
  signInName: string | null;
  idNumber: string | null;
  nameHidden: boolean;
}

/** What a join code says. */
export interface JoinCodeValues {
  /** Every group it opens, the one whose branch it stands in first. */
  groupIds: GroupId[];
  /** What somebody thought up; null: made by chance. */
  chosen: string | null;
  note: string | null;
  /** Names of tags that whoever comes in gets. */
  tags: string[];
  /** A code for leaders: what it lets them do in its groups. */
  powers: Power[] | null;
  /** Moments, UTC. */
  firstAt: string | null;
  lastAt: string | null;
  useLimit: number | null;
  emailEnding: string | null;
  needsDecision: boolean;
  paused: boolean;
  asks: JoinAsks;
}

/** One thing that hangs on somebody, and who takes it; null: it ends with them. */
export interface HandOverLine {
  what: 'leads' | 'contact' | 'code';
  groupId: GroupId;
  /** With `code`: which one. */
  codeId?: number | undefined;
  toId: PersonId | null;
}

/** What a licence says. */
export interface LicenceValues extends Span {
  name: string;
  seats: number;
  about: { course: CourseId } | { courseSet: number };
  homeId: GroupId;
  onLeaving: OnLeaving;
}

/** A course in words: its units, and the activities of each. */
export interface NewCourse {
  name: string;
  units: { name: string; activities: string[] }[];
}

/** Every act that alters the roster or access. Whoever makes it, it is looked at, applied, logged and undone alike. */
export type Change =
  | {
      kind: 'bring-in-roster';
      into: GroupId;
      /** The file's name; null when the rows were typed. */
      fileName: string | null;
      hasGroupColumn: boolean;
      dateOrder: DateOrder;
      /** Empty when they were put on the server before, in parts, under `fileId`. */
      rows: RosterRow[];
      fileId?: string | null | undefined;
      /** Paths of groups that do not stand and are to be made. */
      newGroups?: string[] | undefined;
      /** Changes of details that are declined: `row/field`. */
      declined?: string[] | undefined;
      /** `replace`: whoever is not in the file leaves the group, not the platform. */
      mode?: 'add' | 'replace' | undefined;
      /** Percent of the group's people that a replaced list may take out at the most. */
      mostLeaving?: number | undefined;
      /** Write to the new people that have an address; at which moment (UTC), null: at once. */
      write?: { at: string | null } | null | undefined;
    }
  | { kind: 'grant-access'; begin: GrantDraft[]; end: GrantId[] }
  | { kind: 'add-members'; groupId: GroupId; personIds: PersonId[]; firstDay: Day | null; lastDay: Day | null }
  | { kind: 'remove-members'; groupId: GroupId; personIds: PersonId[] }
  | { kind: 'move-members'; fromId: GroupId; intoId: GroupId; personIds: PersonId[] }
  | { kind: 'make-groups'; parentId: GroupId; groups: NewGroup[] }
  | { kind: 'edit-group'; groupId: GroupId; values: Some<GroupValues> }
  | { kind: 'move-groups'; groupIds: GroupId[]; intoId: GroupId }
  | { kind: 'set-group-state'; groupIds: GroupId[]; state: 'active' | 'archived' }
  /** People always stay; subgroups move up to the parent, or go too. */
  | { kind: 'delete-groups'; groupIds: GroupId[]; subgroups: 'move up' | 'go too' }
  | { kind: 'tag-people'; personIds: PersonId[]; groupId: GroupId; add: string[]; remove: TagId[] }
  | { kind: 'edit-tag'; tagId: TagId; name: string; colour: GroupColour | null }
  | { kind: 'merge-tags'; tagId: TagId; gone: TagId[] }
  | { kind: 'edit-person'; personId: PersonId; values: Some<PersonValues> }
  | { kind: 'set-person-state'; personIds: PersonId[]; state: 'active' | 'paused' | 'ended'; firstDay: Day | null; lastDay: Day | null }
  | { kind: 'merge-people'; personId: PersonId; goneId: PersonId }
  | { kind: 'erase-person'; personId: PersonId }
  | { kind: 'set-leaders'; groupId: GroupId; begin: NewLeader[]; end: PersonId[] }
  | { kind: 'hand-over'; fromId: PersonId; lines: HandOverLine[]; cover: { firstDay: Day; lastDay: Day } | null }
  | { kind: 'take-back-invitation'; invitationId: number }
  | { kind: 'invite-people'; groupIds: GroupId[]; people: NameAndAddress[]; words: string | null }
  | { kind: 'send-invitations-again'; invitationIds: number[] }
  | { kind: 'make-code'; values: JoinCodeValues }
  /** With `replace` the code that stood stops working and another takes its place. */
  | { kind: 'edit-code'; codeId: number; values: Some<JoinCodeValues>; replace: boolean }
  | { kind: 'delete-code'; codeId: number }
  /** `asPerson`: the one who asks is somebody known; their accounts become one. */
  | { kind: 'decide-requests'; requestIds: number[]; decision: 'let in' | 'turn away'; asPerson: PersonId | null; word: string | null }
  /** A branch's own text for a kind of letter; null: the text from above counts again. */
  | { kind: 'edit-letter'; groupId: GroupId; letter: LetterKind; text: LetterText | null }
  | { kind: 'make-courses'; courses: NewCourse[] }
  | { kind: 'make-licence'; values: LicenceValues }
  | { kind: 'edit-licence'; licenceId: LicenceId; values: Some<Omit<LicenceValues, 'about' | 'homeId'>> }
  /** The most seats that branches may use; null: no limit of their own. */
  | { kind: 'limit-seats'; licenceId: LicenceId; limits: { groupId: GroupId; most: number | null }[] }
  | { kind: 'undo'; changeId: number };

export type ChangeKind = Change['kind'];
export const changeKinds = [
  'bring-in-roster',
  'grant-access',
  'add-members',
  'remove-members',
  'move-members',
  'make-groups',
  'edit-group',
  'move-groups',
  'set-group-state',
  'delete-groups',
  'tag-people',
  'edit-tag',
  'merge-tags',
  'edit-person',
  'set-person-state',
  'merge-people',
  'erase-person',
  'set-leaders',
  'hand-over',
  'take-back-invitation',
  'invite-people',
  'send-invitations-again',
  'make-code',
  'edit-code',
  'delete-code',
  'decide-requests',
  'edit-letter',
  'make-courses',
  'make-licence',
  'edit-licence',
  'limit-seats',
  'undo',
] as const satisfies readonly ChangeKind[];
