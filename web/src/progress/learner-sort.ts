import { type LearnerSort, type LearnerSortBy, nextLearnerSort, readLearnerSort, writeLearnerSort } from '@gate-roster/core';
import { computed, type Ref } from 'vue';
import { useUrlState } from '../shell/url-state.ts';
import { learnerSortCode } from './report-rows.ts';

/** What a table of learners is sorted by, in the address. */
export function useLearnerSort(): {
  /** As it is asked for. */
  sort: Ref<string>;
  directionOf: (by: LearnerSortBy) => 'ascending' | 'descending' | 'none';
  press: (by: LearnerSortBy) => void;
} {
  const sort = useUrlState('sort', 'name', learnerSortCode);
  const sorted = computed<LearnerSort>(() => readLearnerSort(sort.value) ?? { by: 'name', backwards: false });
  return {
    sort,
    directionOf(by) {
      const { backwards } = sorted.value;
      if (writeLearnerSort({ ...by, backwards }) !== writeLearnerSort(sorted.value)) return 'none';
      return backwards ? 'descending' : 'ascending';
    },
    press(by) {
      sort.value = writeLearnerSort(nextLearnerSort(sorted.value, by));
    },
  };
}
