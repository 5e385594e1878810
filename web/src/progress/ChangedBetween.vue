<script setup lang="ts">
import { type BetweenKind, betweenKinds } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { showDay } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import CountedPeople from './CountedPeople.vue';
import type { ReportQuery } from './shown-view.ts';

/** What is different from one day to the day that is looked at; each number opens to its people. */
const { from, query } = defineProps<{ from: string; query: ReportQuery }>();
defineEmits<{ close: [] }>();
const w = words.progress.between;
const scope = useScope();
const of = ref<BetweenKind | null>(null);
watch(scope.groupId, () => (of.value = null));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['progress', scope.groupId, 'between', computed(() => [from, query]), of],
  queryFn: ({ signal }) =>
    call(
      'progressBetween',
      { params: { groupId: scope.groupId.value }, query: { ...query, from, ...(of.value === null ? {} : { of: of.value }) } },
      signal,
    ),
  placeholderData: keepPreviousData,
});
const kinds = computed(() =>
  betweenKinds.flatMap((name) => {
    const count = data.value?.counts[name] ?? 0;
    return count > 0 ? [{ name, text: w.kinds[name](count) }] : [];
  }),
);
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <CountedPeople v-else v-model="of" :label="w.label" :kinds="kinds" :counts="data.counts" :people="data.people">
    <span class="soft">{{ w.span(showDay(data.from), showDay(data.until)) }}</span>
    <span v-if="kinds.length === 0">{{ w.nothing }}</span>
    <v-btn size="small" variant="text" class="close" @click="$emit('close')">{{ words.common.close }}</v-btn>
  </CountedPeople>
</template>

<style scoped>
.close {
  order: 1;
}
</style>
