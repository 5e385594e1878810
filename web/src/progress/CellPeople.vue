<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import DataList from '../ui/DataList.vue';
import { personName, showDay, showScore } from '../ui/format.ts';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import type { ReportQuery } from './shown-view.ts';

/** The people behind one number of the report. */
const { group, course, query } = defineProps<{
  group: { id: number; name: string };
  course: { id: number; name: string };
  query: ReportQuery;
}>();
const emit = defineEmits<{ close: [] }>();
const { data, error, isPending, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['cell', group.id, course.id, computed(() => query)],
  queryFn: ({ pageParam, signal }) =>
    call(
      'progressPeople',
      { params: { groupId: group.id }, query: { ...query, courseId: course.id, ...(pageParam ? { after: pageParam } : {}) } },
      signal,
    ),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
});
const pages = { hasNextPage, fetchNextPage, isFetchingNextPage };
const people = computed(
  () => data.value?.pages.flatMap(({ enrolments }) => enrolments).map((each) => ({ ...each, id: each.personId })) ?? [],
);
const columns: ListColumn[] = [
  { key: 'name', title: words.people.name },
  { key: 'status', title: words.progress.status },
  { key: 'due', title: words.progress.dueTitle },
  { key: 'done', title: words.progress.doneOn },
  { key: 'score', title: words.progress.scoreTitle, isNumber: true },
];
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="760"
    scrollable
    :aria-label="words.progress.cellDialog(course.name, group.name)"
    @update:model-value="emit('close')"
  >
    <v-card>
      <div class="top">
        <h2>{{ words.progress.cellDialog(course.name, group.name) }}</h2>
        <v-btn variant="text" @click="emit('close')">{{ words.common.close }}</v-btn>
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <DataList v-else class="people" :label="words.people.title" :columns="columns" :rows="people" :row-pixels="36" :pages="pages">
        <template #name="{ row: each }">
          <router-link :to="{ name: 'groups', params: { groupId: group.id }, query: { person: String(each.personId) } }">{{
            personName(each)
          }}</router-link>
        </template>
        <template #status="{ row: each }">
          <span :class="{ late: each.lateness === 'overdue', good: each.status === 'done' }">{{
            each.exempt ? words.progress.exemptWord : words.progress.statusOf(each.status, each.lateness)
          }}</span>
        </template>
        <template #due="{ row: each }">{{ each.due ? showDay(each.due!) : '' }}</template>
        <template #done="{ row: each }">{{ each.doneDay ? showDay(each.doneDay!) : '' }}</template>
        <template #score="{ row: each }">{{ each.score === null ? '' : showScore(each.score) }}</template>
      </DataList>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.top {
  display: flex;
  justify-content: space-between;
  padding: 18px 24px 10px;
  gap: 12px;
}
.people {
  max-height: 60dvh;
  border: 0;
  border-top: 1px solid var(--rule);
  border-radius: 0;
}
:deep(:is(th, td)) {
  padding-inline: 24px;
}
a {
  color: inherit;
}
</style>
