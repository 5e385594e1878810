<script setup lang="ts">
import { computed } from 'vue';
import { Failure } from '../api/call.ts';
import * as words from '../words.ts';
import { failureWords } from './failure-words.ts';

/** What stands in place of a list or sheet while it is fetched, or when it could not be. */
const { error } = defineProps<{ error: Error | null; isPending: boolean }>();
defineEmits<{ again: [] }>();
const isGone = computed(() => error instanceof Failure && error.code === 'not-found');
</script>

<template>
  <div v-if="error" class="state" role="alert">
    <p>{{ isGone ? words.failures.notHere : failureWords(error) }}</p>
    <v-btn v-if="!isGone" @click="$emit('again')">{{ words.common.tryAgain }}</v-btn>
  </div>
  <div v-else-if="isPending" class="state" aria-busy="true">
    <v-skeleton-loader type="paragraph, paragraph" color="transparent" />
  </div>
</template>

<style scoped>
.state {
  padding: 24px;
  display: grid;
  gap: 12px;
  justify-items: start;
  max-width: 560px;
}
.state > .v-skeleton-loader {
  width: 100%;
}
</style>
