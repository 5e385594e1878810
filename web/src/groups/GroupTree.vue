<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef, watch, defineAsyncComponent } from 'vue';
import { treeWidth } from '../shell/settings.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import ProgressBar from '../ui/ProgressBar.vue';
import { showNumber } from '../ui/format.ts';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import * as words from '../words.ts';
import PickedGroups from './PickedGroups.vue';
import TreeFilters from './TreeFilters.vue';
import TreeGrip from './TreeGrip.vue';
import { type TreeAct, treeAct } from './tree-keys.ts';
import { type TreeFilter, useTree } from './tree-query.ts';
import { useActedGroups } from './use-acted-groups.ts';
const ActOnGroups = defineAsyncComponent(() => import('./ActOnGroups.vue'));

const scope = useScope();
const session = useSession();
const tree = useTree();
const filter = ref<TreeFilter>({ name: '' });
const opened = useLocalStorage<number[]>('gate-roster-open-groups', []);
const isOpen = (id: number): boolean => opened.value.includes(id);
const rowPixels = 30;

const isFiltered = computed(() => Object.values(filter.value).some((part) => part !== null && part !== '' && part !== false));
/** The tree may start further down; a start that is gone starts at the top again. */
const startsAt = useLocalStorage<number | null>('gate-roster-tree-start', null, {
  serializer: { read: (text) => Number(text) || null, write: String },
});
const top = computed(() => (startsAt.value !== null && tree.value?.row(startsAt.value) ? startsAt.value : null));
const shown = computed(() => tree.value?.visible(isOpen, filter.value, top.value) ?? []);
const scroller = useTemplateRef<HTMLElement>('scroller');
const virtual = useVirtualRows(scroller, () => shown.value.length, rowPixels);
const drawn = computed(() =>
  virtual.items.value.flatMap(({ index }) => {
    const at = shown.value[index];
    return at ? [{ ...at, start: index * rowPixels }] : [];
  }),
);

// The path to the chosen group is open, and the group in sight, wherever one came from.
watch(
  [() => scope.groupId.value, tree],
  ([id], before) => {
    if (!tree.value || (before[0] === id && before[1])) return;
    const path = tree.value.path(id).map((row) => row.id);
    if (top.value !== null && !path.includes(top.value)) startsAt.value = null;
    opened.value = [...new Set([...opened.value, ...path])];
    void nextTick(() => {
      const index = shown.value.findIndex(({ row }) => row.id === id);
      if (index >= 0) virtual.scrollTo(index);
    });
  },
  { immediate: true },
);

const focused = ref<number | null>(null);
const active = computed(() => focused.value ?? scope.groupId.value);
/** Deep down the steps grow small and the bar goes, so that a name can be read at any depth. */
const depthPixels = (depth: number): string => `${8 + (depth <= 4 ? depth * 16 : 64 + (depth - 4) * 3)}px`;
const deepest = 7;

function toggle(id: number, open = !isOpen(id)): void {
  opened.value = open ? [...opened.value, id] : opened.value.filter((each) => each !== id);
}

/** Several at once are chosen with ctrl or shift and a click, or with shift and the arrows. */
const { picked, isPicked, pick, carried, over, isDragging, takenWith, carry, putDown, putInto, act, acted, begin, onDone } = useActedGroups(
  tree,
  scope,
);
const namesOf = (list: readonly number[]): string => words.groups.names(list.flatMap((id) => tree.value?.row(id)?.name ?? []));
function onClick(event: MouseEvent, id: number): void {
  if (carried.value.length > 0) putInto(id);
  else if (event.ctrlKey || event.metaKey || event.shiftKey) pick(id);
  else scope.goTo(id);
}

function startDrag(event: DragEvent, id: number): void {
  carry(takenWith(id), 'dragged');
  event.dataTransfer?.setData('text/plain', namesOf(carried.value));
}
defineExpose({ begin, startHere: (id: number) => (startsAt.value = id) });

function onKey(event: KeyboardEvent): void {
  const index = shown.value.findIndex(({ row }) => row.id === active.value);
  const at = shown.value[index];
  if (!at) return;
  const { id, parentId } = at.row;
  const wanted = treeAct(
    event.key,
    {
      index,
      hasChildren: (tree.value?.children(id).length ?? 0) > 0,
      isOpen: isOpen(id),
      parentIndex: shown.value.findIndex(({ row }) => row.id === parentId),
    },
    { lines: shown.value.length, isCarrying: carried.value.length > 0, mayShape: session.hasPower('shapeGroups') },
  );
  if (!wanted) return;
  event.preventDefault();
  if (event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    if (!isPicked(at.row.id)) pick(at.row.id);
    const next = shown.value[index + (event.key === 'ArrowDown' ? 1 : -1)];
    if (next && !isPicked(next.row.id)) pick(next.row.id);
  }
  if (wanted.act === 'focus') focus(wanted.index);
  else acts[wanted.act](id);
}

const acts: Record<Exclude<TreeAct['act'], 'focus'>, (id: number) => void> = {
  open: (id) => {
    toggle(id, true);
  },
  close: (id) => {
    toggle(id, false);
  },
  go: (id) => {
    scope.goTo(id);
  },
  take: (id) => {
    carry(
      takenWith(id).filter((each) => tree.value?.row(each)?.parentId != null),
      'by hand',
    );
  },
  'put here': putInto,
  'put down': putDown,
};

function focus(index: number): void {
  const at = shown.value[index];
  if (!at) return;
  focused.value = at.row.id;
  virtual.scrollTo(index);
  void nextTick(() => {
    document.getElementById(`group-${at.row.id}`)?.focus();
  });
}
</script>

