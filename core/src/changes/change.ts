import type { Power } from '../accounts/powers.ts';
import type { CourseId, DueRule, PersonId, GrantId, UnitId } from '../access/grant.ts';
import type { DateOrder, RosterRow } from '../entry/roster-fields.ts';
import type { GroupId } from '../groups/tree.ts';
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

/** One thing that hangs on somebody, and who takes it; null: it ends with them. */
export interface HandOverLine {
  what: 'leads' | 'contact';
  groupId: GroupId;
  toId: PersonId | null;
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
      rows: RosterRow[];
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
  | { kind: 'make-courses'; courses: NewCourse[] }
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
  'make-courses',
  'undo',
] as const satisfies readonly ChangeKind[];
