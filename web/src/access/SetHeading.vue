<script setup lang="ts">
import FoldButton from '../ui/FoldButton.vue';
import * as words from '../words.ts';

/** The heading of a course set: folds it, or chooses its courses for the groups that are chosen. */
defineProps<{ name: string; isFolded: boolean; mayChoose: boolean }>();
defineEmits<{ fold: []; choose: [] }>();
</script>

<template>
  <div class="heading">
    <FoldButton :is-folded="isFolded" :label="words.access.foldSet(name)" :title="name" @fold="$emit('fold')" />
    <button
      v-if="!isFolded && mayChoose"
      type="button"
      class="name"
      :aria-label="words.access.chooseSetOf(name)"
      :title="words.access.chooseSet"
      @click="$emit('choose')"
    >
      {{ name }}
    </button>
    <span v-else-if="!isFolded" class="name" :title="name">{{ name }}</span>
  </div>
</template>

<style scoped>
.heading {
  display: flex;
  border-bottom: 2px solid var(--fog);
  min-width: 0;
}
button {
  border: 0;
  background: none;
  font: inherit;
  color: var(--ink2);
  min-width: 24px;
  min-height: 24px;
  padding: 2px 4px;
  cursor: pointer;
  flex: none;
}
.name {
  flex: 1 1 0;
  min-width: 0;
  padding: 2px 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
button.name:hover {
  text-decoration: underline;
}
</style>
