<script setup lang="ts">
import type { PersonInside } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { idCode, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import { listName, showNumber } from '../ui/format.ts';
import { useSelection } from '../ui/selection.ts';
import { usePagedRows } from '../ui/paged-rows.ts';
import * as words from '../words.ts';
import ActivityMark from './ActivityMark.vue';
import { chosenByNumber } from '../people/chosen.ts';
import LearnersFrame from './LearnersFrame.vue';
import UnitDays from './UnitDays.vue';
import WhereTheyStop from './WhereTheyStop.vue';
import type { ReportQuery } from './shown-view.ts';

/** One course from within: learners by activity, where they stop, and how long they take from unit to unit. */
const { query } = defineProps<{ query: ReportQuery }>();
const emit = defineEmits<{ speaksOf: [of: { learners: number; ofAll: number; notCounted: number }] }>();
const w = words.progress.inside;
const scope = useScope();
const courseId = useUrlState('course', null, idCode);
const pageSize = 100;
const rowPixels = 34;
const asked = computed(() => ({ ...query, limit: pageSize, ...(courseId.value === null ? {} : { courseId: courseId.value }) }));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['progress', scope.groupId, 'inside', asked],
  queryFn: ({ pageParam, signal }) =>
    call(
      'progressInside',
      { params: { groupId: scope.groupId.value }, query: { ...asked.value, ...(pageParam ? { after: pageParam } : {}) } },
      signal,
    ),
  initialPageParam: '',
  getNextPageParam: (last) => last?.next ?? null,
  placeholderData: keepPreviousData,
});
const inside = computed(() => data.value?.pages[0] ?? null);
watch(
  inside,
  (now) => {
    if (now) emit('speaksOf', now);
  },
  { immediate: true },
);
const people = computed<PersonInside[]>(() => data.value?.pages.flatMap((page) => page?.people ?? []) ?? []);
/** Activities in their order, each with its short name: the unit's number and a letter. */
const activities = computed(() =>
  (inside.value?.units ?? []).flatMap((unit, index) =>
    unit.activities.map((activity, place) => ({
      ...activity,
      unitId: unit.id,
      short: `${index + 1}${String.fromCharCode(97 + (place % 26))}`,
      isFirst: place === 0,
      stops: inside.value?.stops.find(({ activityId }) => activityId === activity.id)?.people ?? 0,
    })),
  ),
);
const mostStops = computed(() => Math.max(1, ...activities.value.map(({ stops }) => stops)));
const worst = computed(() => [...activities.value].sort((a, b) => b.stops - a.stops).find(({ stops }) => stops > 0));
const finishedOf = (person: PersonInside): string => {
  const open = activities.value.filter(({ unitId }) => person.openUnits.includes(unitId));
  return w.finished(open.filter(({ id }) => person.results.some((each) => each.activityId === id && each.finished)).length, open.length);
};
const personId = ref<number | null>(null);
const scroller = useTemplateRef<HTMLElement>('scroller');
const { drawn, spaceAbove, spaceBelow, selection, onKey } = usePagedRows(
  scroller,
  people,
  { hasNextPage, isFetchingNextPage, fetchNextPage },
  rowPixels,
  (id) => (personId.value = id),
  useSelection(people, { of: () => [scope.groupId.value, asked.value] }),
);
async function chooseStopped(activityId: number): Promise<void> {
  while (hasNextPage.value) await fetchNextPage();
  selection.set(people.value.flatMap(({ id, at, hasStopped }) => (hasStopped && at === activityId ? [id] : [])));
}
</script>

