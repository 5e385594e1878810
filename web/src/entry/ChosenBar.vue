<script setup lang="ts">
import * as words from '../words.ts';

/** What can be done with those who ask and are chosen: let through, or turned away. */
defineProps<{ count: number; yes: string }>();
defineEmits<{ yes: []; no: [] }>();
const w = words.waysIn.asking;
</script>

<template>
  <div v-if="count > 0" class="chosen-bar">
    <b>{{ w.chosen(count) }}</b>
    <v-btn variant="text" @click="$emit('yes')">{{ yes }}</v-btn>
    <v-btn variant="text" class="late" @click="$emit('no')">{{ w.turnAway }}</v-btn>
  </div>
</template>

<style scoped src="./asking.css"></style>
