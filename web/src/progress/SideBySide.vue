<script setup lang="ts">
import { completion, smallGroup, type Tally } from '@gate-roster/core';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import { showDay, showNumber, showPercent, showScore } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import { besideLines, type BesideRow, compare, groupsAround, mostGroups } from './beside-lines.ts';
import type { ReportQuery } from './shown-view.ts';

/** Groups next to one another on one scale, where they are furthest apart first, with the scope below them. */
const { query, from = null } = defineProps<{
  query: ReportQuery;
  /** An earlier day, as whose end the same groups stand below each; null: they do not. */
  from?: string | null;
}>();
const emit = defineEmits<{ speaksOf: [report: null]; groups: [ids: number[]] }>();
const chosen = defineModel<number[]>({ required: true });
const w = words.progress.beside;
const scope = useScope();
const tree = useTree();
emit('speaksOf', null);
const first = computed(() => {
  const rows = tree.value?.visible(() => true).map(({ row }) => row) ?? [];
  return groupsAround(rows, scope.groupId.value);
});
const groups = computed(() => (chosen.value.length > 0 ? chosen.value : first.value));
// The address gives a new list each time it is read: only other groups are told of.
watch(
  () => groups.value.join(),
  () => {
    emit('groups', groups.value);
  },
  { immediate: true },
);
/** On all units that each has open, or on those that are open to all of them. */
const count = useUrlState<'own' | 'common'>('count', 'own', oneOf(['own', 'common']));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['progress', scope.groupId, 'beside', groups, computed(() => query), count],
  queryFn: ({ signal }) =>
    call(
      'progressSideBySide',
      { params: { groupId: scope.groupId.value }, query: { ...query, groups: groups.value.join(), count: count.value } },
      signal,
    ),
  enabled: () => groups.value.length > 0,
  placeholderData: keepPreviousData,
});
const earlier = useQuery({
  queryKey: ['progress', scope.groupId, 'beside', groups, computed(() => ({ ...query, day: from })), count],
  queryFn: ({ signal }) =>
    call(
      'progressSideBySide',
      {
        params: { groupId: scope.groupId.value },
        query: { ...query, ...(from === null ? {} : { day: from }), groups: groups.value.join(), count: count.value },
      },
      signal,
    ),
  enabled: () => groups.value.length > 0 && from !== null,
});
const added = ref<number | null>(null);
watch(added, (id) => {
  if (id !== null && !groups.value.includes(id)) chosen.value = [...groups.value, id].slice(0, mostGroups);
  added.value = null;
});
const drop = (id: number): void => {
  chosen.value = groups.value.filter((each) => each !== id);
};
const wished = ref<number[] | null>(null);
const sortedBy = ref<number | null>(null);
const nothing = { courses: [], rows: [] };
const compared = computed(() => compare(data.value ?? nothing, wished.value, sortedBy.value));
const courses = computed(() => compared.value.courses);
const lines = computed(() =>
  data.value ? besideLines(data.value, compared.value.sorted, from === null ? null : (earlier.data.value ?? null)) : [],
);
const most = computed(() => {
  const found = compared.value.furthest;
  return found ? w.apart(found.course, found.points, found.least, found.most, found.isSmall) : w.notApart;
});
const rateText = (tally: Tally | null | undefined): string => {
  const rate = tally ? completion(tally) : null;
  return rate === null ? '–' : showPercent(rate);
};
const widthOf = (tally: Tally | null | undefined): string => `${Math.round(((tally && completion(tally)) ?? 0) * 100)}%`;
const people = (row: BesideRow): string => w.learners(row.learners, row.ofAll, row.learners < smallGroup);
</script>

