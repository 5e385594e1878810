<script setup lang="ts">
import type { ActivityContent } from '@gate-roster/contract';
import { addressOf } from '../api/call.ts';
import * as words from '../words.ts';

/** The words, the link and the file of an activity. */
const { activityId, content } = defineProps<{ activityId: number; content: ActivityContent }>();
const w = words.activityContent;
</script>

<template>
  <p v-if="content.words" class="said">{{ content.words }}</p>
  <p v-if="content.link">
    <a :href="content.link" target="_blank" rel="noopener noreferrer">{{ w.open(content.link) }}</a>
  </p>
  <p v-if="content.uploadId">
    <a :href="addressOf('activityFile', { params: { activityId } })" download>{{ w.getFile }}</a>
  </p>
</template>

<style scoped>
.said {
  white-space: pre-line;
}
</style>
