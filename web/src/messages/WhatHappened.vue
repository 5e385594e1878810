<script setup lang="ts">
import { type Change, happenedKinds, type HappenedKind } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import HappeningList from './HappeningList.vue';

/** What happened in the scope, latest first; and what of it the members are shown. */
const w = words.happened;
const scope = useScope();
const kind = useUrlState<HappenedKind | 'all'>('kind', 'all', oneOf([...happenedKinds, 'all'] as const));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['messages', 'happened', scope.groupId, scope.query, kind],
  queryFn: ({ pageParam, signal }) =>
    call(
      'happened',
      {
        params: { groupId: scope.groupId.value },
        query: {
          ...scope.query.value,
          ...(kind.value === 'all' ? {} : { kinds: kind.value }),
          ...(pageParam === null ? {} : { before: pageParam }),
        },
      },
      signal,
    ),
  initialPageParam: null as string | null,
  getNextPageParam: ({ next }) => next,
  placeholderData: keepPreviousData,
});
const first = computed(() => data.value?.pages[0]);
const events = computed(() => data.value?.pages.flatMap((page) => page.events) ?? []);
const chips = (['all', ...happenedKinds] as const).map((value) => ({ value, title: value === 'all' ? w.all : w.kinds[value] }));
const chosen = ref<HappenedKind[] | null>(null);
watch(scope.groupId, () => {
  chosen.value = null;
});
async function keep(kinds: HappenedKind[] | null): Promise<void> {
  const change: Change = { kind: 'show-members', groupId: scope.groupId.value, kinds };
  if (await applyAtOnce(change, w.saved)) chosen.value = null;
}
</script>

<template>
  <div class="split">
    <main class="part scroll-part">
      <h1>{{ w.title }}</h1>
      <div class="chips" role="group" :aria-label="w.title">
        <button
          v-for="chip in chips"
          :key="chip.value"
          type="button"
          class="pick"
          :class="{ on: kind === chip.value }"
          :aria-pressed="kind === chip.value"
          @click="kind = chip.value"
        >
          {{ chip.title }}
        </button>
      </div>
      <LoadState v-if="!first" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="events.length === 0" class="soft">{{ w.none }}</p>
      <HappeningList v-else :events="events" :group-id="scope.groupId.value" />
      <p>
        <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ w.more }}</v-btn>
      </p>
    </main>
    <aside v-if="first" class="panel" :aria-label="w.membersTitle">
      <h2>{{ w.membersTitle }}</h2>
      <template v-if="chosen">
        <v-checkbox v-for="each in happenedKinds" :key="each" v-model="chosen" :value="each" :label="w.kinds[each]" />
        <v-btn variant="flat" @click="keep(chosen)">{{ words.common.save }}</v-btn>
        <v-btn v-if="first.members.isOwn" variant="text" @click="keep(null)">{{ w.inherit }}</v-btn>
        <v-btn variant="text" @click="chosen = null">{{ words.common.cancel }}</v-btn>
      </template>
      <template v-else>
        <p>{{ w.members(first.members.kinds, first.members.from?.name ?? null, first.members.isOwn) }}</p>
        <p>
          <v-btn v-if="first.may.set" @click="chosen = [...first.members.kinds]">{{ w.change }}</v-btn>
        </p>
      </template>
      <p class="soft note">{{ w.membersHint }}</p>
    </aside>
  </div>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 8px 0;
}
.panel {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.panel > * {
  flex: none;
}
</style>
