<script setup lang="ts">
import QRCode from 'qrcode';
import { computed } from 'vue';

/** An address as a square that cameras read. Always dark on light, or they do not. */
const { text, label } = defineProps<{ text: string; label: string }>();
const modules = computed(() => QRCode.create(text, { errorCorrectionLevel: 'M' }).modules);
const quiet = 3;
const path = computed(() => {
  const { size, data } = modules.value;
  const parts: string[] = [];
  for (let y = 0; y < size; y++) for (let x = 0; x < size; x++) if (data[y * size + x]) parts.push(`M${x + quiet} ${y + quiet}h1v1h-1z`);
  return parts.join('');
});
const side = computed(() => modules.value.size + 2 * quiet);
</script>

<template>
  <svg role="img" :aria-label="label" :viewBox="`0 0 ${side} ${side}`" shape-rendering="crispEdges">
    <rect width="100%" height="100%" fill="#fff" />
    <path :d="path" fill="#000" />
  </svg>
</template>