<template>
  <div class="beside">
    <div class="chips">
      <span v-for="id in groups" :key="id" class="chip">
        {{ tree?.row(id)?.name ?? '' }}
        <button v-if="groups.length > 1" type="button" class="drop" :aria-label="w.drop(tree?.row(id)?.name ?? '')" @click="drop(id)">
          {{ '✕' }}
        </button>
      </span>
      <div v-if="groups.length < mostGroups" class="add"><GroupPicker v-model="added" :label="w.add" :autofocus="false" /></div>
      <v-autocomplete
        v-if="data"
        class="pick"
        multiple
        :model-value="courses.map(({ id }) => id)"
        :items="data.courses"
        item-value="id"
        item-title="name"
        :label="w.courses"
        @update:model-value="wished = $event"
      >
        <template #selection="{ index }"
          ><span v-if="index === 0">{{ w.coursesShown(courses.length) }}</span></template
        >
      </v-autocomplete>
      <v-select v-model="count" class="pick" :items="w.counts" :label="w.counted" />
    </div>
    <p v-if="groups.length === 0" class="soft">{{ w.none }}</p>
    <LoadState v-else-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="scroll" tabindex="0" role="region" :aria-label="w.title">
        <table>
          <thead>
            <tr>
              <th scope="col">{{ words.groups.group }}</th>
              <th
                v-for="course in courses"
                :key="course.id"
                scope="col"
                :aria-sort="compared.by === course.index ? 'ascending' : undefined"
              >
                <button type="button" class="plain-link" @click="sortedBy = course.index">
                  {{ course.name }}{{ compared.by === course.index ? ' ↓' : '' }}
                </button>
              </th>
              <th scope="col">{{ w.scores }}</th>
              <th scope="col" class="num">{{ w.overdue }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="{ row, isScope, isEarlier } in lines"
              :key="`${row.id}${isScope ? ' scope' : ''}${isEarlier ? ' then' : ''}`"
              :class="{ whole: isScope, then: isEarlier }"
            >
              <th scope="row">
                <b>{{ isEarlier ? w.onDay(row.name, showDay(from ?? '')) : row.name }}</b>
                <span class="soft small">{{ isScope ? w.eachOnce(row.learners) : people(row) }}</span>
              </th>
              <td
                v-for="course in courses"
                :key="course.id"
                :title="row.cells[course.index] ? words.progress.cellTitle(row.cells[course.index]!) : ''"
              >
                <div class="figure-bar">
                  <span class="bar" aria-hidden="true"><span :style="{ width: widthOf(row.cells[course.index]) }" /></span>
                  <b class="num">{{ rateText(row.cells[course.index]) }}</b>
                </div>
              </td>
              <td :title="row.scores ? w.quartiles(row.scores) : ''">
                <div v-if="row.scores" class="figure-bar">
                  <span class="bar scores" aria-hidden="true"
                    ><span :style="{ left: `${row.scores.low}%`, width: `${Math.max(1, row.scores.high - row.scores.low)}%` }" /><i
                      :style="{ left: `${row.scores.median}%` }"
                  /></span>
                  <b class="num">{{ showScore(row.scores.median) }}</b>
                </div>
                <template v-else>–</template>
              </td>
              <td class="num" :class="{ late: row.total.overdue > 0 }">{{ showNumber(row.total.overdue) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <section class="card">
        <h2>{{ w.apartTitle }}</h2>
        <p>{{ most }}</p>
      </section>
    </template>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  gap: 14px;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
}
.then > * {
  background: var(--paper);
}
.then b {
  font-weight: 400;
}
.chip {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  border: 1px solid var(--tide);
  border-radius: 6px;
  background: var(--tide2);
  padding: 0 4px 0 10px;
  min-height: 34px;
}
.drop {
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  min-width: 28px;
  min-height: 28px;
  cursor: pointer;
}
.add {
  width: 200px;
}
.pick {
  flex: 0 1 220px;
}
.scroll {
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 14.5px;
}
th,
td {
  text-align: left;
  padding: 10px;
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
thead th {
  font-size: 13px;
  font-weight: 600;
  color: var(--ink2);
}
tbody th {
  font-weight: 400;
}
tbody th .small {
  display: block;
}
th.num,
td.num {
  text-align: right;
}
tr.whole {
  background: var(--paper);
}
.figure-bar {
  display: flex;
  align-items: center;
  gap: 10px;
}
.bar {
  position: relative;
  flex: 1;
  min-width: 90px;
  height: 10px;
  border-radius: 5px;
  background: var(--paper2);
  overflow: hidden;
}
.bar > span {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--kelp);
  border-radius: 5px;
}
.bar.scores {
  overflow: visible;
}
.bar.scores > span {
  background: var(--slate);
  border-radius: 0;
}
.bar.scores > i {
  position: absolute;
  top: -2px;
  bottom: -2px;
  width: 3px;
  background: var(--ink);
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 14px 16px;
  display: grid;
  gap: 6px;
}
h2 {
  font-size: 17px;
}
.small {
  font-size: 13.5px;
}
</style>
