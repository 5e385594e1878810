<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { showTime } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import WhyList from './WhyList.vue';
import { useAsOf } from './as-of.ts';

/** Why a course is open, or not, to somebody who is in this group and nowhere else. */
const { groupId, courseId } = defineProps<{ groupId: number; courseId: number }>();
const day = useAsOf();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['access', computed(() => groupId), 'why', computed(() => courseId), day],
  queryFn: ({ signal }) =>
    call('accessWhy', { params: { groupId, courseId }, query: day.value === null ? {} : { day: day.value } }, signal),
});
</script>

<template>
  <!-- There from the beginning: what comes below it does not move when the answer arrives. -->
  <details>
    <summary>{{ words.access.why }}</summary>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <WhyList :steps="data.why" />
      <ul v-if="data.parts.length > 0" class="plain-list">
        <li v-for="part in data.parts" :key="`${part.splitId} ${part.part}`">
          <RouterLink class="plain-link" :to="{ name: 'groups', params: { groupId: part.groupId, part: 'splits', thing: part.splitId } }">{{
            words.splits.why(part, showTime(part.until))
          }}</RouterLink>
        </li>
      </ul>
    </template>
  </details>
</template>
