<script setup lang="ts">
import type { Happening } from '@gate-roster/contract';
import { format, parseISO } from 'date-fns';
import { computed } from 'vue';
import { showDay, showTime } from '../ui/format.ts';
import * as words from '../words.ts';

/** Events by day, latest first; a name that the reader may follow leads to the person. */
const { events, groupId = null } = defineProps<{ events: readonly Happening[]; groupId?: number | null }>();
const w = words.happened;
const byDay = computed(() => {
  const days = new Map<string, Happening[]>();
  for (const event of events) {
    const day = showDay(format(parseISO(event.at), 'yyyy-MM-dd'));
    days.set(day, [...(days.get(day) ?? []), event]);
  }
  return [...days].map(([day, list]) => ({ day, list }));
});
</script>

<template>
  <section v-for="{ day, list } in byDay" :key="day" class="day">
    <h3>{{ day }}</h3>
    <ul class="plain-list">
      <li v-for="(event, index) in list" :key="index">
        <span class="soft time">{{ showTime(event.at) }}</span>
        <RouterLink
          v-if="groupId !== null && event.person?.id"
          class="plain-link"
          :to="{ name: 'groups', params: { groupId }, query: { person: String(event.person.id) } }"
          >{{ event.person.name }}</RouterLink
        >
        <b v-else-if="event.person">{{ event.person.name ?? w.somebody }}</b>
        <span>{{ w.says(event) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.day {
  margin-top: 12px;
}
h3 {
  font-size: 15px;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 5px;
  padding: 2px 0;
}
.time {
  flex: none;
  width: 54px;
  font-variant-numeric: tabular-nums;
}
</style>
