<script setup lang="ts">
import type { SharedView } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Links that one has made: how often each was opened, and withdrawing it. */
defineEmits<{ close: [] }>();
const w = words.views;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['shared-views'],
  queryFn: ({ signal }) => call('sharedViews', {}, signal),
});
const problem = ref<string | null>(null);
async function withdraw({ id }: SharedView): Promise<void> {
  problem.value = null;
  try {
    await call('endSharedView', { params: { viewId: id } });
    await refetch();
    tell(w.withdrawn);
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
</script>

<template>
  <h2>{{ w.linksTitle }}</h2>
  <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <p v-else-if="data.views.length === 0" class="soft">{{ w.noLinks }}</p>
  <ul v-else class="plain-list">
    <li v-for="view in data.views" :key="view.id">
      <span>
        <strong>{{ view.title }}</strong>
        <span class="soft"> {{ view.group.name }}, {{ words.progress.views[view.view] }}</span>
        <br />
        <span class="soft">{{ w.state(view) }}, {{ w.opened(view) }}</span>
      </span>
      <v-btn v-if="view.state === 'open'" variant="text" @click="withdraw(view)">{{ w.withdraw }}</v-btn>
    </li>
  </ul>
  <v-btn variant="text" class="close" @click="$emit('close')">{{ words.common.close }}</v-btn>
</template>

<style scoped>
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
.close {
  justify-self: start;
}
</style>
