<script setup lang="ts">
import { type NewsKind, newsKinds } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';
import CountedPeople from './CountedPeople.vue';

/** One line for a leader who comes back: what is new since they last looked; each number opens to its people. */
const w = words.progress.news;
const scope = useScope();
const of = ref<NewsKind | null>(null);
watch(scope.groupId, () => (of.value = null));
const { data } = useQuery({
  queryKey: ['progress-news', scope.groupId, scope.query, of],
  queryFn: ({ signal }) =>
    call(
      'progressNews',
      { params: { groupId: scope.groupId.value }, query: { ...scope.query.value, ...(of.value === null ? {} : { of: of.value }) } },
      signal,
    ),
  placeholderData: keepPreviousData,
  // What is new since the last time is settled when the page opens.
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: 0,
});
const kinds = computed(() =>
  newsKinds.flatMap((name) => {
    const count = data.value?.counts[name] ?? 0;
    return count > 0 ? [{ name, text: w.kinds[name](count) }] : [];
  }),
);
// What is new was asked for first, so that looking now does not hide it.
let isNoted = false;
watch(data, (now) => {
  if (!now || isNoted) return;
  isNoted = true;
  // Not worth a word when it fails: the same is new next time.
  call('lookedAtProgress', {}).catch(() => undefined);
});
</script>

<template>
  <CountedPeople v-if="data?.since" v-model="of" :label="w.label" :kinds="kinds" :counts="data.counts" :people="data.people">
    <span class="soft" :title="showMoment(data.since)">{{ w.since(showAgo(data.since)) }}</span>
    <span v-if="kinds.length === 0">{{ w.nothing }}</span>
  </CountedPeople>
</template>
