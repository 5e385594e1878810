<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';

/** Tasks that somebody has still to do, the one that is due first on top. */
const w = words.myMessages;
const { data } = useQuery({ queryKey: ['my-messages'], queryFn: ({ signal }) => call('myMessages', {}, signal) });
const tasks = computed(() =>
  (data.value?.messages ?? [])
    .filter(({ kind, isDone, isOver }) => kind === 'task' && !isDone && !isOver)
    .sort((a, b) => (a.dueDay ?? '9').localeCompare(b.dueDay ?? '9')),
);
</script>

<template>
  <section v-if="tasks.length > 0" class="card" :aria-label="w.tasks">
    <h2>{{ w.tasks }}</h2>
    <ul class="plain-list">
      <li v-for="task in tasks" :key="task.id">
        <RouterLink class="plain-link" :to="{ name: 'my-messages' }">{{ task.title }}</RouterLink>
        <span class="soft">{{ task.dueDay ? w.due(showDay(task.dueDay)) : '' }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  font-size: 18px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  min-height: 30px;
  align-items: center;
}
</style>
