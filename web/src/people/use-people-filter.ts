import type { PeopleFilter } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { refDebounced } from '@vueuse/core';
import { computed, type ComputedRef, ref, type Ref, watch } from 'vue';
import { filterCode, useFilter } from '../filters/use-filter.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';

type Asked<K extends keyof PeopleFilter> = PeopleFilter[K];
const typingMilliseconds = 200;

/** What a list of people is asked for, as its address says: who is looked for, in which order, and whether those who fit or the others. */
export function usePeopleFilter(counted: Readonly<Ref<Asked<'counted'>>>): {
  /** The parts of the filter; what is typed in the search field is one of them. */
  parts: ReturnType<typeof useFilter>;
  search: Ref<string>;
  fits: Ref<Asked<'fits'>>;
  sort: Ref<Asked<'sort'>>;
  /** One of the reader's own lists, when the filter names it: people can be taken off it. */
  listId: ComputedRef<number | null>;
  isNarrowed: ComputedRef<boolean>;
  query: ComputedRef<{
    subgroups: 'yes' | 'no';
    counted: Asked<'counted'>;
    sort: Asked<'sort'>;
    filter: string;
    fits: Asked<'fits'>;
  }>;
} {
  const scope = useScope();
  const parts = useFilter();
  const search = ref(parts.value.find((part) => part.part === 'words')?.text ?? '');
  watch(refDebounced(search, typingMilliseconds), (typed: string | null) => {
    const text = (typed ?? '').trim();
    const others = parts.value.filter(({ part }) => part !== 'words');
    parts.value = text === '' ? others : [...others, { part: 'words', text }];
  });
  const fits = useUrlState<Asked<'fits'>>('fits', 'yes', oneOf(['yes', 'no']));
  const sort = useUrlState<Asked<'sort'>>('sort', 'name', oneOf(['name', '-name', 'active', '-active']));
  const listId = computed(
    () => parts.value.find((part): part is Extract<FilterPart, { part: 'list' }> => part.part === 'list' && part.how === 'in')?.id ?? null,
  );
  const isNarrowed = computed(() => parts.value.length > 0);
  const query = computed(() => ({
    ...scope.query.value,
    counted: counted.value,
    sort: sort.value,
    filter: filterCode.write(parts.value),
    fits: isNarrowed.value ? fits.value : ('yes' as const),
  }));
  return { parts, search, fits, sort, listId, isNarrowed, query };
}
