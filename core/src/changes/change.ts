import type { CourseId, DueRule, PersonId, GrantId, UnitId } from '../access/grant.ts';
import type { DateOrder, RosterRow } from '../entry/roster-fields.ts';
import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';

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
  | { kind: 'rename-group'; groupId: GroupId; name: string }
  | { kind: 'undo'; changeId: number };

export type ChangeKind = Change['kind'];
export const changeKinds = [
  'bring-in-roster',
  'grant-access',
  'add-members',
  'remove-members',
  'rename-group',
  'undo',
] as const satisfies readonly ChangeKind[];
