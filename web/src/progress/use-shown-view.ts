import { rowKinds, scoreKinds, type ShownView, takenViews, viewNames } from '@gate-roster/contract';
import { type SortedBy, writeSort } from '@gate-roster/core';
import { computed, type ComputedRef, type Ref } from 'vue';
import { dayCode, useAsOf } from '../access/as-of.ts';
import { useFilter } from '../filters/use-filter.ts';
import { useScope } from '../shell/scope.ts';
import { idCode, idsCode, oneOf, useUrlState } from '../shell/url-state.ts';
import { learnerSortCode, levelsCode, sortCode } from './report-rows.ts';

type View = ShownView['view'];

/** What a screen of progress shows, as its address says: each part by itself, and all of it, to be kept under a name or shared. */
export function useShownView(): {
  view: Ref<View>;
  /** Null: the view is no table, has no file, and tells of today alone. */
  takenView: ComputedRef<(typeof takenViews)[number] | null>;
  filter: ReturnType<typeof useFilter>;
  rows: Ref<ShownView['rows']>;
  /** Groups that are compared; none: those below the scope. */
  groups: Ref<number[]>;
  /** The past day that is looked at, and an earlier one that it is compared with. */
  day: Ref<string | null>;
  from: Ref<string | null>;
  shown: ComputedRef<ShownView>;
} {
  const scope = useScope();
  const filter = useFilter();
  const view = useUrlState<View>('view', 'groups', oneOf(viewNames));
  const takenView = computed(() => takenViews.find((name) => name === view.value) ?? null);
  const courseId = useUrlState('course', null, idCode);
  const groups = useUrlState('beside', [], idsCode);
  const sort = useUrlState('sort', 'name', learnerSortCode);
  const rows = useUrlState<ShownView['rows']>('rows', 'groups', oneOf(rowKinds));
  const scores = useUrlState<ShownView['scores']>('scores', 'mean', oneOf(scoreKinds));
  const by = useUrlState<SortedBy>('by', { by: 'name' }, sortCode);
  const without = useUrlState('without', [], idsCode);
  const levels = useUrlState('levels', 0, levelsCode);
  const unfold = useUrlState('unfold', [], idsCode);
  const count = useUrlState<ShownView['count']>('count', 'own', oneOf(['own', 'common']));
  const day = useAsOf();
  const from = useUrlState('from', null, dayCode);
  const shown = computed<ShownView>(() => ({
    view: view.value,
    subgroups: scope.query.value.subgroups,
    filter: filter.value,
    courseId: courseId.value,
    groups: groups.value,
    sort: sort.value,
    rows: rows.value,
    scores: scores.value,
    by: writeSort(by.value),
    without: without.value,
    levels: levels.value,
    unfold: unfold.value,
    count: count.value,
    day: takenView.value && day.value,
    from: takenView.value && from.value,
  }));
  return { view, takenView, filter, rows, groups, day, from, shown };
}
