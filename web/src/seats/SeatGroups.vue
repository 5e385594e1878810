<script setup lang="ts">
import type { LicenceSheet } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import FoldButton from '../ui/FoldButton.vue';
import { useFolding } from '../ui/folding.ts';
import { showNumber } from '../ui/format.ts';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import * as words from '../words.ts';
import SeatBar from './SeatBar.vue';
import type { LimitsDraft } from './use-limits.ts';

/** How a licence is used in the groups of the scope, as a tree that folds; each number opens to its people, limits are set in place. */
const { licence, limits } = defineProps<{ licence: LicenceSheet; limits: LimitsDraft }>();
defineEmits<{ open: [number: { group: { id: number; name: string }; list: 'in use' | 'in line' }] }>();
const w = words.seats;
const rowPixels = 38;
const folding = useFolding<number>();
type Group = LicenceSheet['groups'][number];
/** Groups come in the order of the tree: what is deeper below one lies in it. */
const shown = computed(() => {
  const rows: { group: Group; hasBelow: boolean }[] = [];
  let hiddenBelow: number | null = null;
  licence.groups.forEach((group, index) => {
    if (hiddenBelow !== null && group.depth > hiddenBelow) return;
    const hasBelow = (licence.groups[index + 1]?.depth ?? 0) > group.depth;
    rows.push({ group, hasBelow });
    hiddenBelow = folding.isFolded(group.id) ? group.depth : null;
  });
  return rows;
});
const scroller = ref<HTMLElement | null>(null);
const { items, spaceAbove, spaceBelow } = useVirtualRows(scroller, () => shown.value.length, rowPixels);
const drawn = computed(() => items.value.flatMap(({ index }) => shown.value[index] ?? []));
const top = computed(() => licence.groups[0]);
/** What all bars are drawn against. */
const whole = computed(() => licence.seats ?? Math.max(1, ...licence.groups.map(({ used, most }) => Math.max(used, most ?? 0))));
const below = computed(() => {
  const others = licence.groups.slice(1);
  const least = Math.min(...others.map(({ depth }) => depth));
  return others.filter(({ depth, most }) => depth === least && most !== null);
});
const limitsBelow = computed(() => below.value.reduce((sum, { most }) => sum + (most ?? 0), 0));
const lasts = (group: Group): { day: string; range: string } =>
  group.forecast ? w.forecast(group.forecast, group.free) : { day: '–', range: '' };
</script>

<template>
  <div ref="scroller" class="scroll" tabindex="0" role="region" :aria-label="licence.name">
    <table class="rows">
      <thead>
        <tr>
          <th>{{ w.group }}</th>
          <th>{{ w.bar }}</th>
          <th class="num">{{ w.used }}</th>
          <th class="num">{{ w.free }}</th>
          <th class="num">{{ w.inLine }}</th>
          <th class="num">{{ w.limit }}</th>
          <th class="num" :title="w.lastsHint">{{ w.lasts }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="spaceAbove > 0" aria-hidden="true" :style="{ height: `${spaceAbove}px` }" />
        <tr v-for="{ group, hasBelow } in drawn" :key="group.id" class="one">
          <td :style="{ paddingLeft: `${10 + Math.min(group.depth, 8) * 18}px` }">
            <FoldButton
              :is-folded="hasBelow ? folding.isFolded(group.id) : null"
              :label="w.foldAll(group.name)"
              @fold="folding.toggle(group.id)"
            />
            <component :is="group === top ? 'b' : 'span'">{{ group.name }}</component>
          </td>
          <td><SeatBar :used="group.used" :limit="limits.at(group)" :whole="whole" :is-short="group.inLine > 0" /></td>
          <td class="num">
            <button v-if="group.used > 0" type="button" class="plain-link" @click="$emit('open', { group, list: 'in use' })">
              {{ showNumber(group.used) }}
            </button>
            <template v-else>0</template>
          </td>
          <td class="num" :class="{ late: group.free !== null && (group.free < 0 || (group.free === 0 && group.inLine > 0)) }">
            <span :title="group.held > 0 ? w.held(group.held) : undefined">{{ group.free === null ? '–' : w.freeOrOver(group.free) }}</span>
          </td>
          <td class="num">
            <button v-if="group.inLine > 0" type="button" class="plain-link late" @click="$emit('open', { group, list: 'in line' })">
              {{ showNumber(group.inLine) }}
            </button>
            <template v-else>–</template>
          </td>
          <td class="num">
            <input
              v-if="group.mayLimit"
              class="limit num"
              type="number"
              min="0"
              :value="limits.at(group) ?? ''"
              :placeholder="w.noLimit"
              :aria-label="w.limitOf(group.name)"
              @input="limits.put(group.id, ($event.target as HTMLInputElement).value)"
            />
            <template v-else>{{ group.most === null ? w.noLimit : showNumber(group.most) }}</template>
          </td>
          <td class="num lasts" :title="lasts(group).range || undefined">{{ lasts(group).day }}</td>
        </tr>
        <tr v-if="spaceBelow > 0" aria-hidden="true" :style="{ height: `${spaceBelow}px` }" />
      </tbody>
    </table>
  </div>
  <p v-if="licence.seats !== null && limitsBelow > licence.seats" class="soft small">
    {{ w.limitsAddUp(limitsBelow, licence.seats) }}
  </p>
</template>

<style scoped>
.one {
  height: 38px;
}
.one td {
  padding-top: 0;
  padding-bottom: 0;
  white-space: nowrap;
}
.limit {
  width: 72px;
  font: inherit;
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--field);
  border-radius: 4px;
  padding: 2px 6px;
}
.limit::placeholder {
  color: var(--ink2);
  opacity: 1;
}
.small {
  font-size: 13.5px;
}
</style>
