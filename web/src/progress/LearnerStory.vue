<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { useAsOf } from '../access/as-of.ts';
import AsOfBand from '../access/AsOfBand.vue';
import AsOfField from '../access/AsOfField.vue';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import LoadState from '../ui/LoadState.vue';
import { personName, showDay, showDayOf, showMoment, showNumber, showScore } from '../ui/format.ts';
import * as words from '../words.ts';

/** One learner: each course, what opened it, and everything that happened, for reading and for paper. */
const w = words.story;
const route = useRoute();
const personId = computed(() => Number(route.params['personId']));
const day = useAsOf();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['person', personId, 'story', day],
  queryFn: ({ signal }) =>
    call('learnerStory', { params: { personId: personId.value }, query: day.value === null ? {} : { day: day.value } }, signal),
  placeholderData: keepPreviousData,
});
const session = useSession();
const { data: history } = useQuery({ queryKey: ['history'], queryFn: ({ signal }) => call('historySince', {}, signal) });
const isNewestFirst = ref(true);
const events = computed(() => (isNewestFirst.value ? (data.value?.events.toReversed() ?? []) : (data.value?.events ?? [])));
const print = (): void => {
  window.print();
};
</script>

<template>
  <main class="part">
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="head">
        <div>
          <h1>{{ personName(data) }}</h1>
          <p class="soft">{{ data.groups.map(({ name }) => name).join(', ') }}</p>
        </div>
        <div class="acts no-print">
          <AsOfField :first="history?.since" :last="session.me?.today" />
          <v-btn variant="outlined" @click="isNewestFirst = !isNewestFirst">{{ isNewestFirst ? w.oldestFirst : w.newestFirst }}</v-btn>
          <v-btn variant="flat" @click="print">{{ w.print }}</v-btn>
        </div>
      </div>
      <AsOfBand v-if="day !== null && history" :shown="{ day, isPast: true, since: history.since }" />
      <section :aria-label="w.courses" class="wide">
        <table class="rows">
          <thead>
            <tr>
              <th v-for="(head, at) in w.head" :key="head" :class="{ num: at > 1 && at < 6 }">{{ head }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="course in data.courses" :key="course.id">
              <td>{{ course.name }}</td>
              <td :class="{ late: course.lateness === 'overdue', good: course.status === 'done' }">
                {{ course.exempt ? words.progress.exemptWord : words.progress.statusOf(course.status, course.lateness) }}
              </td>
              <td class="num">{{ showNumber(course.unitsDone) }} / {{ showNumber(course.units) }}</td>
              <td class="num">{{ course.score === null ? '–' : showScore(course.score) }}</td>
              <td class="num">{{ course.due ? showDay(course.due) : '–' }}</td>
              <td class="num">{{ course.doneDay ? showDay(course.doneDay) : '–' }}</td>
              <td class="soft">{{ course.open ? course.through.join(', ') : w.closed }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <h2>{{ w.events }}</h2>
      <p v-if="events.length === 0" class="soft">{{ w.none }}</p>
      <ol v-else class="plain-list events">
        <li v-for="(event, index) in events" :key="index">
          <time :datetime="event.at" :title="showMoment(event.at)">{{ showDayOf(event.at) }}</time>
          <span>{{ w.event(event) }}</span>
        </li>
      </ol>
    </template>
  </main>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 10px;
}
.wide {
  overflow: auto;
  flex: none;
}
.events li {
  display: grid;
  grid-template-columns: 120px 1fr;
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
}
time {
  color: var(--ink2);
  font-variant-numeric: tabular-nums;
}
@media print {
  .part {
    overflow: visible;
    display: block;
  }
}
</style>
