<script setup lang="ts">
import type { LogEntry } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, watch } from 'vue';
import { call } from '../api/call.ts';
import * as words from '../words.ts';

/** What automatic rules did because of a change: each can be undone with it. */
const { entry } = defineProps<{ entry: LogEntry }>();
/** The most that can be undone with a change. */
const mostActs = 500;
/** Numbers of those that are ticked, newest first. */
const ticked = defineModel<number[]>({ required: true });
const { data } = useQuery({
  queryKey: ['log', 'followed', computed(() => entry.id)],
  queryFn: ({ signal }) => call('log', { query: { followsFrom: entry.id, limit: mostActs } }, signal),
});
const acts = computed(() => data.value?.entries.filter(({ undoneBy }) => undoneBy === null) ?? []);
const mine = computed(() => acts.value.filter(({ canUndo }) => canUndo));
watch(mine, (now) => (ticked.value = now.map(({ id }) => id)), { immediate: true });
function turn(id: number): void {
  ticked.value = mine.value.map((act) => act.id).filter((each) => ticked.value.includes(each) !== (each === id));
}
</script>

<template>
  <section v-if="acts.length > 0" class="followed">
    <h3>{{ words.changes.followed(acts.length) }}</h3>
    <div class="acts">
      <v-checkbox
        v-for="act in acts"
        :key="act.id"
        density="compact"
        :model-value="ticked.includes(act.id)"
        :disabled="!act.canUndo"
        :label="`${words.changes.whoDid(act)}: ${words.changes.sentence(act)}`"
        @update:model-value="turn(act.id)"
      />
    </div>
  </section>
</template>

<style scoped>
.followed h3 {
  font-size: 15px;
}
.acts {
  max-height: 220px;
  overflow: auto;
}
</style>
