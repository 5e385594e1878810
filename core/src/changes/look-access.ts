import { Alike } from '../access/alike.ts';
import { type CourseRules, courseRules, resolve } from '../access/resolve.ts';
import type { CourseFacts, Learner, PersonId, Grant, GrantId } from '../access/grant.ts';
import type { Window } from '../access/windows.ts';
import type { Tree } from '../groups/tree.ts';
import { addDays, type Day } from '../time/day.ts';
import type { CourseEffect, Who } from './effects.ts';

/** All who follow the same rules: a membership set, or one person with days or grants of their own. */
export interface LearnerClass {
  who: { set: number } | { person: PersonId };
  learner: Learner;
  /** How many counted people it stands for. */
  people: number;
}

export interface CourseGrants {
  course: CourseFacts;
  grants: readonly Grant[];
}

/** Learners to whom other units of a course would be open today than are now; none of them: it would be closed. */
export interface OpenTurn {
  courseId: number;
  who: LearnerClass['who'] | MovingLearner['who'];
  units: readonly number[];
}

export interface AccessEffects {
  gains: CourseEffect[];
  loses: CourseEffect[];
  still: CourseEffect[];
  /** For working out whose status would change. */
  openTurns: OpenTurn[];
}

/** Who gains, loses and still has a course when grants end and others begin. */
export function lookAtGrants(
  tree: Tree,
  courses: readonly CourseGrants[],
  classes: readonly LearnerClass[],
  delta: { end: readonly GrantId[]; begin: readonly { courseIds: readonly number[]; grant: Grant }[] },
  today: Day,
): AccessEffects {
  const turning = courses.flatMap(({ course, grants }) => {
    const stay = grants.filter(({ id }) => !delta.end.includes(id));
    const begun = delta.begin.filter(({ courseIds }) => courseIds.includes(course.id)).map(({ grant }) => grant);
    if (stay.length === grants.length && begun.length === 0) return [];
    const after = [...stay, ...begun];
    return {
      before: courseRules(tree, course, grants),
      after: courseRules(tree, course, after),
      closing: closingGrants(grants, after),
    };
  });
  const moving = classes.map(({ who, learner, people }): MovingLearner => ({
    who: 'person' in who ? { persons: [who.person] } : who,
    people,
    before: learner,
    after: learner,
  }));
  return lookAtShift(turning, moving, today);
}

/** Of the grants on a course before and after, those by which somebody can lose it: blocks that begin and opens that end. */
export const closingGrants = (before: readonly Grant[], after: readonly Grant[]): Grant[] => {
  const [was, is] = [before, after].map((list) => new Set(list.map(({ id }) => id))) as [Set<GrantId>, Set<GrantId>];
  return [
    ...after.filter(({ id, effect }) => effect === 'block' && !was.has(id)),
    ...before.filter(({ id, effect }) => effect === 'open' && !is.has(id)),
  ];
};

/** Those whose groups, or the rules of whose groups, would change: a class that is alike before and after, or new people. */
export interface MovingLearner {
  who: { set: number } | { persons: readonly PersonId[] } | { newcomers: number };
  people: number;
  before: Learner | null;
  after: Learner | null;
}

/** Who gains, loses and still has which course when people's groups change. */
export function lookAtMoves(rules: readonly CourseRules[], moving: readonly MovingLearner[], today: Day): AccessEffects {
  return lookAtShift(
    rules.map((course) => ({ before: course, after: course })),
    moving,
    today,
  );
}

/** One course before and after a change. */
export interface TurningCourse {
  before: CourseRules;
  after: CourseRules;
  /** Grants by which somebody can lose it: whom they mean and who has it all the same is named. */
  closing?: readonly Grant[];
  /** What makes it done is otherwise, so that a status can follow where the same units stay open. */
  redefined?: boolean;
}

