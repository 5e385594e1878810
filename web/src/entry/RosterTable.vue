<script setup lang="ts">
import type { CheckedRow, RosterField } from '@gate-roster/core';
import { computed, ref, useTemplateRef } from 'vue';
import { showNumber } from '../ui/format.ts';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import { words } from '../words.ts';

/** Rows by what they would do; those that need a look on top, by cause, with the cell to mend. */
const { rows, left } = defineProps<{ rows: CheckedRow[]; left: ReadonlySet<number> }>();
const emit = defineEmits<{ mend: [row: number, field: RosterField, text: string]; leaveOut: [rows: number[]]; takeBack: [] }>();
const rowPixels = 37;

type Line =
  { kind: 'head'; key: string; title: string; rows: CheckedRow[]; problem: boolean } | { kind: 'row'; key: string; row: CheckedRow };
const isGoodOpen = ref(false);
const causes = computed(() => {
  const byCause = new Map<string, CheckedRow[]>();
  for (const row of rows) {
    if (row.outcome !== 'needs a look' || !row.reason) continue;
    const cause = words.entry.cause(row.reason);
    byCause.set(cause, [...(byCause.get(cause) ?? []), row]);
  }
  return byCause;
});
const good = computed(() => rows.filter(({ outcome }) => outcome !== 'needs a look'));
const lines = computed<Line[]>(() => [
  ...[...causes.value].flatMap(([cause, list]): Line[] => [
    { kind: 'head', key: cause, title: words.entry.causeRows(cause, list.length), rows: list, problem: true },
    ...list.map((row): Line => ({ kind: 'row', key: `r${row.row}`, row })),
  ]),
  { kind: 'head', key: 'good', title: words.entry.goodRows(showNumber(good.value.length)), rows: good.value, problem: false },
  ...(isGoodOpen.value || causes.value.size === 0 ? good.value.map((row): Line => ({ kind: 'row', key: `r${row.row}`, row })) : []),
]);
const scroller = useTemplateRef<HTMLElement>('scroller');
const virtual = useVirtualRows(
  scroller,
  () => lines.value.length,
  rowPixels,
  (index) => lines.value[index]?.key ?? index,
);
const { items, spaceAbove, spaceBelow } = virtual;

const columns: { label: string; fields: RosterField[] }[] = [
  { label: words.people.name, fields: ['familyName', 'fullName', 'givenName'] },
  { label: words.people.email, fields: ['email'] },
  { label: words.people.idNumber, fields: ['idNumber'] },
  { label: words.entry.fields.group, fields: ['group'] },
  { label: words.entry.fromUntil, fields: ['firstDay', 'lastDay'] },
];
const text = (row: CheckedRow, fields: RosterField[]): string => {
  if (fields.includes('familyName')) return row.cells.fullName ?? [row.cells.givenName, row.cells.familyName].filter(Boolean).join(' ');
  return fields
    .map((field) => row.cells[field] ?? '')
    .filter(Boolean)
    .join(' – ');
};
/** The group meant by a near miss, in all rows that wrote it that way. */
function mendAll(list: readonly CheckedRow[]): void {
  for (const row of list)
    if (row.reason?.code === 'group unknown' && row.reason.near !== null) emit('mend', row.row, 'group', row.reason.near);
}
const near = (list: readonly CheckedRow[]): boolean => list.some(({ reason }) => reason?.code === 'group unknown' && reason.near !== null);
</script>

<template>
  <div ref="scroller" class="table" tabindex="0" role="region" :aria-label="words.entry.rows">
    <table>
      <thead>
        <tr>
          <th class="num">{{ words.entry.row }}</th>
          <th>{{ words.entry.whatOfIt }}</th>
          <th v-for="column in columns" :key="column.label">{{ column.label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="spaceAbove > 0" aria-hidden="true">
          <td colspan="7" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
        </tr>
        <template v-for="item in items" :key="String(item.key)">
          <tr v-if="lines[item.index]?.kind === 'head'" class="cause">
            <td colspan="7">
              <template v-for="line in [lines[item.index] as Extract<Line, { kind: 'head' }>]" :key="line.key">
                <span class="cause-line">
                  <b>{{ line.title }}</b>
                  <span v-if="line.problem" class="cause-acts">
                    <button v-if="near(line.rows)" type="button" class="plain-link" @click="mendAll(line.rows)">
                      {{ words.entry.takeProposals(line.rows.length) }}
                    </button>
                    <button
                      type="button"
                      class="plain-link"
                      @click="
                        emit(
                          'leaveOut',
                          line.rows.map(({ row }) => row),
                        )
                      "
                    >
                      {{ words.entry.leaveRowsOut(line.rows.length) }}
                    </button>
                  </span>
                  <span v-else class="cause-acts">
                    <button v-if="left.size > 0" type="button" class="plain-link" @click="emit('takeBack')">
                      {{ words.entry.leftRows(left.size) }}
                    </button>
                    <button
                      v-if="causes.size > 0 && line.rows.length > 0"
                      type="button"
                      class="plain-link"
                      :aria-expanded="isGoodOpen"
                      @click="isGoodOpen = !isGoodOpen"
                    >
                      {{ isGoodOpen ? words.entry.hide : words.entry.show }}
                    </button>
                  </span>
                </span>
              </template>
            </td>
          </tr>
          <template
            v-for="row in lines[item.index]?.kind === 'row' ? [(lines[item.index] as Extract<Line, { kind: 'row' }>).row] : []"
            :key="row.row"
          >
            <tr :class="{ bad: row.outcome === 'needs a look' }">
              <td class="num soft">{{ row.row }}</td>
              <td v-if="row.reason" class="wrong why">
                <div>
                  {{ words.entry.reason(row.reason, row.cells) }}
                  <button
                    v-if="row.reason.code === 'group unknown' && row.reason.near"
                    type="button"
                    class="plain-link"
                    @click="emit('mend', row.row, 'group', row.reason.near)"
                  >
                    {{ row.reason.near }}
                  </button>
                </div>
              </td>
              <td v-else :class="{ soft: row.outcome === 'nothing' }">{{ words.entry.outcomes[row.outcome] }}</td>
              <td v-for="column in columns" :key="column.label">
                <template v-if="row.field && column.fields.includes(row.field)">
                  <span v-if="row.field === 'lastDay'" class="sr-only">{{ row.cells.firstDay }}</span>
                  <input
                    class="mend"
                    :value="row.cells[row.field] ?? ''"
                    :aria-label="words.entry.mend(words.entry.fields[row.field], row.row)"
                    @change="emit('mend', row.row, row.field, ($event.target as HTMLInputElement).value)"
                  />
                </template>
                <template v-else>{{ text(row, column.fields) }}</template>
              </td>
            </tr>
          </template>
        </template>
        <tr v-if="spaceBelow > 0" aria-hidden="true">
          <td colspan="7" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.table {
  flex: 1;
  min-height: 0;
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
  width: 236px;
  font-size: 13.5px;
  line-height: 1.2;
  max-height: 36px;
  overflow: hidden;
}
.cause td {
  background: var(--paper2);
}
.cause-line {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  position: sticky;
  left: 0;
}
.cause-acts {
  display: flex;
  gap: 16px;
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
