<script setup lang="ts">
import type { Answer, Routes } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { showDay, showMoment, showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { words } from '../words.ts';

/** Who stands in line for a seat, in the order in which they are served. */
const { groupId } = defineProps<{ groupId: number }>();
const w = words.seats;
type Page = Answer<Routes['seatLine']>;
const { data, error, isPending, refetch, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['seats', computed(() => groupId), 'line'],
  queryFn: ({ signal, pageParam }) =>
    call('seatLine', { params: { groupId }, query: pageParam === null ? {} : { after: pageParam } }, signal),
  initialPageParam: null as number | null,
  getNextPageParam: (last: Page) => last.next,
});
const people = computed(() => data.value?.pages.flatMap((page) => page.people) ?? []);
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else :aria-label="w.lineTitle">
    <h2>{{ showNumber(data.pages[0]?.total ?? 0) }} {{ w.lineTitle }}</h2>
    <p class="soft">{{ w.lineWhat }}</p>
    <ol class="line">
      <li v-for="each in people" :key="each.lineId">
        <router-link class="plain-link" :to="{ name: 'groups', params: { groupId }, query: { person: String(each.id) } }">{{
          each.name
        }}</router-link>
        <span class="soft" :title="showMoment(each.since)"> {{ w.since(each.course.name, showDay(each.since.slice(0, 10))) }}</span>
      </li>
    </ol>
    <button v-if="hasNextPage" type="button" class="plain-link" @click="fetchNextPage()">{{ words.common.more }}</button>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.line {
  padding-left: 26px;
  font-variant-numeric: tabular-nums;
}
.line li {
  padding: 3px 0;
}
</style>
