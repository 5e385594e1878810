import { type CourseEffect, type CourseId, type Effects, emptyWho, resolveInParts, type RunningPart } from '@gate-roster/core';
import { asSeen, grantsByCourse, learners, rulesOf } from '../access/load-rules.ts';
import type { PlanContext } from '../changes/plan.ts';
import type { StoredPart } from './running.ts';

/** A group as a split divides it. */
export interface DividedGroup {
  groupId: number;
  makerBranch: number | null;
  parts: readonly Pick<StoredPart, 'key' | 'isOn' | 'allowance'>[];
  members: readonly { personId: number; part: number }[];
}

export type EffectsForNow = Pick<Effects, 'opensForNow' | 'closesForNow' | 'stillForNow'>;

/**
 * What opens and closes for whom when a group is divided otherwise than before (null: it is not divided), and what a part closes in its
 * group and stays open by another way. Splits of other groups are neither counted nor told.
 */
export async function effectsForNow(context: PlanContext, before: DividedGroup | null, after: DividedGroup | null): Promise<EffectsForNow> {
  const { db, tree, seen, today } = context;
  const [was, is] = [partsByPerson(before), partsByPerson(after)];
  const about = await grantsByCourse(db, coursesIn([...was.values(), ...is.values()]));
  const people = (await learners(db, [...new Set([...was.keys(), ...is.keys()])])).map((learner) => asSeen(learner, seen));
  const found = { opens: new Map<CourseId, number[]>(), closes: new Map<CourseId, number[]>(), still: new Map<CourseId, number[]>() };
  for (const rules of rulesOf(tree, about)) {
    // People in the same groups and the same part have the same, unless something is said of them by name.
    const known = new Map<string, keyof typeof found | null>();
    for (const learner of people) {
      const [from, to] = [was.get(learner.personId), is.get(learner.personId)];
      const { personId, ...rest } = learner;
      const key = JSON.stringify([rules.onPerson.has(personId) ? personId : null, rest, from?.key, to?.key]);
      if (!known.has(key)) {
        const open = (part: RunningPart | undefined): number[] => {
          const { kept, offered } = resolveInParts(rules, learner, today, part ? [part] : []);
          return [...kept, ...offered.flatMap(({ units }) => units)];
        };
        const [had, has] = [open(from?.running), open(to?.running)];
        const stays = to?.running
          ? resolveInParts(rules, learner, today, [to.running]).kept.some((unit) => !allows(to.running, rules.course.id, unit))
          : false;
        known.set(
          key,
          had.length === 0 && has.length > 0 ? 'opens' : had.length > 0 && has.length === 0 ? 'closes' : stays ? 'still' : null,
        );
      }
      const turn = known.get(key);
      if (turn) found[turn].set(rules.course.id, [...(found[turn].get(rules.course.id) ?? []), personId]);
    }
  }
  const listed = (list: ReadonlyMap<CourseId, number[]>): CourseEffect[] =>
    [...list].map(([courseId, persons]) => ({ courseId, day: null, who: { ...emptyWho(), persons }, people: persons.length }));
  return { opensForNow: listed(found.opens), closesForNow: listed(found.closes), stillForNow: listed(found.still) };
}

interface InPart {
  key: string;
  running: RunningPart;
}

function partsByPerson(group: DividedGroup | null): Map<number, InPart> {
  if (!group) return new Map();
  const parts = new Map(
    group.parts.flatMap(({ key, isOn, allowance }) =>
      isOn ? [[key, { groupId: group.groupId, makerBranch: group.makerBranch, allowance }] as const] : [],
    ),
  );
  return new Map(
    group.members.flatMap(({ personId, part }) => {
      const running = parts.get(part);
      return running ? [[personId, { key: JSON.stringify(running), running }] as const] : [];
    }),
  );
}

/** Courses that parts make otherwise; null: all, since one leaves only some. */
function coursesIn(parts: readonly InPart[]): CourseId[] | null {
  const allowances = parts.flatMap(({ running }) => running.allowance ?? []);
  if (allowances.some(({ mode }) => mode === 'only')) return null;
  return [...new Set(allowances.flatMap(({ courses }) => courses.map(({ courseId }) => courseId)))];
}

function allows({ allowance }: RunningPart, courseId: CourseId, unit: number): boolean {
  if (!allowance || allowance.mode === 'as well') return true;
  const about = allowance.courses.find((each) => each.courseId === courseId);
  const isNamed = about !== undefined && (about.units === null || about.units.includes(unit));
  return allowance.mode === 'only' ? isNamed : !isNamed;
}
