<script setup lang="ts">
import { comingKinds, type ComingLine } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import { showDay, showWeekday } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import CalendarPanel from './CalendarPanel.vue';
import { hasPeople, linesByDay, peopleQuery, placeOf } from './coming-days.ts';

/** What the next days will do by themselves in the scope; each number opens to its people. */
const w = words.coming;
const scope = useScope();
const session = useSession();
const spans = ['14', '60', '120', '366'] as const;
const days = useUrlState<(typeof spans)[number]>('days', '60', oneOf(spans));
const kind = useUrlState<(typeof comingKinds)[number] | 'everything'>('kind', 'everything', oneOf([...comingKinds, 'everything'] as const));
const params = computed(() => ({ groupId: scope.groupId.value }));
const query = computed(() => ({
  ...scope.query.value,
  days: Number(days.value),
  ...(kind.value === 'everything' ? {} : { kind: kind.value }),
}));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['access', scope.groupId, 'coming', query],
  queryFn: ({ signal }) => call('comingUp', { params: params.value, query: query.value }, signal),
  placeholderData: keepPreviousData,
});
const byDay = computed(() => linesByDay(data.value?.lines ?? []));
const chosen = ref<ComingLine | null>(null);
const isCalendar = ref(false);
function choose(line: ComingLine): void {
  isCalendar.value = false;
  chosen.value = line;
}
function showCalendar(): void {
  chosen.value = null;
  isCalendar.value = true;
}
watch([scope.groupId, query], () => {
  chosen.value = null;
});
const asked = computed(() => (chosen.value === null ? null : { ...scope.query.value, ...peopleQuery(chosen.value, Number(days.value)) }));
const {
  data: people,
  fetchNextPage,
  hasNextPage,
} = useInfiniteQuery({
  queryKey: ['access', scope.groupId, 'coming-people', asked],
  queryFn: async ({ pageParam, signal }) =>
    asked.value
      ? call('comingPeople', { params: params.value, query: { ...asked.value, after: pageParam } }, signal)
      : { people: [], next: null },
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
  enabled: () => asked.value !== null,
});
const names = computed(() => people.value?.pages.flatMap((page) => page.people) ?? []);

const kinds = computed(() => [
  { value: 'everything', title: w.everything },
  ...comingKinds.map((value) => ({ value, title: w.kinds[value] })),
]);
const spanChoices = spans.map((value) => ({ value, title: w.nextDays(Number(value)) }));
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ w.title }}</h1>
        <p class="soft what">{{ w.what(Number(days)) }}</p>
        <v-btn variant="text" size="small" @click="showCalendar">{{ w.calendar.open }}</v-btn>
      </div>
      <div class="filters">
        <v-select v-model="kind" class="pick" :items="kinds" :label="w.kind" />
        <v-select v-model="days" class="pick" :items="spanChoices" :label="w.days" />
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="byDay.length === 0" class="soft">{{ w.none }}</p>
      <div v-else class="scroll" tabindex="0" role="region" :aria-label="w.title">
        <section v-for="each in byDay" :key="each.day" class="day">
          <h2>
            {{ each.day === session.me?.today ? w.today : showDay(each.day) }}
            <span class="soft">{{ showWeekday(each.day) }}</span>
          </h2>
          <ul class="plain-list">
            <li v-for="(line, index) in each.lines" :key="index" :class="{ on: line === chosen }">
              <div>
                <b>{{ w.says(line) }}</b><span v-if="line.lastDay !== line.day" class="soft">{{ w.upTo(line.lastDay) }}</span>
                <button
                  v-if="hasPeople(line)"
                  type="button"
                  class="plain-link"
                  :aria-label="`${w.who} ${w.says(line)}`"
                  @click="choose(line)"
                >
                  {{ w.who }}
                </button>
                <p class="soft">{{ w.detail(line) }}</p>
              </div>
              <v-btn size="small" :to="placeOf(line, scope.groupId.value)" :aria-label="`${w.acts[line.kind]}: ${w.says(line)}`">{{
                w.acts[line.kind]
              }}</v-btn>
            </li>
          </ul>
        </section>
        <p v-if="data.more > 0" class="soft more">{{ w.more(data.more) }}</p>
      </div>
    </main>
    <CalendarPanel v-if="isCalendar" @close="isCalendar = false" />
    <aside v-else-if="chosen" class="panel" aria-live="polite">
      <h2>{{ w.says(chosen) }}</h2>
      <p class="soft">{{ showDay(chosen.day) }}. {{ w.detail(chosen) }}</p>
      <ul class="plain-list names">
        <li v-for="person in names" :key="person.id">
          <router-link :to="{ name: 'groups', params: { groupId: scope.groupId.value }, query: { person: String(person.id) } }">{{
            person.name
          }}</router-link>
          <span v-if="person.some && w.some[chosen.kind]" class="late">{{ ` ${w.some[chosen.kind]}` }}</span>
        </li>
      </ul>
      <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
      <v-btn variant="text" @click="chosen = null">{{ words.common.close }}</v-btn>
    </aside>
  </div>
</template>

<style scoped>
.part > .head {
  justify-content: flex-start;
  align-items: baseline;
}
.what {
  margin: 0;
}
.filters {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
.pick {
  flex: 0 1 240px;
}
.day {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 12px;
  padding: 12px 18px;
  border-bottom: 1px solid var(--rule);
}
.day h2 {
  font-size: 15px;
}
.day h2 span {
  font-weight: 400;
}
.day li {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  align-items: flex-start;
  padding: 3px 6px;
  border-radius: 6px;
}
.day li + li {
  margin-top: 8px;
}
.day li.on {
  background: var(--tide2);
}
.day li .plain-link {
  margin-left: 8px;
}
.day p {
  margin: 0;
  font-size: 14px;
}
.more {
  padding: 12px 18px;
}
.names {
  margin: 10px 0;
}
.names li {
  padding: 3px 0;
}
@media (max-width: 860px) {
  .day {
    grid-template-columns: 1fr;
    padding: 10px 12px;
  }
}
</style>
