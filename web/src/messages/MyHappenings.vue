<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import * as words from '../words.ts';
import HappeningList from './HappeningList.vue';

/** What happened in a group of one's own, as far as its leaders show it; opened when asked for. */
const { groupId } = defineProps<{ groupId: number }>();
const w = words.happened;
const isOpen = ref(false);
const { data, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['my-messages', 'happened', computed(() => groupId)],
  queryFn: ({ pageParam, signal }) =>
    call('myHappenings', { params: { groupId }, query: pageParam === null ? {} : { before: pageParam } }, signal),
  initialPageParam: null as string | null,
  getNextPageParam: ({ next }) => next,
});
const first = computed(() => data.value?.pages[0]);
const events = computed(() => data.value?.pages.flatMap((page) => page.events) ?? []);
</script>

<template>
  <details v-if="first?.isShown" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary>{{ w.mine }}</summary>
    <template v-if="isOpen">
      <p v-if="events.length === 0" class="soft">{{ w.none }}</p>
      <HappeningList :events="events" />
      <v-btn v-if="hasNextPage" variant="text" height="44" @click="fetchNextPage()">{{ w.more }}</v-btn>
    </template>
  </details>
</template>

<style scoped>
summary {
  min-height: 36px;
  display: flex;
  align-items: center;
}
</style>
