<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core';
import { useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { routes } from 'virtual:route-table';
import { Failure } from '../api/call.ts';
import * as words from '../words.ts';

/** Says that the server or its database is away, and fetches everything anew once it is back. */
const checkMilliseconds = 2000;
const isAway = ref(false);
const queries = useQueryClient();
const { pause, resume } = useIntervalFn(
  () => {
    void fetch(routes.health.path).then(
      ({ ok }) => {
        if (!ok) return;
        isAway.value = false;
        pause();
        void queries.invalidateQueries();
      },
      () => undefined,
    );
  },
  checkMilliseconds,
  { immediate: false },
);

queries.getQueryCache().subscribe(({ query }) => {
  const error: unknown = query.state.fetchFailureReason ?? query.state.error;
  if (error instanceof Failure && (error.code === 'database-away' || error.code === 'offline') && !isAway.value) {
    isAway.value = true;
    resume();
  }
});
</script>

<template>
  <div v-if="isAway" class="away" role="alert">{{ words.failures.awayBanner }}</div>
</template>

<style scoped>
.away {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 8px 26px;
  border-bottom: 1px solid var(--rule);
  font-weight: 600;
}
</style>
