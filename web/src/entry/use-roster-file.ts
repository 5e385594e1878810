import {
  type Change,
  type DateOrder,
  fileLimits,
  hasNameColumn,
  type Mapping,
  type RosterField,
  type RosterRow,
  type TableChoices,
  type TableProblem,
} from '@gate-roster/core';
import { wrap, type Remote } from 'comlink';
import { computed, type ComputedRef, onBeforeUnmount, type Ref, ref, shallowRef, toRaw } from 'vue';
import type { ReadFile, RosterReader } from './roster.worker.ts';

export interface RosterFile {
  name: Ref<string | null>;
  read: Ref<ReadFile | null>;
  problem: Ref<TableProblem | 'no names' | 'date order' | null>;
  mapping: Ref<Mapping | null>;
  rows: Ref<RosterRow[]>;
  open: (file: File) => Promise<void>;
  /** Reads the same file anew, with what was detected corrected. */
  reread: (choices: TableChoices) => Promise<void>;
  setField: (column: number, field: RosterField | null) => Promise<void>;
  setHeader: (hasHeader: boolean) => Promise<void>;
  setDateOrder: (order: DateOrder) => void;
  /** Mends a cell, or leaves a row out. */
  mend: (row: number, field: RosterField, text: string) => void;
  leaveOut: (rows: readonly number[]) => void;
  left: Ref<Set<number>>;
  close: () => void;
  change: (into: number) => Change | null;
  isReady: ComputedRef<boolean>;
}

/** One file on its way in: read and mapped by a worker, mended here, until it is brought in. */
export function useRosterFile(): RosterFile {
  const worker = new Worker(new URL('./roster.worker.ts', import.meta.url), { type: 'module' });
  const reader: Remote<RosterReader> = wrap(worker);
  onBeforeUnmount(() => {
    worker.terminate();
  });

  const name = ref<string | null>(null);
  const read = shallowRef<ReadFile | null>(null);
  const problem = ref<TableProblem | 'no names' | 'date order' | null>(null);
  const mapping = ref<Mapping | null>(null);
  const rows = shallowRef<RosterRow[]>([]);
  const left = ref(new Set<number>());
  const mended = new Map<string, string>();
  let bytes = new Uint8Array();

  async function open(file: File): Promise<void> {
    name.value = file.name;
    mended.clear();
    left.value = new Set();
    // A file over the limit is not even read.
    if (file.size > fileLimits.bytes) {
      fail('too large');
      return;
    }
    bytes = new Uint8Array(await file.arrayBuffer());
    await reread({});
  }
  async function reread(choices: TableChoices): Promise<void> {
    const result = await reader.read(bytes, choices);
    if ('problem' in result) {
      fail(result.problem);
      return;
    }
    read.value = result;
    mapping.value = result.mapping;
    await remap();
  }
  function fail(why: TableProblem): void {
    problem.value = why;
    read.value = null;
    mapping.value = null;
    rows.value = [];
  }
  async function remap(): Promise<void> {
    if (!mapping.value) return;
    const fields = mapping.value.columns.map(({ field }) => field);
    const mappedRows = await reader.rows(mapping.value.hasHeader, fields);
    mapping.value.dateOrder = mappedRows.dateOrder ?? mapping.value.dateOrder;
    rows.value = mappedRows.rows.map(({ row, cells }) => ({
      row,
      cells: Object.fromEntries(Object.entries(cells).map(([field, text]) => [field, mended.get(`${row}/${field}`) ?? text])),
    }));
    problem.value = !hasNameColumn(fields) ? 'no names' : mapping.value.dateOrder === null ? 'date order' : null;
  }
  const isReady = computed(() => problem.value === null && rows.value.length > 0);

  return {
    name,
    read,
    problem,
    mapping,
    rows,
    open,
    reread,
    left,
    isReady,
    async setField(column, field) {
      if (!mapping.value) return;
      // A field stands for one column: taking it here frees it there.
      mapping.value.columns.forEach((each, index) => {
        if (index === column) each.field = field;
        else if (field !== null && each.field === field) each.field = null;
      });
      await remap();
    },
    async setHeader(hasHeader) {
      if (mapping.value) mapping.value.hasHeader = hasHeader;
      await remap();
    },
    setDateOrder(order) {
      if (!mapping.value) return;
      mapping.value.dateOrder = order;
      if (problem.value === 'date order') problem.value = null;
    },
    mend(row, field, text) {
      mended.set(`${row}/${field}`, text);
      rows.value = rows.value.map((each) => (each.row === row ? { ...each, cells: { ...each.cells, [field]: text } } : each));
    },
    leaveOut(list) {
      left.value = new Set([...left.value, ...list]);
    },
    close() {
      name.value = null;
      problem.value = null;
      read.value = null;
      mapping.value = null;
      rows.value = [];
    },
    change(into) {
      if (!isReady.value || !mapping.value?.dateOrder) return null;
      const kept = rows.value.filter(({ row }) => !left.value.has(row));
      if (kept.length === 0) return null;
      const hasGroupColumn = mapping.value.columns.some(({ field }) => field === 'group');
      return { kind: 'bring-in-roster', into, fileName: name.value, hasGroupColumn, dateOrder: mapping.value.dateOrder, rows: toRaw(kept) };
    },
  };
}
