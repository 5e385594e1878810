import type { CourseId, UnitId } from '../access/grant.ts';
import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';

/* An automatic rule: when this happens to somebody of its branch who fits its filter, then it acts (product.md, Automatic rules). */

/** What sets a rule off. Groups are the rule's own or below it, with all that is below them. */
export type RuleWhen =
  | { when: 'enters'; groupId: GroupId }
  /** They leave it, and are still in the rule's branch. */
  | { when: 'leaves'; groupId: GroupId }
  /** Any of these courses opens to them. */
  | { when: 'gets'; courses: CourseId[] }
  /** Of a unit or an activity, when one is named. */
  | { when: 'begins'; courseId: CourseId; unitId?: UnitId | null | undefined; activityId?: number | null | undefined }
  /** No unit named: the course is done; else all activities of the unit are, or the one that is named. */
  | { when: 'finishes'; courseId: CourseId; unitId: UnitId | null; activityId?: number | null | undefined }
  /** Mean score of the course, or the score of an activity, 0 to 100. */
  | { when: 'scores'; courseId: CourseId; least: number; unitId?: UnitId | null | undefined; activityId?: number | null | undefined }
  | { when: 'tagged'; tagId: number }
  /** Nothing was heard of them for so many days. */
  | { when: 'idle'; days: number }
  | { when: 'day'; day: Day }
  /** So many days before or after the day on which they are due in any of these courses (none named: in any), and have not done it. */
  | { when: 'due'; courses: CourseId[]; days: number; side: 'before' | 'after' }
  /** So many days before the last day of their membership. */
  | { when: 'before end'; days: number };

/** What a rule does with somebody. */
export type RuleAct =
  | { act: 'put in'; groupId: GroupId }
  | { act: 'move'; fromId: GroupId; intoId: GroupId }
  | { act: 'take out'; groupId: GroupId }
  | { act: 'tag'; name: string }
  | { act: 'open'; courseId: CourseId }
  | { act: 'block'; courseId: CourseId }
  /** More days from the day on which it acts. */
  | { act: 'more time'; courseId: CourseId; days: number }
  /** The seat of a licence comes back, and goes to whoever is first in line. */
  | { act: 'give back a seat'; licenceId: number }
  | { act: 'write'; title: string; body: string }
  /** A letter to those who lead the group of the rule. */
  | { act: 'tell leaders'; words: string };

/** What happened in the roster, so that only rules are asked which it can set off. */
export type RuleOccasion = 'people' | 'access' | 'progress' | 'day';

/** Which of them can set off a rule. */
export function setOffBy({ when }: RuleWhen): readonly RuleOccasion[] {
  switch (when) {
    case 'enters':
    case 'leaves':
      return ['people', 'day'];
    case 'gets':
      return ['people', 'access', 'progress', 'day'];
    case 'begins':
    case 'finishes':
    case 'scores':
      return ['progress', 'day'];
    case 'tagged':
      return ['people', 'day'];
    case 'idle':
    case 'due':
    case 'day':
    case 'before end':
      return ['day'];
  }
}

/** Acts that leave somebody in the branch come first: who has been moved out of it cannot be written to any more. */
export const inOrder = (acts: readonly RuleAct[]): RuleAct[] => {
  const isLast = ({ act }: RuleAct): boolean => act === 'move' || act === 'take out';
  return [...acts.filter((act) => !isLast(act)), ...acts.filter(isLast)];
};
