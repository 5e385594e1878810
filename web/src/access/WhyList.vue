<script setup lang="ts">
import type { WhyStep } from '@gate-roster/contract';
import * as words from '../words.ts';

/** The chain of statements that decided, what did not decide in grey. */
defineProps<{ steps: readonly WhyStep[] }>();
</script>

<template>
  <ol class="why">
    <li v-for="(step, index) in steps" :key="index" :class="{ soft: step.verdict !== 'decided' }">{{ words.access.step(step) }}</li>
  </ol>
</template>

<style scoped>
.why {
  margin: 6px 0 4px;
  padding-left: 20px;
  font-size: 13.5px;
}
</style>
