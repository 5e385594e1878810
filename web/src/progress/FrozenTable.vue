<script setup lang="ts">
import { computed } from 'vue';
import { showNumber } from '../ui/format.ts';

/** Figures as they were read once: nothing opens from them. */
const { head, lines } = defineProps<{ label: string; head: readonly string[]; lines: readonly (readonly (string | number | null)[])[] }>();
const numeric = computed(() => head.map((_, at) => lines.some((line) => typeof line[at] === 'number')));
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="label">
    <table class="rows">
      <thead>
        <tr>
          <th v-for="(each, at) in head" :key="at" scope="col" :class="{ num: numeric[at] }">{{ each }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, index) in lines" :key="index">
          <td v-for="(cell, at) in line" :key="at" :class="{ num: numeric[at] }">
            {{ typeof cell === 'number' ? showNumber(cell) : (cell ?? '') }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
