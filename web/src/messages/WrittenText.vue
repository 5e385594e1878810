<script setup lang="ts">
import { marksToHtml } from '@gate-roster/core';
import { computed } from 'vue';

/** What somebody wrote, with its marks shown. */
const { text } = defineProps<{ text: string }>();
const html = computed(() => marksToHtml(text));
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- made of plain text by a library that lets no HTML through -->
  <div class="written" v-html="html" />
</template>

<style scoped>
.written {
  overflow-wrap: anywhere;
  max-width: 70ch;
  display: grid;
  gap: 8px;
}
.written :deep(:is(ul, ol)) {
  padding-left: 22px;
}
.written :deep(a) {
  color: var(--tide);
}
</style>
