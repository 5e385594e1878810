<script setup lang="ts">
import { computed } from 'vue';
import * as words from '../words.ts';

/** Done, under way and overdue of a whole, told apart by shape as well as colour. */
const {
  all,
  done,
  underWay,
  overdue = 0,
  thin = false,
} = defineProps<{ all: number; done: number; underWay: number; overdue?: number; thin?: boolean }>();
const share = (part: number): string => `${all === 0 ? 0 : (part / all) * 100}%`;
const lateNotBegun = computed(() => Math.max(0, Math.min(overdue - underWay, all - done - underWay)));
const label = computed(() => words.figures.bar(all, done, underWay, overdue));
</script>

<template>
  <span class="bar" :class="{ thin }" role="img" :aria-label="label" :title="label">
    <i class="done" :style="{ width: share(done) }" /><i class="under-way" :style="{ width: share(underWay) }" /><i
      v-if="!thin"
      class="overdue"
      :style="{ width: share(lateNotBegun) }"
    />
  </span>
</template>

<style scoped>
.bar {
  display: inline-flex;
  width: 96px;
  height: 8px;
  background: color-mix(in srgb, var(--fog) 55%, var(--sheet));
  border-radius: 4px;
  overflow: hidden;
  vertical-align: middle;
}
.thin {
  height: 6px;
  width: 42px;
}
i {
  flex: none;
}
.done {
  background: var(--kelp);
  border-right: 1px solid var(--sheet);
}
.under-way {
  background: var(--hatch);
}
.overdue {
  background: var(--flare);
}
</style>
