<script setup lang="ts">
import type { CourseRequest } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, watchEffect } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import DataList from '../ui/DataList.vue';
import LoadState from '../ui/LoadState.vue';
import { showAgo, showMoment } from '../ui/format.ts';
import type { ListColumn } from '../ui/list-columns.ts';
import { useSelection } from '../ui/selection.ts';
import * as words from '../words.ts';
import ChosenBar from './ChosenBar.vue';

/** Learners who ask for a course that is open on request; one or many are answered. */
const emit = defineEmits<{ decide: [list: readonly CourseRequest[], decision: 'open' | 'turn away']; known: [count: number] }>();
const scope = useScope();
const w = words.waysIn.courseRequests;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['requests', 'courses', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('courseRequests', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
const requests = computed(() => data.value?.requests ?? []);
watchEffect(() => {
  if (data.value) emit('known', data.value.requests.length);
});
const selection = useSelection(requests, { isWhole: true });
const chosen = computed(() => requests.value.filter(({ id }) => selection.has(id)));
const asking = words.waysIn.asking;
const columns: ListColumn[] = [
  { key: 'who', title: asking.who },
  { key: 'course', title: w.course },
  { key: 'words', title: w.words },
  { key: 'acts', title: asking.answer, hasHiddenTitle: true },
];
const answer = (list: readonly CourseRequest[], decision: 'open' | 'turn away'): void => {
  emit('decide', list, decision);
};
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else-if="requests.length > 0">
    <h2 class="heading">{{ w.title }}</h2>
    <ChosenBar :count="selection.count.value" :yes="w.open" @yes="answer(chosen, 'open')" @no="answer(chosen, 'turn away')" />
    <DataList
      :label="w.title"
      :columns="columns"
      :rows="requests"
      :selection="selection"
      :label-of="(request) => (request ? asking.choose(request.name) : asking.chooseAll)"
      @all="selection.set(requests.map(({ id }) => id))"
    >
      <template #who="{ row: request }">
        <b>{{ request.name }}</b>
        <p class="soft small">{{ request.groups.map(({ name }) => name).join(', ') }}</p>
      </template>
      <template #course="{ row: request }">
        {{ request.course }}
        <p class="soft small" :title="showMoment(request.askedAt)">{{ w.since(showAgo(request.askedAt)) }}</p>
      </template>
      <template #words="{ row: request }">
        <span class="small">{{ request.words }}</span>
      </template>
      <template #acts="{ row: request }">
        <div class="acts">
          <v-btn size="small" @click="answer([request], 'open')">{{ w.open }}</v-btn>
          <v-btn size="small" variant="text" class="late" @click="answer([request], 'turn away')">{{ asking.turnAway }}</v-btn>
        </div>
      </template>
    </DataList>
    <p v-if="(data?.more ?? 0) > 0" class="soft more">{{ asking.more(data?.more ?? 0) }}</p>
  </section>
</template>

<style scoped src="./asking.css"></style>
