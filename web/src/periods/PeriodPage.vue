<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import ViewLinks from '../ui/ViewLinks.vue';
import * as words from '../words.ts';
import ClosePeriod from './ClosePeriod.vue';
import NextPeriod from './NextPeriod.vue';

/** The end of a period: close a branch, or make the next from it. */
const w = words.periods;
const scope = useScope();
const tree = useTree();
const view = useUrlState<'close' | 'next'>('do', 'close', oneOf(['close', 'next']));
const views = (['close', 'next'] as const).map((name) => ({ name, title: w.views[name] }));
const group = computed(() => ({ id: scope.groupId.value, name: tree.value?.row(scope.groupId.value)?.name ?? '' }));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['group', scope.groupId, 'period'],
  queryFn: ({ signal }) => call('period', { params: { groupId: scope.groupId.value } }, signal),
});
</script>

<template>
  <div class="page">
    <div class="head">
      <h1>{{ w.title }}</h1>
      <ViewLinks :model-value="view" :views="views" :label="w.viewsLabel" @update:model-value="view = $event as 'close' | 'next'" />
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <ClosePeriod v-else-if="view === 'close'" :key="`close ${group.id} ${group.name}`" :group="group" :period="data" />
    <NextPeriod v-else :key="`next ${group.id}`" :group="group" :period="data" />
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  background: var(--sheet);
}
.head {
  display: flex;
  gap: 24px;
  align-items: baseline;
  padding: 14px 26px 0;
}
</style>
