<script setup lang="ts">
import { type NewsKind, newsKinds } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import { words } from '../words.ts';

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
const kinds = computed(() => newsKinds.filter((kind) => (data.value?.counts[kind] ?? 0) > 0));
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
  <section v-if="data?.since" class="news" :aria-label="w.label">
    <p>
      <span class="soft" :title="showMoment(data.since)">{{ w.since(showAgo(data.since)) }}</span>
      <span v-if="kinds.length === 0">{{ w.nothing }}</span>
      <button
        v-for="kind in kinds"
        :key="kind"
        type="button"
        class="plain-link"
        :aria-expanded="of === kind"
        @click="of = of === kind ? null : kind"
      >
        {{ w.kinds[kind](data.counts[kind]) }}
      </button>
    </p>
    <ul v-if="of" class="plain-list names">
      <li v-for="person in data.people" :key="person.id">
        <router-link :to="{ name: 'groups', params: { groupId: scope.groupId.value }, query: { person: String(person.id) } }">{{
          person.name
        }}</router-link>
        <span class="soft">{{ person.about.join(', ') }}</span>
      </li>
      <li v-if="data.people.length < data.counts[of]" class="soft">{{ w.more(data.counts[of] - data.people.length) }}</li>
    </ul>
  </section>
</template>

<style scoped>
.news {
  margin: 6px 0;
}
.news p {
  display: flex;
  gap: 4px 16px;
  flex-wrap: wrap;
  align-items: baseline;
  margin: 0;
}
.news button {
  min-height: 26px;
}
.names {
  columns: 3 240px;
  max-height: 168px;
  overflow: auto;
  padding: 6px 0;
}
.names li {
  break-inside: avoid;
}
.names .soft {
  margin-left: 8px;
}
</style>
