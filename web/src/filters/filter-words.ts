import type { Filter } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { call } from '../api/call.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import * as words from '../words.ts';
import { chipNamesOf } from './chip-names.ts';

const longest = 300;

/** A filter in words, a text for each part, for those who read it elsewhere. */
export function useFilterWords(filter: () => Filter): ComputedRef<string[]> {
  const scope = useScope();
  const tree = useTree();
  const { data: names } = useQuery({
    queryKey: ['filter-names', scope.groupId],
    queryFn: ({ signal }) => call('filterNames', { params: { groupId: scope.groupId.value } }, signal),
  });
  return computed(() => {
    const known = chipNamesOf(names.value, tree.value?.nodes() ?? []);
    return filter().map((part) => (part.part === 'words' ? part.text : words.filters.chip(part, known)).slice(0, longest));
  });
}
