<script setup lang="ts">
import type { Answer, Routes } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { showDay, showMoment, showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { words } from '../words.ts';

/** The people behind a number of seats: who uses one, or who is in line, in the order in which they are served. */
const { group, licence, list } = defineProps<{
  group: { id: number; name: string };
  licence: { id: number; name: string };
  list: 'in use' | 'in line';
}>();
const w = words.seats;
type Page = Answer<Routes['seatPeople']>;
const { data, error, isPending, refetch, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: computed(() => ['seats', group.id, licence.id, list]),
  queryFn: ({ signal, pageParam }) =>
    call(
      'seatPeople',
      { params: { groupId: group.id }, query: { list, licence: licence.id, ...(pageParam === null ? {} : { after: pageParam }) } },
      signal,
    ),
  initialPageParam: null as number | null,
  getNextPageParam: (last: Page) => last.next,
});
const people = computed(() => data.value?.pages.flatMap((page) => page.people) ?? []);
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else :aria-label="w.peopleTitle[list]">
    <h2>{{ showNumber(data.pages[0]?.total ?? 0) }} {{ w.peopleTitle[list] }}</h2>
    <p class="soft">{{ group.name }}. {{ w.peopleWhat[list] }}</p>
    <component :is="list === 'in line' ? 'ol' : 'ul'" class="line" :class="{ 'plain-list': list === 'in use' }">
      <li v-for="each in people" :key="each.key">
        <router-link class="plain-link" :to="{ name: 'groups', params: { groupId: group.id }, query: { person: String(each.id) } }">{{
          each.name
        }}</router-link>
        <span class="soft" :title="showMoment(each.since)"> {{ w.since(each.about, showDay(each.since.slice(0, 10))) }}</span>
      </li>
    </component>
    <button v-if="hasNextPage" type="button" class="plain-link" @click="fetchNextPage()">{{ words.common.more }}</button>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
ol.line {
  padding-left: 26px;
  font-variant-numeric: tabular-nums;
}
.line li {
  padding: 3px 0;
}
</style>