/** The same when the rules change too: groups move, rest or go; grants begin and end; a course says other things of itself. */
export function lookAtShift(courses: readonly TurningCourse[], moving: readonly MovingLearner[], today: Day): AccessEffects {
  const tally = new EffectTally();
  for (const { before, after, closing = [], redefined = false } of courses) {
    const courseId = before.course.id;
    const compared = new Compared(before, after, today);
    for (const each of moving) {
      // No grant of most courses reaches most people, before or after.
      if (!redefined && compared.isClosedTo(each.before, each.after)) continue;
      const { after: afterwards, turns, open, isOpenOtherwise } = compared.of(each.before, each.after);
      tally.addTurns(courseId, each, turns, redefined || isOpenOtherwise ? open : null);
      const { before: was } = each;
      if (was && closing.some((grant) => isMeant(before.tree, grant, was)) && unitsOn(afterwards, today).length > 0) {
        tally.add('still', courseId, fromNow, each);
        continue;
      }
      const left = (each.before?.memberships ?? []).filter(
        (held) => !each.after?.memberships.some(({ groupId }) => groupId === held.groupId),
      );
      if (left.length === 0 || !each.before || unitsOn(afterwards, today).length === 0) continue;
      // Through which group they had it: those who are alike have it through others.
      const hadByLeft = resolve(before, each.before, today).paths.some((path) => left.some(({ groupId }) => groupId === path.groupId));
      if (hadByLeft) tally.add('still', courseId, fromNow, each);
    }
  }
  return tally.result();
}

/**
 * People who are alike before and after, as one class each: a thousand who join one group are a handful of classes.
 * Whoever has grants of their own (`withOwn`) is a class alone.
 */
export function movingClasses(
  people: readonly { personId: PersonId; before: Learner | null; after: Learner | null }[],
  withOwn: ReadonlySet<PersonId>,
): MovingLearner[] {
  const classes = new Map<string, { who: { persons: PersonId[] }; people: number; before: Learner | null; after: Learner | null }>();
  for (const { personId, before, after } of people) {
    const key = withOwn.has(personId)
      ? `own ${personId}`
      : JSON.stringify([before, after], (name, value: unknown) => (name === 'personId' ? undefined : value));
    const known = classes.get(key);
    if (known) {
      known.who.persons.push(personId);
      known.people++;
    } else classes.set(key, { who: { persons: [personId] }, people: 1, before, after });
  }
  return [...classes.values()];
}

/** From when on somebody has more, or less, than before; null: from today on. */
interface Turns {
  gained?: Turn;
  lost?: Turn;
}
interface Turn {
  day: Day | null;
  /** Other units were open before, or stay open. */
  isPart: boolean;
}
interface Comparison {
  after: readonly Window[];
  turns: Turns;
  /** The units that are open today afterwards, and whether they are others than before. */
  open: readonly number[];
  isOpenOtherwise: boolean;
}

/** One course before and after, for many learners: those who are alike on both sides are compared once. */
class Compared {
  readonly #before: Alike;
  readonly #after: Alike;
  readonly #today: Day;
  /** A mark stands for what is said by groups, not for what the course says of itself. */
  readonly #isSameCourse: boolean;
  readonly #known = new Map<string, Comparison>();

  constructor(before: CourseRules, after: CourseRules, today: Day) {
    const numbers = new Map<string, number>();
    this.#before = new Alike(before, numbers);
    this.#after = before === after ? this.#before : new Alike(after, numbers);
    this.#today = today;
    this.#isSameCourse = before.course === after.course;
  }

