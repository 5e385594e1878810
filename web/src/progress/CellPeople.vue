<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import { personName, showDay, showScore } from '../ui/format.ts';
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
const people = computed(() => data.value?.pages.flatMap(({ enrolments }) => enrolments) ?? []);
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
      <div class="scroller" tabindex="0" role="region" :aria-label="words.people.title">
        <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
        <table v-else>
          <thead>
            <tr>
              <th>{{ words.people.name }}</th>
              <th>{{ words.progress.status }}</th>
              <th>{{ words.progress.dueTitle }}</th>
              <th>{{ words.progress.doneOn }}</th>
              <th class="num">{{ words.progress.scoreTitle }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in people" :key="each.personId">
              <td>
                <router-link :to="{ name: 'groups', params: { groupId: group.id }, query: { person: String(each.personId) } }">{{
                  personName(each)
                }}</router-link>
              </td>
              <td :class="{ late: each.lateness === 'overdue', good: each.status === 'done' }">
                {{ each.exempt ? words.progress.exemptWord : words.progress.statusOf(each.status, each.lateness) }}
              </td>
              <td>{{ each.due ? showDay(each.due) : '' }}</td>
              <td>{{ each.doneDay ? showDay(each.doneDay) : '' }}</td>
              <td class="num">{{ each.score === null ? '' : showScore(each.score) }}</td>
            </tr>
          </tbody>
        </table>
        <v-btn v-if="hasNextPage" class="ma-3" :loading="isFetchingNextPage" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
      </div>
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
.scroller {
  overflow: auto;
  max-height: 60dvh;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14.5px;
}
th {
  position: sticky;
  top: 0;
  background: var(--sheet);
  text-align: left;
  font-size: 13px;
  color: var(--ink2);
  padding: 6px 24px 6px;
  border-bottom: 1px solid var(--rule);
}
td {
  padding: 0 24px;
  height: 36px;
  border-bottom: 1px solid var(--rule);
}
a {
  color: inherit;
}
</style>
