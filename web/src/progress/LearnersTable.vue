<script setup lang="ts">
import type { LearnerRow } from '@gate-roster/contract';
import type { LearnerSortBy } from '@gate-roster/core';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import LoadState from '../ui/LoadState.vue';
import { sortArrows } from '../ui/list-columns.ts';
import { listName, showAgo, showDay, showMoment } from '../ui/format.ts';
import { filterCode } from '../filters/use-filter.ts';
import { useChosen } from '../people/chosen.ts';
import { useSelection } from '../ui/selection.ts';
import { usePagedRows } from '../ui/paged-rows.ts';
import * as words from '../words.ts';
import LearnerCell from './LearnerCell.vue';
import LearnersFrame from './LearnersFrame.vue';
import { useLearnerSort } from './learner-sort.ts';
import type { ReportQuery } from './shown-view.ts';

/** Learners down, courses across: how far each is. */
const { query } = defineProps<{ query: ReportQuery }>();
const emit = defineEmits<{ speaksOf: [of: { learners: number; ofAll: number; notCounted: number }] }>();
const scope = useScope();
const session = useSession();
const { sort, directionOf, press } = useLearnerSort();
const pageSize = 100;
const rowPixels = 37;
const asked = computed(() => ({ ...query, sort: sort.value, limit: pageSize }));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['progress', scope.groupId, 'learners', asked],
  queryFn: ({ pageParam, signal }) =>
    call(
      'progressLearners',
      { params: { groupId: scope.groupId.value }, query: { ...asked.value, ...(pageParam ? { after: pageParam } : {}) } },
      signal,
    ),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
  placeholderData: keepPreviousData,
});
const first = computed(() => data.value?.pages[0]);
/** They come with the first page. */
const counts = computed(() => first.value?.counts ?? null);
watch(
  counts,
  (now) => {
    if (now) emit('speaksOf', now);
  },
  { immediate: true },
);
const people = computed<LearnerRow[]>(() => data.value?.pages.flatMap((page) => page.people) ?? []);
const personId = ref<number | null>(null);
/** The course in whose cell they were opened. */
const cellCourseId = ref<number | null>(null);
function open(person: LearnerRow, courseId: number | null): void {
  personId.value = person.id;
  cellCourseId.value = courseId;
}
const listed = computed(() => ({
  groupId: scope.groupId.value,
  subgroups: query.subgroups,
  counted: 'yes' as const,
  countedOnly: true,
  filter: filterCode.read(query.filter) ?? [],
  fits: 'yes' as const,
}));
const scroller = useTemplateRef<HTMLElement>('scroller');
const { drawn, spaceAbove, spaceBelow, selection, isAllChosen, onKey } = usePagedRows(
  scroller,
  people,
  { hasNextPage, isFetchingNextPage, fetchNextPage },
  rowPixels,
  (id) => (personId.value = id),
  useSelection(people, { total: () => counts.value?.learners ?? 0, of: () => [listed.value, query.day] }),
);
const chosen = useChosen(selection, () => listed.value);
const cellOf = (person: LearnerRow, courseId: number) => person.cells.find((cell) => cell.courseId === courseId);
const heads = computed<{ key: string; title: string; by: LearnerSortBy; hint?: string }[]>(() => [
  { key: 'name', title: words.people.name, by: { by: 'name' } },
  { key: 'group', title: words.groups.group, by: { by: 'group' } },
  { key: 'active', title: words.people.lastActive, by: { by: 'active' } },
  { key: 'due', title: words.progress.nextDue, by: { by: 'due' } },
  ...(first.value?.courses ?? []).map(({ id, name }) => ({
    key: `course${id}`,
    title: name,
    by: { by: 'course' as const, id },
    hint: words.progress.sortLearnersBy(name),
  })),
]);
const otherGroups = (person: LearnerRow): string =>
  person.groups
    .filter(({ id }) => id !== scope.groupId.value)
    .map(({ name }) => name)
    .join(', ');
