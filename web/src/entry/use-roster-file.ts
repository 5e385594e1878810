import type { KeptMapping, Change } from '@gate-roster/contract';
import {
  type DateOrder,
  fileLimits,
  hasNameColumn,
  impersonalFields,
  type Mapping,
  type RosterField,
  type TableChoices,
  type TableFailure,
  type TableProblem,
} from '@gate-roster/core';
import { proxy, type Remote, wrap } from 'comlink';
import { computed, type ComputedRef, onScopeDispose, type Ref, ref, shallowRef } from 'vue';
import { call } from '../api/call.ts';
import type { ShownTree } from '../groups/tree-query.ts';
import {
  type Cause,
  type KeptMend,
  type ReadFile,
  rowsWithChange,
  type RosterSummary,
  type ShownLine,
  type Stage,
} from './roster-lines.ts';
import type { RosterReader } from './roster.worker.ts';
import type { WishedLine } from './wished-tree.ts';

/** Reading and unpacking the largest files takes a few seconds; whatever takes this long does not end. */
const mostReadMilliseconds = 45_000;

export type FileProblem = TableProblem | 'no names' | 'date order' | 'stopped';

/** One file on its way in. The worker holds it; here stands what the page shows of it. */
export function useRosterFile(into: ComputedRef<number>, tree: ComputedRef<ShownTree | undefined>) {
  let worker: Worker | null = null;
  let reader: Remote<RosterReader> = begin();
  onScopeDispose(() => worker?.terminate());

  const name = ref<string | null>(null);
  const read = shallowRef<ReadFile | null>(null);
  const problem = ref<FileProblem | null>(null);
  const problemRow = ref<number | null>(null);
  const mapping = ref<Mapping | null>(null);
  const summary = shallowRef<RosterSummary | null>(null);
  const busy = ref<{ stage: Stage; share: number } | null>(null);
  /** Grows with every check, so that lists ask for their lines anew. */
  const version = ref(0);
  const isGoodOpen = ref(false);
  /** Shallow: there may be thousands. */
  const newGroups = shallowRef<string[]>([]);
  const wished = shallowRef<WishedLine[]>([]);
  const kept = shallowRef<{ mappings: KeptMapping[]; mends: KeptMend[] }>({ mappings: [], mends: [] });
  const usedMapping = ref<string | null>(null);
  const fresh = new Map<string, KeptMend>();
  const total = ref(0);
  const isLarge = computed(() => total.value > rowsWithChange);

  function begin(): Remote<RosterReader> {
    worker = new Worker(new URL('./roster.worker.ts', import.meta.url), { type: 'module' });
    return wrap<RosterReader>(worker);
  }
  let underWay = 0;
  // What the worker said may arrive after what it came to.
  const told = proxy((stage: Stage, share: number) => {
    if (underWay > 0) busy.value = { stage, share };
  });
  /** Runs something in the worker; what it says meanwhile is shown. */
  async function during<T>(work: () => Promise<T>): Promise<T | undefined> {
    busy.value ??= { stage: 'checking', share: 0 };
    underWay++;
    try {
      return await work();
    } finally {
      if (--underWay === 0) busy.value = null;
    }
  }

  async function open(file: File): Promise<void> {
    close();
    name.value = file.name;
    // A file over the limit is not even read.
    if (file.size > fileLimits.bytes) {
      fail('too large');
      return;
    }
    kept.value = await call('keptMappings', {}).catch(() => kept.value);
    await take(file, {});
  }
  async function take(file: File | null, choices: TableChoices & { sheet?: string }): Promise<void> {
    const names = (tree.value?.visible(() => true) ?? []).map(({ row }) => row.name);
    const limit = setTimeout(() => {
      stop('takes too long');
    }, mostReadMilliseconds);
    const result = await during(async (): Promise<ReadFile | TableFailure> => reader.read(file, choices, names, told)).finally(() => {
      clearTimeout(limit);
    });
    if (!result) return;
    if ('problem' in result) {
      fail(result.problem, result.row ?? null);
      return;
    }
    read.value = result;
    mapping.value = result.mapping;
    const known = kept.value.mappings.find(
      ({ headersKey, columns }) => headersKey === result.headersKey && columns.length === result.mapping.columns.length,
    );
    usedMapping.value = known?.name ?? null;
    if (known && mapping.value) mapping.value.columns.forEach((column, index) => (column.field = known.columns[index] ?? null));
    await remap(known?.dateOrder ?? null);
  }
  function fail(why: FileProblem, row: number | null = null): void {
    problem.value = why;
    problemRow.value = row;
    read.value = null;
    mapping.value = null;
    summary.value = null;
  }
  async function remap(keptOrder: DateOrder | null = null): Promise<void> {
    if (!mapping.value) return;
    const fields = mapping.value.columns.map(({ field }) => field);
    const mapped = await reader.map(mapping.value.hasHeader, fields);
    total.value = mapped.rows;
    mapping.value.dateOrder = mapped.dateOrder ?? keptOrder ?? mapping.value.dateOrder;
    problem.value = !hasNameColumn(fields) ? 'no names' : mapping.value.dateOrder === null ? 'date order' : null;
    await check();
  }

  /** Checks anew; of several asked for at once the last one counts. */
  let wanted = 0;
  async function check(): Promise<void> {
    const order = mapping.value?.dateOrder;
    const nodes = tree.value?.nodes() ?? [];
    if (problem.value !== null || !order || nodes.length === 0) return;
    const mine = ++wanted;
    const context = {
      into: into.value,
      nodes,
      newGroups: [...newGroups.value],
      mends: kept.value.mends.map((mend) => ({ ...mend })),
      isGoodOpen: isGoodOpen.value,
    };
    const found = await during(() => reader.check(context, order, told));
    if (!found || mine !== wanted) return;
    wished.value = newGroups.value.length > 0 ? await reader.wishedTree() : [];
    summary.value = found;
    version.value++;
  }
  /** Stops what is under way; the file has to be opened again. */
  function stop(why: 'stopped' | 'takes too long' = 'stopped'): void {
    worker?.terminate();
    reader = begin();
    underWay = 0;
    busy.value = null;
    const was = name.value;
    close();
    name.value = was;
    problem.value = why;
  }
  function remember(field: RosterField, was: string, becomes: string): void {
    if (impersonalFields.some((each) => each === field) && becomes.trim() !== '')
      fresh.set(`${field}/${was.toLowerCase()}`, { field, was, becomes });
  }
  function close(): void {
    name.value = null;
    problem.value = null;
    problemRow.value = null;
    read.value = null;
    mapping.value = null;
    summary.value = null;
    newGroups.value = [];
    wished.value = [];
    usedMapping.value = null;
    isGoodOpen.value = false;
    fresh.clear();
  }
  const isReady = computed(() => problem.value === null && summary.value !== null && summary.value.rows > 0);

  /** The change that brings it in; with `fileId` its rows are on the server already. */
  async function change(
    more: Pick<Extract<Change, { kind: 'bring-in-roster' }>, 'mode' | 'mostLeaving' | 'write'>,
    fileId: string | null = null,
  ): Promise<Change | null> {
    const order = mapping.value?.dateOrder;
    if (!isReady.value || !order) return null;
    const given = fileId === null ? await reader.rowsForChange() : { rows: [], ...(await during(() => reader.upload(fileId, told))) };
    if (!given) return null;
    return {
      kind: 'bring-in-roster',
      into: into.value,
      fileName: name.value,
      hasGroupColumn: mapping.value?.columns.some(({ field }) => field === 'group') ?? false,
      dateOrder: order,
      rows: given.rows,
      declined: given.declined ?? [],
      fileId,
      newGroups: [...newGroups.value],
      ...more,
    };
  }

  return {
    name: name as Readonly<Ref<string | null>>,
    read,
    problem,
    problemRow,
    mapping,
    summary,
    busy,
    version,
    isGoodOpen,
    newGroups,
    wished,
    usedMapping,
    isLarge,
    isReady,
    open,
    close,
    stop,
    check,
    change,
    reread: (choices: TableChoices & { sheet?: string }) => take(null, choices),
    async setField(column: number, field: RosterField | null) {
      if (!mapping.value) return;
      // A field stands for one column: taking it here frees it there.
      mapping.value.columns.forEach((each, index) => {
        if (index === column) each.field = field;
        else if (field !== null && each.field === field) each.field = null;
      });
      await remap();
    },
    async setHeader(hasHeader: boolean) {
      if (mapping.value) mapping.value.hasHeader = hasHeader;
      await remap();
    },
    async setDateOrder(order: DateOrder) {
      if (!mapping.value) return;
      mapping.value.dateOrder = order;
      if (problem.value === 'date order') problem.value = null;
      await check();
    },
    lines: (from: number, to: number): Promise<ShownLine[]> => reader.lines(from, to),
    async openGood(isOpen: boolean) {
      isGoodOpen.value = isOpen;
      summary.value = await reader.arrange(isOpen);
      version.value++;
    },
    async mend(row: number, field: RosterField, was: string, becomes: string) {
      remember(field, was, becomes);
      await reader.mend(row, field, becomes);
      await check();
    },
    async mendAlike(field: RosterField, was: string, becomes: string) {
      remember(field, was, becomes);
      await reader.mendAlike(field, was, becomes);
      await check();
    },
    async takeProposals(cause: Cause) {
      for (const { was, becomes } of await reader.takeProposals(cause)) remember('group', was, becomes);
      await check();
    },
    async findAndReplace(field: RosterField, find: string, replacement: string) {
      const count = await reader.findAndReplace(field, find, replacement);
      await check();
      return count;
    },
    async leaveOut(row: number) {
      await reader.leaveOut([row]);
      await check();
    },
    async leaveOutCause(cause: Cause) {
      await reader.leaveOutCause(cause);
      await check();
    },
    async takeBackLeft() {
      await reader.takeBackLeft();
      await check();
    },
    async decline(row: number, field: string, isDeclined: boolean) {
      await reader.decline(row, field, isDeclined);
      await check();
    },
    async makeGroups(paths: readonly string[]) {
      const asked = new Set([...newGroups.value, ...paths]);
      if (asked.size > fileLimits.newGroups) {
        problem.value = 'too many groups';
        return;
      }
      newGroups.value = [...asked];
      await check();
    },
    async dontMake(key: string) {
      newGroups.value = await reader.pathsWithout(key);
      await check();
    },
    problems: () => reader.problems(),
    /** What was mended in columns that hold nothing of a person is proposed for the next file. */
    async keepMends() {
      if (fresh.size > 0) await call('keepMends', { body: { mends: [...fresh.values()] } });
    },
    async keepMapping(as: string) {
      if (!mapping.value || !read.value) return;
      await call('keepMapping', {
        body: {
          name: as,
          headersKey: read.value.headersKey,
          columns: mapping.value.columns.map(({ field }) => field),
          dateOrder: mapping.value.dateOrder,
        },
      });
      usedMapping.value = as;
    },
  };
}
export type RosterFile = ReturnType<typeof useRosterFile>;