<template>
  <aside class="tree" :style="{ width: `${treeWidth}px` }" :aria-label="words.groups.tree">
    <div class="narrow">
      <v-text-field
        class="by-name"
        :model-value="filter.name ?? ''"
        :label="words.groups.narrow"
        clearable
        @update:model-value="filter = { ...filter, name: $event ?? '' }"
      />
      <TreeFilters v-model="filter" />
    </div>
    <p v-if="top !== null" class="bar-line">
      <button type="button" class="plain-link" @click="startsAt = null">{{ words.groups.wholeTree }}</button>
    </p>
    <!-- A line above the tree while one drags would push the rows away from under the pointer. -->
    <p v-if="carried.length > 0 && !isDragging" class="bar-line carry" role="status">{{ words.groups.carry(namesOf(carried)) }}</p>
    <div ref="scroller" class="rows" role="tree" aria-multiselectable="true" :aria-label="words.groups.tree" @keydown="onKey">
      <div :style="{ height: `${virtual.totalPixels.value}px`, position: 'relative' }" role="presentation">
        <div
          v-for="{ row, depth, isMatch, start } in drawn"
          :id="`group-${row.id}`"
          :key="row.id"
          role="treeitem"
          class="row"
          :class="{
            on: row.id === scope.groupId.value,
            faint: !isMatch || row.state === 'archived',
            picked: isPicked(row.id),
            carried: carried.includes(row.id),
            over: over === row.id,
            deep: depth > deepest,
          }"
          :style="{ transform: `translateY(${start}px)`, paddingLeft: depthPixels(depth) }"
          :aria-level="depth + 1"
          :aria-selected="row.id === scope.groupId.value || isPicked(row.id)"
          :draggable="session.hasPower('shapeGroups') && row.parentId !== null"
          :aria-expanded="tree!.children(row.id).length > 0 ? isFiltered || isOpen(row.id) : undefined"
          :tabindex="row.id === active ? 0 : -1"
          @click="onClick($event, row.id)"
          @focus="focused = row.id"
          @dragstart="startDrag($event, row.id)"
          @dragend="putDown"
          @dragover.prevent="over = carried.includes(row.id) ? null : row.id"
          @dragleave="over = null"
          @drop.prevent="putInto(row.id)"
        >
          <span class="twist" aria-hidden="true" @click.stop="toggle(row.id)">{{
            tree!.children(row.id).length === 0 ? '' : isOpen(row.id) || isFiltered ? '▾' : '▸'
          }}</span>
          <span class="name" :title="row.name"
            ><i v-if="row.colour" class="dot" :class="row.colour" aria-hidden="true" />{{ row.name
            }}<small v-if="row.state === 'archived'">{{ ' ' }}{{ words.groups.archivedMark }}</small></span
          >
          <span class="num">{{ showNumber(row.people) }}</span>
          <ProgressBar
            thin
            :all="row.tally.all - row.tally.exempt"
            :done="row.tally.done"
            :under-way="row.tally.underWay"
            :overdue="row.tally.overdue"
          />
        </div>
      </div>
      <p v-if="tree && shown.length === 0" class="none soft">{{ words.groups.noMatch }}</p>
    </div>
    <PickedGroups v-if="picked.length > 0" :count="picked.length" @act="begin($event, picked)" @none="picked = []" />
    <ActOnGroups v-if="act" v-model="act" :group-ids="acted.ids" :into="acted.into" @done="onDone" />
    <TreeGrip />
  </aside>
</template>

<style scoped>
.tree {
  background: var(--paper);
  border-right: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  font-size: 14.5px;
  flex: none;
  position: relative;
  min-height: 0;
}
.narrow {
  margin: 12px 14px 8px;
  flex: none;
  display: flex;
  gap: 8px;
}
.by-name {
  background: var(--sheet);
  border-radius: 6px;
}
.bar-line {
  padding: 0 14px 8px;
  font-size: 13.5px;
}
.carry {
  background: var(--tide2);
  padding-top: 8px;
}
.row.picked:not(.on) {
  background: var(--tide2);
}
.row.picked {
  box-shadow: inset 4px 0 0 var(--tide);
}
.row.deep {
  grid-template-columns: 16px minmax(0, 1fr) auto;
}
.row.deep .bar {
  display: none;
}
.row.carried {
  opacity: 0.55;
}
.row.over {
  outline: 2px dashed var(--tide);
  outline-offset: -2px;
}
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 2px;
  margin-right: 6px;
  border: 1px solid var(--sheet);
}
.name small {
  font-size: 12px;
}
.rows {
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.row {
  position: absolute;
  inset: 0 0 auto;
  height: 30px;
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) 46px 42px;
  gap: 7px;
  align-items: center;
  padding-right: 14px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 70%, transparent);
  cursor: pointer;
}
.row:hover {
  background: var(--tide2);
}
.row:focus-visible {
  outline-offset: -2px;
}
.row.on {
  background: var(--tide);
  color: rgb(var(--v-theme-on-primary));
}
.row.on:focus-visible {
  outline-color: #f0b44c;
}
.row.faint:not(.on) {
  color: var(--ink2);
}
.row .num {
  color: var(--ink2);
}
.row.on .num,
.row.on .twist {
  color: inherit;
}
.row.on .bar {
  box-shadow: 0 0 0 2px var(--sheet);
  background: var(--sheet);
}
.twist {
  color: var(--ink2);
  font-size: 12px;
  text-align: center;
  line-height: 30px;
}
.name {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.none {
  padding: 12px 14px;
}
@media (max-width: 860px) {
  .tree {
    display: none;
  }
}
</style>
