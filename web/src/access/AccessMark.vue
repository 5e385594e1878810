<script setup lang="ts">
import type { AccessCell } from '@gate-roster/contract';
import { showDay } from '../ui/format.ts';

/** How a course stands for a group, told by shape as well as colour. */
const {
  state,
  cell = null,
  units = undefined,
  allUnits = 0,
  isDraft = false,
  sample = false,
} = defineProps<{
  state: AccessCell['state'];
  cell?: AccessCell | null;
  units?: number | undefined;
  allUnits?: number;
  isDraft?: boolean;
  sample?: boolean;
}>();
</script>

<template>
  <span class="mark" :class="[state === 'part' ? 'in-part' : state, { draft: isDraft, sample }]" aria-hidden="true">
    <template v-if="state === 'here'">{{ '✓' }}</template>
    <template v-else-if="state === 'above'">{{ '↑' }}</template>
    <template v-else-if="state === 'part'">{{ sample ? '3/8' : `${units ?? cell?.units ?? 0}/${allUnits}` }}</template>
    <template v-else-if="state === 'later'">{{ sample || !cell?.opensOn ? '' : showDay(cell.opensOn).replace(/ \d{4}$/, '') }}</template>
    <template v-else-if="state === 'blocked'">{{ '×' }}</template>
    <template v-else>{{ '·' }}</template>
  </span>
</template>

<style scoped>
.mark {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-width: 46px;
  height: 28px;
  border-radius: 5px;
  font-weight: 700;
  font-size: 13px;
  position: relative;
  border: 1px solid transparent;
}
.sample {
  min-width: 28px;
  height: 20px;
  font-size: 12px;
}
.here {
  background: var(--tide);
  color: rgb(var(--v-theme-on-primary));
}
.above {
  color: var(--tide);
  font-size: 16px;
}
.in-part {
  background: linear-gradient(90deg, var(--tide2) 60%, transparent);
  border: 1px solid var(--tide);
  color: var(--tide);
}
.later {
  border: 1px dashed var(--tide);
  color: var(--tide);
  font-weight: 600;
  font-size: 12.5px;
  white-space: nowrap;
  padding: 0 2px;
}
.blocked {
  border-color: var(--flare-ink);
  color: var(--flare-ink);
  background: repeating-linear-gradient(135deg, var(--flare2) 0 5px, var(--sheet) 5px 10px);
}
.closed {
  color: var(--ink2);
}
.draft {
  box-shadow: 0 0 0 3px #ebc46a;
}
.draft::after {
  content: '';
  position: absolute;
  right: -5px;
  top: -5px;
  width: 10px;
  height: 10px;
  border-radius: 5px;
  background: var(--brass-ink);
  border: 1px solid var(--sheet);
}
</style>
