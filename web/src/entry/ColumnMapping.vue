<script setup lang="ts">
import { type DateOrder, type RosterField, rosterFields } from '@gate-roster/core';
import { computed, ref, shallowRef } from 'vue';
import * as words from '../words.ts';
import type { RosterFile } from './use-roster-file.ts';

/** What each column of the file becomes; a click on it makes it something else. */
const { file } = defineProps<{ file: RosterFile }>();
const choices: (RosterField | null)[] = [...rosterFields, null];
const orders: DateOrder[] = ['dayFirst', 'monthFirst', 'yearFirst'];
const isDate = (field: RosterField | null): boolean => field === 'firstDay' || field === 'lastDay';

// One menu for all columns: a file may have a hundred.
const opened = ref(0);
const isOpen = ref(false);
const activator = shallowRef<HTMLElement>();
const field = computed(() => file.mapping.value?.columns[opened.value]?.field ?? null);
/** The first values; never of a column that holds passwords. */
const samplesOf = ({ field: becomes, header, samples }: { field: RosterField | null; header: string; samples: string[] }): string =>
  becomes === 'password' || /pass|pwd|kenn|contras/iu.test(header) ? words.entry.hiddenValues : samples.join(', ') || words.entry.noValues;
function open(index: number, event: MouseEvent): void {
  opened.value = index;
  activator.value = event.currentTarget as HTMLElement;
  isOpen.value = true;
}
</script>

<template>
  <section class="mapping" :aria-label="words.entry.columnBecomes">
    <h2>{{ words.entry.columnBecomes }}</h2>
    <ul class="plain-list">
      <li v-for="(column, index) in file.mapping.value?.columns ?? []" :key="index">
        <button
          type="button"
          class="column"
          :class="{ out: column.field === null }"
          aria-haspopup="menu"
          :aria-expanded="isOpen && opened === index"
          @click="open(index, $event)"
        >
          <span
            >{{ column.header || words.entry.columnNumber(index + 1) }} {{ '→' }}
            <b v-if="column.field">{{
              words.entry.columnIs(column.field, isDate(column.field) ? (file.mapping.value?.dateOrder ?? null) : null)
            }}</b><span v-else class="soft">{{ words.entry.leftOut }}</span>
          </span>
          <span class="soft samples">{{ samplesOf(column) }}</span>
        </button>
      </li>
    </ul>
    <v-menu v-model="isOpen" :activator="activator" :open-on-click="false">
      <v-list density="compact">
        <v-list-item
          v-for="choice in choices"
          :key="choice ?? ''"
          :title="choice === null ? words.entry.leaveColumnOut : words.entry.fields[choice]"
          :active="choice === field"
          @click="file.setField(opened, choice)"
        />
        <template v-if="isDate(field)">
          <v-divider />
          <v-list-item
            v-for="order in orders"
            :key="order"
            :title="words.entry.dateOrders[order]"
            :active="file.mapping.value?.dateOrder === order"
            @click="file.setDateOrder(order)"
          />
        </template>
      </v-list>
    </v-menu>
    <div v-if="file.problem.value === 'date order'" class="ask">
      <p>{{ words.entry.askDateOrder }}</p>
      <v-btn v-for="order in orders.slice(0, 2)" :key="order" @click="file.setDateOrder(order)">{{ words.entry.dateOrders[order] }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.mapping {
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  overflow: auto;
  max-height: 100%;
}
h2 {
  font:
    700 14px 'Atkinson Hyperlegible Next Variable',
    sans-serif;
  padding: 8px 12px;
  background: var(--paper2);
}
.column {
  width: 100%;
  display: grid;
  text-align: left;
  padding: 6px 12px;
  background: none;
  border: 0;
  border-top: 1px solid var(--rule);
  font: inherit;
  font-size: 14.5px;
  color: inherit;
  cursor: pointer;
  min-height: 50px;
}
.column:hover {
  background: var(--tide2);
}
.samples {
  font-size: 13px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.ask {
  padding: 12px;
  background: var(--wrong2);
  display: grid;
  gap: 8px;
}
</style>