const span = computed(() => 5 + (first.value?.courses.length ?? 0));
</script>

<template>
  <LearnersFrame
    v-model:person-id="personId"
    :cell-course-id="cellCourseId"
    :chosen="chosen"
    :is-past="query.day !== undefined"
    @done="selection.clear()"
  >
    <LoadState v-if="!first" :error="error" :is-pending="isPending" @again="refetch()" />
    <div v-else ref="scroller" class="scroller" tabindex="0" role="region" :aria-label="words.progress.byLearner">
      <table :aria-rowcount="(counts?.learners ?? 0) + 1">
        <thead>
          <tr>
            <th class="box">
              <v-checkbox-btn
                density="compact"
                :model-value="isAllChosen"
                :indeterminate="!isAllChosen && selection.count.value > 0"
                :aria-label="words.people.chooseAll(counts?.learners ?? 0)"
                @update:model-value="$event ? selection.setAll() : selection.clear()"
              />
            </th>
            <th
              v-for="{ key, title, by, hint } in heads"
              :key="key"
              :class="{ name: key === 'name', course: by.by === 'course' }"
              :aria-sort="directionOf(by)"
            >
              <button type="button" :title="hint" @click="press(by)">{{ title }}{{ sortArrows[directionOf(by)] }}</button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="spaceAbove > 0" aria-hidden="true">
            <td :colspan="span" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
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
            <td class="box" @click="selection.click(index, $event.shiftKey)">
              <v-checkbox-btn
                density="compact"
                readonly
                :model-value="selection.has(person.id)"
                :aria-label="words.people.choose(listName(person))"
                @keydown.space.prevent.stop="selection.click(index, $event.shiftKey)"
              />
            </td>
            <th scope="row" class="name">
              <button type="button" @click="open(person, null)">{{ listName(person) }}</button>
            </th>
            <td class="soft">{{ otherGroups(person) }}</td>
            <td class="soft" :title="person.activeAt ? showMoment(person.activeAt) : undefined">
              {{ person.activeAt ? showAgo(person.activeAt) : words.people.neverActive }}
            </td>
            <td class="soft">{{ person.nextDue ? showDay(person.nextDue) : '' }}</td>
            <td v-for="course in first.courses" :key="course.id">
              <button v-if="cellOf(person, course.id)" type="button" @click="open(person, course.id)">
                <LearnerCell :cell="cellOf(person, course.id)!" :today="query.day ?? session.me?.today ?? ''" />
              </button>
              <span v-else class="soft" :title="words.access.states.closed">{{ '–' }}</span>
            </td>
          </tr>
          <tr v-if="spaceBelow > 0" aria-hidden="true">
            <td :colspan="span" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
          </tr>
        </tbody>
      </table>
      <p v-if="people.length === 0" class="soft empty">{{ words.progress.nothingFits }}</p>
    </div>
    <p class="soft key">{{ words.progress.learnerKey }}</p>
  </LearnersFrame>
</template>

<style scoped>
.key {
  padding: 8px 14px;
  font-size: 14px;
}
.scroller {
  overflow: auto;
  flex: 1;
  min-height: 260px;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 14.5px;
  min-width: 100%;
}
thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--sheet);
  text-align: left;
  vertical-align: bottom;
  font-size: 13px;
  font-weight: 600;
  color: var(--ink2);
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.course {
  min-width: 104px;
  line-height: 1.2;
}
td,
tbody th {
  height: 37px;
  padding: 0 12px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
  white-space: nowrap;
  text-align: left;
  font-weight: 400;
}
.box {
  width: 40px;
  padding: 0 0 0 8px;
}
.name {
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 1;
}
thead .name {
  z-index: 3;
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
  text-align: left;
  min-height: 24px;
}
.name button:hover {
  text-decoration: underline;
  color: var(--tide);
}
.empty {
  padding: 24px 14px;
}
</style>
