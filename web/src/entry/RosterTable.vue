<script setup lang="ts">
import type { CheckedRow, RosterField } from '@gate-roster/core';
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import * as words from '../words.ts';
import CauseLine from './CauseLine.vue';
import type { ShownLine } from './roster-lines.ts';
import type { RosterFile } from './use-roster-file.ts';

/** Rows by what they would do; those that need a look on top, by cause, with the cell to mend. The worker holds them, the screen asks for what it shows. */
const { file } = defineProps<{
  file: RosterFile;
  /** Rows whose people would stand in line for a seat. */
  inLine: ReadonlySet<number>;
}>();
const rowPixels = 37;
const margin = 40;

type Column = { label: string; fields: RosterField[] };
const columns = computed<Column[]>(() => {
  const has = new Set(file.mapping.value?.columns.map(({ field }) => field));
  const all: Column[] = [
    { label: words.entry.nameColumn, fields: ['givenName', 'familyName', 'fullName'] },
    { label: words.entry.fields.email, fields: ['email'] },
    { label: words.entry.fields.group, fields: ['group'] },
    { label: words.entry.fromUntil, fields: ['firstDay', 'lastDay'] },
    { label: words.entry.fields.idNumber, fields: ['idNumber'] },
    ...(['signInName', 'role', 'powers', 'tags', 'nameHidden', 'guardianEmail', 'password'] as const).map((field) => ({
      label: words.entry.fields[field],
      fields: [field] as RosterField[],
    })),
  ];
  return all.filter(({ fields }) => fields.some((field) => has.has(field)));
});
const scroller = useTemplateRef<HTMLElement>('scroller');
const total = computed(() => file.summary.value?.lines ?? 0);
const { items, spaceAbove, spaceBelow } = useVirtualRows(scroller, () => total.value, rowPixels);

/** The lines around what is on screen, as the worker gave them. */
const fetched = shallowRef<{ from: number; lines: ShownLine[] }>({ from: 0, lines: [] });
let asking = 0;
watch(
  [items, file.version],
  async ([shown]) => {
    const from = Math.max(0, (shown[0]?.index ?? 0) - margin);
    const to = Math.min(total.value, (shown.at(-1)?.index ?? 0) + margin + 1);
    const mine = ++asking;
    const lines = await file.lines(from, to);
    if (mine === asking) fetched.value = { from, lines };
  },
  { immediate: true },
);
const drawn = computed(() =>
  items.value.flatMap(({ index }) => {
    const line = fetched.value.lines[index - fetched.value.from];
    return [{ key: index, line }];
  }),
);
const text = (row: CheckedRow, fields: readonly RosterField[]): string => {
  if (fields.includes('fullName'))
    return row.cells.fullName?.trim() && !row.cells.familyName?.trim()
      ? row.cells.fullName
      : [row.cells.givenName, row.cells.familyName].filter(Boolean).join(' ');
  if (fields.includes('password')) return row.cells.password ? '••••••' : '';
  return fields
    .map((field) => row.cells[field] ?? '')
    .filter(Boolean)
    .join(' – ');
};
const width = computed(() => columns.value.length + 2);
/** The cell being typed in: a check that comes in meanwhile must not write over it. */
const editing = ref<{ row: number; was: string; typed: string } | null>(null);
function typing(row: CheckedRow, field: RosterField, typed: string): void {
  const was = editing.value?.row === row.row ? editing.value.was : (row.cells[field] ?? '');
  editing.value = { row: row.row, was, typed };
}
function mended(row: number, field: RosterField): void {
  const cell = editing.value;
  editing.value = null;
  if (cell?.row === row) void file.mend(row, field, cell.was, cell.typed);
}
</script>