  isClosedTo(was: Learner | null, is: Learner | null): boolean {
    return (was === null || this.#before.isClosedTo(was)) && (is === null || this.#after.isClosedTo(is));
  }

  of(was: Learner | null, is: Learner | null): Comparison {
    const [markBefore, markAfter] = [was && this.#before.mark(was), is && this.#after.mark(is)];
    const key = `${markBefore ?? 'nobody'}>${markAfter ?? 'nobody'}`;
    const known = this.#known.get(key);
    if (known) return known;
    const before = was && markBefore !== null ? this.#before.windowsOf(markBefore, was) : [];
    const after = is && markAfter !== null ? this.#after.windowsOf(markAfter, is) : [];
    const [openBefore, openAfter] = [unitsOn(before, this.#today), unitsOn(after, this.#today)];
    const isSame = this.#isSameCourse && markBefore === markAfter;
    const found = {
      after,
      turns: isSame ? {} : this.#turns(before, after),
      open: openAfter,
      isOpenOtherwise: !isSame && openBefore.join() !== openAfter.join(),
    };
    this.#known.set(key, found);
    return found;
  }

  #turns(before: readonly Window[], after: readonly Window[]): Turns {
    const [gained, lost] = [firstDayOnlyIn(after, before, this.#today), firstDayOnlyIn(before, after, this.#today)];
    const turn = (day: Day, otherwise: readonly Window[]): Turn => ({
      day: day === this.#today ? null : day,
      isPart: unitsOn(otherwise, day).length > 0,
    });
    return { ...(gained && { gained: turn(gained, before) }), ...(lost && { lost: turn(lost, after) }) };
  }
}

const fromNow: Turn = { day: null, isPart: false };

type Counted = { who: LearnerClass['who'] | MovingLearner['who']; people: number };

type CourseList = 'gains' | 'loses' | 'still';

class EffectTally {
  readonly #found: Record<CourseList, Map<string, CourseEffect>> = { gains: new Map(), loses: new Map(), still: new Map() };
  readonly #openTurns: OpenTurn[] = [];

  addTurns(courseId: number, each: Counted, { gained, lost }: Turns, openTurn: readonly number[] | null): void {
    if (openTurn) this.#openTurns.push({ courseId, who: each.who, units: openTurn });
    if (gained) this.add('gains', courseId, gained, each);
    if (lost) this.add('loses', courseId, lost, each);
  }

  add(list: CourseList, courseId: number, { day, isPart }: Turn, { who, people }: Counted): void {
    if (people === 0) return;
    const key = `${courseId}@${day ?? ''}`;
    const effect = this.#found[list].get(key) ?? { courseId, day, who: emptyWho(), people: 0, partly: 0 };
    effect.people += people;
    if (isPart) effect.partly = (effect.partly ?? 0) + people;
    if ('newcomers' in who) effect.who.newcomers.push(who.newcomers);
    else if ('set' in who) effect.who.sets.push(who.set);
    else if ('persons' in who) for (const person of who.persons) effect.who.persons.push(person);
    else effect.who.persons.push(who.person);
    this.#found[list].set(key, effect);
  }

  result(): AccessEffects {
    const sorted = (list: Map<string, CourseEffect>): CourseEffect[] =>
      [...list.values()].sort((a, b) => a.courseId - b.courseId || (a.day ?? '').localeCompare(b.day ?? ''));
    return {
      gains: sorted(this.#found.gains),
      loses: sorted(this.#found.loses),
      still: sorted(this.#found.still),
      openTurns: this.#openTurns,
    };
  }
}

export const emptyWho = (): Who => ({ sets: [], persons: [], newcomers: [] });

/** The first day from today on which `a` opens a unit that `b` does not. */
function firstDayOnlyIn(a: readonly Window[], b: readonly Window[], today: Day): Day | null {
  const turns = new Set<Day>([today]);
  for (const { firstDay, lastDay } of [...a, ...b]) {
    if (firstDay !== null && firstDay > today) turns.add(firstDay);
    if (lastDay !== null && lastDay >= today) turns.add(addDays(lastDay, 1));
  }
  for (const day of [...turns].sort()) {
    const theirs = unitsOn(b, day);
    if (unitsOn(a, day).some((unit) => !theirs.includes(unit))) return day;
  }
  return null;
}

const isWithin = (window: Window, day: Day): boolean =>
  (window.firstDay === null || window.firstDay <= day) && (window.lastDay === null || day <= window.lastDay);

const unitsOn = (list: readonly Window[], day: Day): readonly number[] => list.find((window) => isWithin(window, day))?.units ?? [];

/** Does the grant speak of this learner at all, whoever wins in the end? */
function isMeant(tree: Tree, grant: Grant, learner: Learner): boolean {
  const { at } = grant;
  if ('person' in at) return at.person === learner.personId;
  return learner.memberships.some(
    ({ groupId }) => groupId === at.group || (at.withSubgroups && tree.has(groupId) && tree.isInBranch(groupId, at.group)),
  );
}
