<script setup lang="ts">
import { computed } from 'vue';
import * as words from '../words.ts';
import type { RunningJob } from './use-job.ts';

/** A large change under way: how far it is; it goes on without this page. */
const { job, title } = defineProps<{ job: RunningJob; title: string }>();
const share = computed(() => (job.sheet.value?.ofAll ? job.sheet.value.done / job.sheet.value.ofAll : 0));
</script>

<template>
  <section class="job" role="status">
    <v-progress-linear :model-value="share * 100" :indeterminate="share === 0" height="8" color="primary" :aria-label="title" />
    <p>{{ words.changes.jobAt(share) }}</p>
    <v-btn variant="text" @click="job.stop()">{{ words.changes.stopJob }}</v-btn>
  </section>
</template>

<style scoped>
.job {
  display: grid;
  gap: 14px;
  justify-items: start;
  max-width: 560px;
  padding-top: 18px;
}
</style>
