<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import AsOfBand from '../access/AsOfBand.vue';
import { useAsOf } from '../access/as-of.ts';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import StatementList from './StatementList.vue';

/** What opened, or will open, a course on another day than today, and to how many. */
const { courseId } = defineProps<{
  courseId: number;
  units: readonly { id: number; name: string }[];
  licences: readonly { id: number; name: string }[];
}>();
const scope = useScope();
const day = useAsOf();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['access', scope.groupId, 'course', computed(() => courseId), 'on', day, scope.query],
  queryFn: ({ signal }) =>
    call(
      'courseOnDay',
      { params: { groupId: scope.groupId.value, courseId }, query: { ...scope.query.value, day: day.value ?? '' } },
      signal,
    ),
});
</script>

<template>
  <AsOfBand :shown="data" />
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <template v-else>
    <p v-if="data.archived" class="soft">{{ words.catalogue.archivedNote }}</p>
    <p>{{ words.asOf.openTo(data.open, data.learners) }}</p>
    <StatementList :statements="data.statements" :elsewhere="0" :units="units" :licences="licences" />
  </template>
</template>
