<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { computed } from 'vue';
import { useScope } from '../shell/scope.ts';
import * as words from '../words.ts';
import type { ReportQuery } from './shown-view.ts';

/** Of how many learners the figures speak, and the ways to the others. */
const { report, query } = defineProps<{
  report: Pick<ProgressReport, 'learners' | 'ofAll' | 'notCounted'>;
  query: ReportQuery;
}>();
const scope = useScope();
const to = computed(() => (more: Record<string, string>) => ({
  name: 'groups' as const,
  params: { groupId: scope.groupId.value },
  query: { ...(query.subgroups === 'no' ? { subgroups: 'no' } : {}), ...more },
}));
</script>

<template>
  <span class="soft">
    {{ words.filters.sentence(report.learners, report.ofAll) }}
    <router-link v-if="report.learners < report.ofAll && !query.day" :to="to({ filter: query.filter, fits: 'no' })">{{
      words.filters.who
    }}</router-link>
    <template v-if="report.notCounted > 0">
      {{ words.filters.notCounted(report.notCounted) }}
      <router-link v-if="!query.day" :to="to({ counted: 'no' })">{{ words.filters.who }}</router-link>
    </template>
  </span>
</template>

<style scoped>
a {
  color: var(--tide);
  font-weight: 600;
}
</style>
