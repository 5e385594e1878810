import type { Change, ChangeKind } from '@gate-roster/contract';
import type { CourseNow, World } from './world-now.ts';

/** Makes one change of a kind, about things that are there. */
export type Maker<K extends ChangeKind> = (pick: (list: readonly number[]) => number, w: World, n: number) => Extract<Change, { kind: K }>;

export const courseOf = (w: World, n: number): CourseNow => w.courses[n % w.courses.length] ?? { id: 0, units: [], home: null };

type CourseKind = 'make-courses' | 'edit-course' | 'take-feed' | 'make-course-set' | 'edit-course-set' | 'delete-course-set';

/** Samples of the kinds that alter courses and course sets. */
export const courseMakers: { [K in CourseKind]: Maker<K>[] } = {
  'make-courses': [
    (pick, w, n) => ({
      kind: 'make-courses',
      courses: [{ name: `Course ${n}`, units: [{ name: 'Only unit', activities: ['Read', 'Do'] }] }],
      homeId: n % 3 === 0 ? (w.groups[n % w.groups.length] ?? null) : null,
    }),
  ],
  'edit-course': [
    (_, w, n) => ({
      kind: 'edit-course',
      courseId: courseOf(w, n).id,
      values: { name: `Course renamed ${n}`, passScore: n % 3 === 0 ? 90 : null },
    }),
    (_, w, n) => ({
      kind: 'edit-course',
      courseId: courseOf(w, n).id,
      values: courseOf(w, n).home === null ? { terms: (['everyone', 'group', 'request'] as const)[n % 3] ?? 'group' } : { homeId: null },
    }),
    (_, w, n) => ({ kind: 'edit-course', courseId: courseOf(w, n).id, values: { archived: n % 3 > 0 } }),
    // Without its last unit: who has done the others is done.
    (_, w, n) => {
      const { id, units } = courseOf(w, n);
      return { kind: 'edit-course', courseId: id, values: {}, units: units.length > 1 ? units.slice(0, -1) : units };
    },
    // With one more, in another order, and one activity less.
    (_, w, n) => {
      const { id, units, home } = courseOf(w, n);
      const finishedBy = home === null ? ('player' as const) : ('learner' as const);
      const fresh = {
        id: null,
        name: `New unit ${n}`,
        activities: [{ id: null, name: 'Do', scored: n % 2 > 0, finishedBy, handIn: null, content: null }],
      };
      const changed = units.map((unit, index) =>
        index === 0 && unit.activities.length > 1 ? { ...unit, activities: unit.activities.slice(1) } : unit,
      );
      return { kind: 'edit-course', courseId: id, values: {}, units: n % 2 ? [...changed.reverse(), fresh] : changed };
    },
  ],
  'take-feed': [
    (pick, w, n) => ({
      kind: 'take-feed',
      feedId: pick(w.feeds),
      take: ['vhf-1', 'twr-1', 'rope-1', 'tide-1'].filter((_, index) => (n >> index) % 2 === 0),
      archive: n % 3 === 0 ? w.offeredNoMore : [],
    }),
  ],
  'make-course-set': [
    (pick, w, n) => ({
      kind: 'make-course-set',
      name: `Set ${n}`,
      holds: { courses: [courseOf(w, n).id], sets: n % 2 ? [pick(w.sets)] : [] },
    }),
  ],
  'edit-course-set': [
    (pick, w, n) => ({
      kind: 'edit-course-set',
      courseSetId: pick(w.sets),
      add: { courses: [courseOf(w, n).id], sets: n % 3 === 0 ? [pick(w.sets)] : [] },
      takeOut: { courses: [courseOf(w, n + 1).id], sets: n % 5 === 0 ? w.sets : [] },
    }),
  ],
  'delete-course-set': [(pick, w) => ({ kind: 'delete-course-set', courseSetId: pick(w.sets) })],
};