<template>
  <div ref="scroller" class="table" tabindex="0" role="region" :aria-label="words.entry.rows">
    <table :aria-rowcount="total">
      <thead>
        <tr>
          <th class="num">{{ words.entry.row }}</th>
          <th>{{ words.entry.whatOfIt }}</th>
          <th v-for="column in columns" :key="column.label">{{ column.label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="spaceAbove > 0" aria-hidden="true">
          <td :colspan="width" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
        </tr>
        <template v-for="{ key, line } in drawn" :key="key">
          <tr v-if="!line" aria-hidden="true">
            <td :colspan="width" />
          </tr>
          <tr v-else-if="line.kind !== 'row'" class="cause">
            <td :colspan="width"><CauseLine :line="line" :file="file" /></td>
          </tr>
          <tr v-else :class="{ bad: line.row.outcome === 'needs a look' }">
            <td class="num soft">{{ line.row.row }}</td>
            <td v-if="line.row.reason" class="wrong why">
              <div class="reason">
                <span class="two-lines" :title="words.entry.reason(line.row.reason, line.row.cells)">
                  {{ words.entry.reason(line.row.reason, line.row.cells) }}
                  <button
                    v-if="line.row.reason.code === 'group unknown' && line.row.reason.near"
                    type="button"
                    class="plain-link"
                    @click="
                      file.mendAlike(
                        'group',
                        line.row.cells.group ?? '',
                        (line.row.cells.group ?? '').replace(line.row.reason.group, line.row.reason.near),
                      )
                    "
                  >
                    {{ line.row.reason.near }}
                  </button>
                </span>
                <button type="button" class="plain-link" @click="file.leaveOut(line.row.row)">{{ words.entry.leaveOut }}</button>
              </div>
            </td>
            <td v-else-if="line.row.changes.length + line.row.declined.length > 0" class="why">
              <div>
                <span v-for="each in line.row.changes" :key="each.field" class="change">
                  {{ words.entry.change(each) }}
                  <button type="button" class="plain-link" @click="file.decline(line.row.row, each.field, true)">
                    {{ words.entry.keepOld }}
                  </button>
                </span>
                <span v-for="each in line.row.declined" :key="each.field" class="change">
                  {{ words.entry.keptOld(each) }}
                  <button type="button" class="plain-link" @click="file.decline(line.row.row, each.field, false)">
                    {{ words.entry.changeAfterAll }}
                  </button>
                </span>
              </div>
            </td>
            <td v-else :class="{ soft: line.row.outcome === 'nothing' }">
              {{ words.entry.outcomes[line.row.outcome] }}<span v-if="inLine.has(line.row.row)" class="late">{{ words.entry.inLine }}</span>
            </td>
            <td v-for="column in columns" :key="column.label">
              <template v-if="line.row.field && column.fields.includes(line.row.field)">
                <span v-if="line.row.field === 'lastDay'" class="sr-only">{{ line.row.cells.firstDay }}</span>
                <input
                  class="mend"
                  :value="editing?.row === line.row.row ? editing.typed : (line.row.cells[line.row.field] ?? '')"
                  :aria-label="words.entry.mend(words.entry.fields[line.row.field], line.row.row)"
                  @input="typing(line.row, line.row.field, ($event.target as HTMLInputElement).value)"
                  @change="mended(line.row.row, line.row.field)"
                  @blur="editing = null"
                />
              </template>
              <template v-else>{{ text(line.row, column.fields) }}</template>
            </td>
          </tr>
        </template>
        <tr v-if="spaceBelow > 0" aria-hidden="true">
          <td :colspan="width" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.table {
  container-type: inline-size;
  flex: 1;
  min-height: 220px;
  overflow: auto;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 14px;
}
th {
  text-align: left;
  font-weight: 600;
  color: var(--ink2);
  font-size: 13px;
  padding: 6px;
  border-bottom: 1px solid var(--rule);
  background: var(--sheet);
  position: sticky;
  top: 0;
  z-index: 1;
  white-space: nowrap;
}
td {
  padding: 0 6px;
  height: 37px;
  max-width: 152px;
  overflow: hidden;
  text-overflow: ellipsis;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
  white-space: nowrap;
}
.why {
  max-width: none;
}
.why div {
  white-space: normal;
  width: 300px;
  font-size: 13.5px;
  line-height: 1.25;
  max-height: 36px;
  overflow: auto;
}
.reason {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
}
.reason > button {
  flex: none;
}
.two-lines {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.change {
  display: block;
}
.cause td {
  background: var(--paper2);
  max-width: none;
}
.bad td {
  background: color-mix(in srgb, var(--flare2) 45%, var(--sheet));
}
.mend {
  border: 1.5px solid var(--flare);
  border-radius: 4px;
  padding: 3px 8px;
  font: inherit;
  color: inherit;
  background: var(--sheet);
  width: 100%;
  min-width: 80px;
  padding-inline: 5px;
}
</style>
