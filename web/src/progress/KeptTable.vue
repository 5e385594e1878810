<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';

import * as words from '../words.ts';
import FrozenTable from './FrozenTable.vue';

/** A report that was kept as it stood. */
const route = useRoute();
const viewId = computed(() => Number(route.params['viewId']));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['kept-views', viewId],
  queryFn: ({ signal }) => call('keptTable', { params: { viewId: viewId.value } }, signal),
});
</script>

<template>
  <main class="kept">
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <h1>{{ data.title }}</h1>
      <p class="soft">{{ data.group }}. {{ words.periods.fixed(data.day) }}</p>
      <FrozenTable :label="data.title" :head="data.head" :lines="data.lines" />
    </template>
  </main>
</template>

<style scoped>
.kept {
  flex: 1;
  min-height: 0;
  padding: 18px 26px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
</style>
