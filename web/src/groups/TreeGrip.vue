<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ref } from 'vue';
import { treeWidth } from '../shell/settings.ts';

/** The edge of the tree, by which it is made wider or narrower. */
const [narrowest, widest] = [200, 560];
const isHeld = ref(false);
useEventListener(document, 'pointermove', (event: PointerEvent) => {
  if (isHeld.value) treeWidth.value = Math.max(narrowest, Math.min(widest, event.clientX));
});
useEventListener(document, 'pointerup', () => {
  isHeld.value = false;
});
</script>

<template>
  <div class="grip" aria-hidden="true" @pointerdown.prevent="isHeld = true" />
</template>

<style scoped>
.grip {
  position: absolute;
  top: 0;
  bottom: 0;
  right: -3px;
  width: 6px;
  cursor: col-resize;
  z-index: 2;
}
</style>
