import type { ActivityContent, Change, CourseSheet, CourseValues } from '@gate-roster/contract';
import { type FinishedBy, type HandIn, tidyTags } from '@gate-roster/core';
import { computed, type ComputedRef, ref, type Ref } from 'vue';

interface DraftActivity {
  key: number;
  /** null: it is not made yet. */
  id: number | null;
  name: string;
  scored: boolean;
  finishedBy: FinishedBy;
  handIn: HandIn | null;
  content: ActivityContent | null;
}

interface DraftUnit {
  key: number;
  id: number | null;
  name: string;
  activities: DraftActivity[];
}

/** Numbers stand as they are typed; blank: none. */
type Typed = Pick<CourseValues, 'name' | 'terms' | 'tags'> &
  Record<'code' | 'subject' | 'description' | 'passScore' | 'validMonths' | 'reopensDays', string>;

export interface CourseDraft {
  values: Ref<Typed>;
  units: Ref<DraftUnit[]>;
  /** Of a branch's own course: everybody's from now on. */
  forAll: Ref<boolean>;
  doneBy: Ref<'all' | 'some'>;
  /** Activities that make it done, where some do. */
  named: Ref<number[]>;
  name: (activityId: number) => void;
  move: (place: number, by: 1 | -1) => void;
  addUnit: () => void;
  removeUnit: (place: number) => void;
  addActivity: (unit: number) => void;
  removeActivity: (unit: number, place: number) => void;
  /** null: nothing is different, or something has no name yet. */
  change: ComputedRef<Extract<Change, { kind: 'edit-course' }> | null>;
}

/** What is typed into the form of a course, and the change that it comes to: only what is different is said. */
export function useCourseDraft(course: CourseSheet): CourseDraft {
  let keys = 0;
  const values = ref<Typed>({
    name: course.name,
    terms: course.terms,
    tags: [...course.tags],
    code: course.code ?? '',
    subject: course.subject ?? '',
    description: course.description ?? '',
    passScore: textOf(course.passScore),
    validMonths: textOf(course.validMonths),
    reopensDays: textOf(course.reopensDays),
  });
  const units = ref<DraftUnit[]>(
    course.units.map((unit) => ({
      key: ++keys,
      id: unit.id,
      name: unit.name,
      activities: unit.activities.map(({ id, name, scored, finishedBy, handIn, content }) => ({
        key: ++keys,
        id,
        name,
        scored,
        finishedBy,
        handIn: handIn && structuredClone(handIn),
        content: content && { ...content },
      })),
    })),
  );
  const doneBy = ref<'all' | 'some'>(course.doneByActivities === null ? 'all' : 'some');
  const named = ref<number[]>([...(course.doneByActivities ?? [])]);
  const forAll = ref(false);
  const isOwn = course.homeId !== null;
  const freshActivity = (): DraftActivity => ({
    key: ++keys,
    id: null,
    name: '',
    scored: !isOwn,
    finishedBy: isOwn ? 'learner' : 'player',
    handIn: null,
    content: null,
  });

  return {
    values,
    units,
    forAll,
    doneBy,
    named,
    name(id) {
      named.value = named.value.includes(id) ? named.value.filter((each) => each !== id) : [...named.value, id];
    },
    move(place, by) {
      const [moved] = units.value.splice(place, 1);
      if (moved) units.value.splice(place + by, 0, moved);
    },
    addUnit() {
      units.value.push({ key: ++keys, id: null, name: '', activities: [freshActivity()] });
    },
    removeUnit(place) {
      units.value.splice(place, 1);
    },
    addActivity(unit) {
      units.value[unit]?.activities.push(freshActivity());
    },
    removeActivity(unit, place) {
      units.value[unit]?.activities.splice(place, 1);
    },
    change: computed(() => {
      const typed = values.value;
      const wished = units.value.map(({ id, name, activities }) => ({
        id,
        name: name.trim(),
        activities: activities.map((each) => ({
          id: each.id,
          name: each.name.trim(),
          scored: each.scored,
          finishedBy: each.finishedBy,
          handIn: each.handIn,
          content: each.content,
        })),
      }));
      if (typed.name.trim() === '' || wished.some(({ name, activities }) => [name, ...activities.map((each) => each.name)].includes('')))
        return null;
      const there = new Set(wished.flatMap(({ activities }) => activities.flatMap(({ id }) => id ?? [])));
      const counting = named.value.filter((id) => there.has(id));
      const validMonths = numberOf(typed.validMonths);
      const now: Partial<CourseValues> = {
        name: typed.name.trim(),
        terms: typed.terms,
        tags: tidyTags(typed.tags),
        code: typed.code.trim() || null,
        subject: typed.subject.trim() || null,
        description: typed.description.trim() || null,
        passScore: numberOf(typed.passScore),
        validMonths,
        reopensDays: validMonths === null ? null : numberOf(typed.reopensDays),
        ...(forAll.value ? { homeId: null } : {}),
        doneByActivities: doneBy.value === 'some' && counting.length > 0 ? counting : null,
      };
      const different = Object.fromEntries(
        Object.entries(now).filter(([key, value]) => JSON.stringify(value) !== JSON.stringify(course[key as keyof CourseValues])),
      ) as Partial<CourseValues>;
      const before = course.units.map(({ id, name, activities }) => ({
        id,
        name,
        activities: activities.map((each) => ({
          id: each.id,
          name: each.name,
          scored: each.scored,
          finishedBy: each.finishedBy,
          handIn: each.handIn,
          content: each.content,
        })),
      }));
      const isOtherwise = JSON.stringify(wished) !== JSON.stringify(before);
      if (Object.keys(different).length === 0 && !isOtherwise) return null;
      return { kind: 'edit-course', courseId: course.id, values: different, ...(isOtherwise ? { units: wished } : {}) };
    }),
  };
}

const textOf = (value: number | null): string => (value === null ? '' : String(value));
/** A field of numbers gives text, or a number. */
const numberOf = (typed: string | number | null): number | null => (typed === '' || typed === null ? null : Number(typed));
