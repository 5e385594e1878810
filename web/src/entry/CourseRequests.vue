<script setup lang="ts">
import type { CourseRequest } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, watchEffect } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { useChosen } from '../ui/chosen.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

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
const chosen = useChosen(requests, ({ id }) => String(id));
const answer = (list: readonly CourseRequest[], decision: 'open' | 'turn away'): void => {
  emit('decide', list, decision);
};
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else-if="requests.length > 0">
    <h2 class="heading">{{ w.title }}</h2>
    <div v-if="chosen.keys.value.size > 0" class="chosen-bar">
      <b>{{ words.waysIn.asking.chosen(chosen.keys.value.size) }}</b>
      <v-btn variant="text" @click="answer(chosen.items.value, 'open')">{{ w.open }}</v-btn>
      <v-btn variant="text" class="late" @click="answer(chosen.items.value, 'turn away')">{{ words.waysIn.asking.turnAway }}</v-btn>
    </div>
    <table class="rows">
      <thead>
        <tr>
          <th class="box">
            <v-checkbox-btn
              density="compact"
              :model-value="chosen.isAll.value"
              :indeterminate="chosen.keys.value.size > 0 && !chosen.isAll.value"
              :aria-label="words.waysIn.asking.chooseAll"
              @update:model-value="chosen.toggleAll"
            />
          </th>
          <th>{{ words.waysIn.asking.who }}</th>
          <th>{{ w.course }}</th>
          <th>{{ w.words }}</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="request in requests" :key="request.id">
          <td class="box">
            <v-checkbox-btn
              density="compact"
              :model-value="chosen.has(request)"
              :aria-label="words.waysIn.asking.choose(request.name)"
              @update:model-value="chosen.toggle(request)"
            />
          </td>
          <td>
            <b>{{ request.name }}</b>
            <p class="soft small">{{ request.groups.map(({ name }) => name).join(', ') }}</p>
          </td>
          <td>
            {{ request.course }}
            <p class="soft small" :title="showMoment(request.askedAt)">{{ w.since(showAgo(request.askedAt)) }}</p>
          </td>
          <td class="small">{{ request.words }}</td>
          <td class="acts">
            <v-btn size="small" @click="answer([request], 'open')">{{ w.open }}</v-btn>
            <v-btn size="small" variant="text" class="late" @click="answer([request], 'turn away')">{{
              words.waysIn.asking.turnAway
            }}</v-btn>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="(data?.more ?? 0) > 0" class="soft more">{{ words.waysIn.asking.more(data?.more ?? 0) }}</p>
  </section>
</template>

<style scoped src="./asking.css"></style>
