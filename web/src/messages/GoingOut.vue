<script setup lang="ts">
import { letterStates } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import { showMoment, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** Messages that have not left yet, and what became of emails to people of the scope. */
const w = words.goingOut;
const scope = useScope();
const state = useUrlState<(typeof letterStates)[number] | 'all'>('letters', 'all', oneOf([...letterStates, 'all'] as const));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['messages', 'going-out', scope.groupId, scope.query, state],
  queryFn: ({ pageParam, signal }) =>
    call(
      'goingOut',
      {
        params: { groupId: scope.groupId.value },
        query: {
          ...scope.query.value,
          ...(state.value === 'all' ? {} : { state: state.value }),
          ...(pageParam === null ? {} : { after: pageParam }),
        },
      },
      signal,
    ),
  initialPageParam: null as number | null,
  getNextPageParam: ({ next }) => next,
  placeholderData: keepPreviousData,
});
const first = computed(() => data.value?.pages[0]);
const letters = computed(() => data.value?.pages.flatMap((page) => page.letters) ?? []);
const chips = computed(() => (['all', ...letterStates] as const).map((value) => ({ value, title: w.states[value] })));
const columns: readonly ListColumn[] = (['person', 'kind', 'state', 'at'] as const).map((key) => ({ key, title: w.heads[key] }));
</script>

<template>
  <main class="part">
    <h1>{{ w.title }}</h1>
    <LoadState v-if="!first" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <p class="soft">{{ w.what(first.counts, first.digests) }}</p>
      <section v-if="first.messages.length > 0">
        <h2>{{ w.later }}</h2>
        <ul class="plain-list">
          <li v-for="message in first.messages" :key="message.id">
            <RouterLink
              :to="{ name: 'messages', params: { groupId: message.group.id }, query: { message: String(message.id) } }"
              class="plain-link"
              >{{ message.title }}</RouterLink
            >
            <span class="soft">{{ w.leaves(message.group.name, showMoment(message.sendAt)) }}</span>
          </li>
        </ul>
      </section>
      <h2>{{ w.letters }}</h2>
      <div class="chips" role="group" :aria-label="w.letters">
        <button
          v-for="chip in chips"
          :key="chip.value"
          type="button"
          class="pick"
          :class="{ on: state === chip.value }"
          :aria-pressed="state === chip.value"
          @click="state = chip.value"
        >
          {{ chip.title }}
        </button>
      </div>
      <p v-if="letters.length === 0" class="soft">{{ w.none }}</p>
      <template v-else>
        <DataList :label="w.letters" :columns="columns" :rows="letters">
          <template #person="{ row: letter }">
            <RouterLink
              :to="{ name: 'groups', params: { groupId: scope.groupId.value }, query: { person: String(letter.person.id) } }"
              class="plain-link"
              >{{ letter.person.name }}</RouterLink
            >
          </template>
          <template #kind="{ row: letter }">{{ words.waysIn.letters.kinds[letter.kind] }}</template>
          <template #state="{ row: letter }">
            <span :class="{ late: letter.state === 'bounced' }">{{ w.states[letter.state] }}</span>
            <span v-if="letter.hasStopped" class="late">{{ w.stopped }}</span>
            <small v-if="letter.trouble" class="soft trouble">{{ letter.trouble }}</small>
          </template>
          <template #at="{ row: letter }"
            ><span class="soft">{{ showMoment(letter.at) }}</span></template
          >
        </DataList>
        <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ w.more(showNumber(letters.length)) }}</v-btn>
      </template>
    </template>
  </main>
</template>

<style scoped>
h2 {
  font-size: 17px;
  margin-top: 14px;
}
.chips {
  display: flex;
  gap: 6px;
  margin: 6px 0;
}
li {
  display: flex;
  gap: 12px;
  padding: 3px 0;
}
.trouble {
  display: block;
}
</style>
