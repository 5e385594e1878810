<script setup lang="ts">
/** Folds and unfolds what lies below a row. `isFolded` null: nothing does, and its room stays free. */
defineProps<{ isFolded: boolean | null; label: string }>();
defineEmits<{ fold: [] }>();
</script>

<template>
  <span v-if="isFolded === null" class="fold" aria-hidden="true" />
  <button v-else type="button" class="fold" :aria-expanded="!isFolded" :aria-label="label" @click="$emit('fold')">
    {{ isFolded ? '▸' : '▾' }}
  </button>
</template>

<style scoped>
.fold {
  display: inline-block;
  width: 24px;
  border: 0;
  padding: 0;
  background: none;
  font: inherit;
  font-size: 12px;
  color: var(--ink2);
}
button {
  min-height: 24px;
  cursor: pointer;
}
</style>
