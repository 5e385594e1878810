<script setup lang="ts">
import type { Look } from '@gate-roster/contract';
import { computed } from 'vue';
import { showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import type { RosterSummary } from './roster-lines.ts';

/** What the rows of a file would do, in numbers, with what comes of it. */
const { counts, look } = defineProps<{ counts: RosterSummary['counts'] | null; look: Look | null }>();
/** Whether what it would do is shown in full. */
const details = defineModel<boolean>('details', { required: true });
const kinds = computed(() =>
  (['new', 'joins', 'changes', 'nothing', 'needs a look'] as const).map((key) => ({
    key,
    label: {
      new: words.entry.new,
      joins: words.entry.joins,
      changes: words.entry.changes,
      nothing: words.entry.nothing,
      'needs a look': words.entry.needsALook,
    }[key],
    count: counts?.[key] ?? 0,
  })),
);
</script>

<template>
  <div class="counts">
    <div v-for="each in kinds" :key="each.key" class="count" :class="{ look: each.key === 'needs a look' && each.count > 0 }">
      <small>{{ each.label }}</small>
      <b class="big num">{{ counts ? showNumber(each.count) : '–' }}</b>
    </div>
    <button type="button" class="count plain" :aria-expanded="details" @click="details = !details">
      <small>{{ words.entry.access }}</small>
      <span
        ><b class="big num">{{ look ? showNumber(look.gaining) : '–' }}</b> <span class="plain-link">{{ words.changes.who }}</span></span
      >
    </button>
    <div v-if="look && look.seats.needed > 0" class="count" :class="{ look: look.seats.inLine > 0 }">
      <small>{{ words.entry.seatsNeeded }}</small>
      <span
        ><b class="big num">{{ showNumber(look.seats.needed) }}</b>
        <span class="soft">{{ words.changes.seatsFree(look.seats.free, look.seats.inLine > 0) }}</span></span
      >
    </div>
  </div>
</template>

<style scoped>
.counts {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--paper);
  flex: none;
  overflow: hidden;
}
.count {
  padding: 9px 14px;
  border-right: 1px solid var(--rule);
  display: grid;
  text-align: left;
  background: none;
  font: inherit;
  color: inherit;
}
.count.plain {
  border: 0;
  cursor: pointer;
}
.count small {
  color: var(--ink2);
  font-size: 13.5px;
}
.count .big {
  font-size: 22px;
  text-align: left;
}
.count.look {
  background: var(--flare2);
}
.count.look :is(small, .big) {
  color: var(--flare-ink);
  font-weight: 700;
}
@media (max-width: 860px) {
  .counts {
    grid-auto-flow: row;
  }
}
</style>