<template>
  <LoadState v-if="data === undefined" :error="error" :is-pending="isPending" @again="refetch()" />
  <p v-else-if="!inside" class="soft">{{ words.progress.nothingOpen }}</p>
  <LearnersFrame
    v-else
    v-model:person-id="personId"
    :chosen="chosenByNumber([...selection.chosen.value])"
    :course-id="inside.course.id"
    :is-past="query.day !== undefined"
    @done="selection.clear()"
  >
    <template #head
      ><div class="head">
        <v-select
          class="pick"
          :label="words.courses.course"
          :items="inside.courses"
          item-value="id"
          item-title="name"
          :model-value="inside.course.id"
          @update:model-value="courseId = $event"
        />
        <p class="soft">{{ w.figures(inside.figures) }}</p>
      </div></template
    >
    <div ref="scroller" class="scroller" tabindex="0" role="region" :aria-label="w.title(inside.course.name)">
      <table :aria-rowcount="inside.learners + 1">
        <thead>
          <tr>
            <th class="name" rowspan="2" scope="col">{{ words.people.name }}</th>
            <th v-for="(unit, index) in inside.units" :key="unit.id" class="unit" scope="colgroup" :colspan="unit.activities.length || 1">
              {{ w.unit(index + 1, unit.name) }}
            </th>
            <th rowspan="2" scope="col">{{ w.finishedTitle }}</th>
          </tr>
          <tr>
            <template v-for="unit in inside.units" :key="unit.id">
              <th
                v-for="activity in activities.filter(({ unitId }) => unitId === unit.id)"
                :key="activity.id"
                scope="col"
                class="activity"
                :class="{ first: activity.isFirst }"
                :title="activity.name"
              >
                {{ activity.short }}<span class="sr-only">{{ activity.name }}</span>
              </th>
              <th v-if="unit.activities.length === 0" class="first" />
            </template>
          </tr>
        </thead>
        <tbody>
          <tr class="stops">
            <th scope="row" class="name late">{{ w.stoppedHere }}</th>
            <td v-for="activity in activities" :key="activity.id">
              <button
                v-if="activity.stops > 0"
                type="button"
                class="late"
                :title="w.chooseStopped(activity.stops, activity.name)"
                @click="chooseStopped(activity.id)"
              >
                <i aria-hidden="true" :style="{ height: `${4 + (activity.stops / mostStops) * 22}px` }" />{{ showNumber(activity.stops) }}
              </button>
            </td>
            <td />
          </tr>
          <tr v-if="spaceAbove > 0" aria-hidden="true">
            <td :colspan="activities.length + 2" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
          </tr>
          <tr
            v-for="{ row: person, index } in drawn"
            :key="person.id"
            :data-row="index"
            :aria-rowindex="index + 2"
            :class="{ sel: selection.has(person.id) }"
            :tabindex="index === 0 ? 0 : -1"
            @keydown="onKey($event, index)"
          >
            <th scope="row" class="name">
              <div class="who">
                <span class="box" @click="selection.click(index, $event.shiftKey)">
                  <v-checkbox-btn
                    density="compact"
                    readonly
                    :model-value="selection.has(person.id)"
                    :aria-label="words.people.choose(listName(person))"
                    @keydown.space.prevent.stop="selection.click(index, $event.shiftKey)"
                  />
                </span>
                <button type="button" @click="personId = person.id">{{ listName(person) }}</button>
              </div>
            </th>
            <td v-for="activity in activities" :key="activity.id" class="mark">
              <ActivityMark
                :result="person.results.find(({ activityId }) => activityId === activity.id)"
                :is-open="person.openUnits.includes(activity.unitId)"
                :is-here="person.at === activity.id && person.status !== 'not begun'"
                :name="activity.name"
              />
            </td>
            <td class="num">{{ person.exempt ? words.progress.exemptWord : finishedOf(person) }}</td>
          </tr>
          <tr v-if="spaceBelow > 0" aria-hidden="true">
            <td :colspan="activities.length + 2" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
          </tr>
        </tbody>
      </table>
      <p v-if="people.length === 0" class="soft empty">{{ words.progress.nothingFits }}</p>
    </div>
    <template #beside
      ><WhereTheyStop :worst="worst ?? null" :under-way="inside.figures.underWay" @choose="chooseStopped" />
      <UnitDays :units="inside.units" :days="inside.days"
    /></template>
  </LearnersFrame>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  padding: 10px 14px;
  border-bottom: 1px solid var(--rule);
}
.pick {
  max-width: 300px;
}
.scroller {
  overflow: auto;
  flex: 1;
  min-height: 220px;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 14.5px;
}
thead {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--sheet);
}
thead th {
  font-size: 12.5px;
  line-height: 1.2;
  font-weight: 600;
  color: var(--ink2);
  padding: 4px 8px;
  text-align: left;
  vertical-align: bottom;
  border-bottom: 1px solid var(--rule);
}
.unit,
.first {
  border-left: 1px solid var(--rule);
}
.activity {
  text-align: center;
  padding: 4px 2px;
  min-width: 33px;
}
td,
tbody th {
  height: 34px;
  padding: 0 8px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
  white-space: nowrap;
  text-align: left;
  font-weight: 400;
}
.mark {
  padding: 0 2px;
  text-align: center;
}
.name {
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 1;
  min-width: 180px;
}
.stops td,
.stops th {
  background: var(--paper);
  height: 46px;
  vertical-align: bottom;
  padding: 0 2px 3px;
  text-align: center;
}
.stops th {
  text-align: left;
  padding-left: 8px;
  font-size: 13px;
}
.stops i {
  display: block;
  width: 16px;
  margin: 0 auto;
  background: var(--flare);
}
tr.sel :is(td, th) {
  background: var(--tide2);
}
button {
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  padding: 0;
  min-height: 24px;
}
.who {
  display: flex;
  align-items: center;
  gap: 4px;
}
.who span {
  flex: none;
}
.name button {
  text-align: left;
}
.name button:hover {
  text-decoration: underline;
  color: var(--tide);
}
button.late {
  color: var(--flare-ink);
  font-weight: 700;
  font-size: 12.5px;
  min-width: 24px;
}
.empty {
  padding: 24px 14px;
}
</style>
