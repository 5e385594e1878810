<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

/** What happened to one person, from the log. */
const { personId } = defineProps<{ personId: number }>();
const { data } = useQuery({
  queryKey: ['log', 'person', computed(() => personId)],
  queryFn: ({ signal }) => call('log', { query: { personId, limit: 20 } }, signal),
});
</script>

<template>
  <ul v-if="data" class="plain-list">
    <li v-for="entry in data.entries" :key="entry.id" class="entry">
      <span class="soft" :title="showMoment(entry.madeAt)">{{ showAgo(entry.madeAt) }}</span> {{ words.changes.sentence(entry) }}
    </li>
    <li v-if="data.entries.length === 0" class="soft">{{ words.people.nothingHappened }}</li>
  </ul>
</template>

<style scoped>
.entry {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 14px;
}
</style>
