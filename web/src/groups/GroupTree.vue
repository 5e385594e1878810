<script setup lang="ts">
import { useLocalStorage, useEventListener } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { treeWidth } from '../shell/settings.ts';
import { useScope } from '../shell/scope.ts';
import ProgressBar from '../ui/ProgressBar.vue';
import { showNumber } from '../ui/format.ts';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import { words } from '../words.ts';
import { useTree } from './tree-query.ts';

const scope = useScope();
const tree = useTree();
const filter = ref('');
const opened = useLocalStorage<number[]>('gate-roster-open-groups', []);
const isOpen = (id: number): boolean => opened.value.includes(id);
const rowPixels = 30;

const shown = computed(() => tree.value?.visible(isOpen, filter.value) ?? []);
const scroller = useTemplateRef<HTMLElement>('scroller');
const virtual = useVirtualRows(scroller, () => shown.value.length, rowPixels);
const drawn = computed(() =>
  virtual.items.value.flatMap(({ index, start }) => {
    const at = shown.value[index];
    return at ? [{ ...at, start }] : [];
  }),
);

// The path to the chosen group is open, and the group in sight, wherever one came from.
watch(
  [() => scope.groupId.value, tree],
  ([id], before) => {
    if (!tree.value || (before[0] === id && before[1])) return;
    const path = tree.value.path(id).map((row) => row.id);
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
const depthPixels = (depth: number): string => `${8 + (depth <= 5 ? depth * 16 : 80 + (depth - 5) * 6)}px`;

function toggle(id: number, open = !isOpen(id)): void {
  opened.value = open ? [...opened.value, id] : opened.value.filter((each) => each !== id);
}

function onKey(event: KeyboardEvent): void {
  const index = shown.value.findIndex(({ row }) => row.id === active.value);
  const at = shown.value[index];
  if (!at) return;
  const hasChildren = (tree.value?.children(at.row.id).length ?? 0) > 0;
  const acts: Record<string, () => void> = {
    ArrowDown: () => {
      focus(index + 1);
    },
    ArrowUp: () => {
      focus(index - 1);
    },
    Home: () => {
      focus(0);
    },
    End: () => {
      focus(shown.value.length - 1);
    },
    ArrowRight: () => {
      if (hasChildren && !isOpen(at.row.id)) toggle(at.row.id, true);
      else focus(index + 1);
    },
    ArrowLeft: () => {
      if (hasChildren && isOpen(at.row.id)) toggle(at.row.id, false);
      else focus(shown.value.findIndex(({ row }) => row.id === at.row.parentId));
    },
    Enter: () => {
      scope.goTo(at.row.id);
    },
    ' ': () => {
      scope.goTo(at.row.id);
    },
  };
  const act = acts[event.key];
  if (!act) return;
  event.preventDefault();
  act();
}

function focus(index: number): void {
  const at = shown.value[index];
  if (!at) return;
  focused.value = at.row.id;
  virtual.scrollTo(index);
  void nextTick(() => {
    document.getElementById(`group-${at.row.id}`)?.focus();
  });
}

const isResizing = ref(false);
useEventListener(document, 'pointermove', (event: PointerEvent) => {
  if (isResizing.value) treeWidth.value = Math.max(200, Math.min(560, event.clientX));
});
useEventListener(document, 'pointerup', () => {
  isResizing.value = false;
});
</script>

<template>
  <aside class="tree" :style="{ width: `${treeWidth}px` }" :aria-label="words.groups.tree">
    <v-text-field v-model="filter" class="narrow" :label="words.groups.narrow" clearable />
    <div ref="scroller" class="rows" role="tree" :aria-label="words.groups.tree" @keydown="onKey">
      <div :style="{ height: `${virtual.totalPixels.value}px`, position: 'relative' }" role="presentation">
        <div
          v-for="{ row, depth, isMatch, start } in drawn"
          :id="`group-${row.id}`"
          :key="row.id"
          role="treeitem"
          class="row"
          :class="{ on: row.id === scope.groupId.value, faint: !isMatch }"
          :style="{ transform: `translateY(${start}px)`, paddingLeft: depthPixels(depth) }"
          :aria-level="depth + 1"
          :aria-selected="row.id === scope.groupId.value"
          :aria-expanded="tree!.children(row.id).length > 0 ? filter !== '' || isOpen(row.id) : undefined"
          :tabindex="row.id === active ? 0 : -1"
          @click="scope.goTo(row.id)"
          @focus="focused = row.id"
        >
          <span class="twist" aria-hidden="true" @click.stop="toggle(row.id)">{{
            tree!.children(row.id).length === 0 ? '' : isOpen(row.id) || filter ? '▾' : '▸'
          }}</span>
          <span class="name" :title="row.name">{{ row.name }}</span>
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
      <p v-if="tree && shown.length === 0" class="none soft">{{ words.groups.noMatch(filter) }}</p>
    </div>
    <div class="grip" aria-hidden="true" @pointerdown.prevent="isResizing = true" />
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
  background: var(--sheet);
  border-radius: 6px;
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
.grip {
  position: absolute;
  top: 0;
  bottom: 0;
  right: -3px;
  width: 6px;
  cursor: col-resize;
  z-index: 2;
}
@media (max-width: 860px) {
  .tree {
    display: none;
  }
}
</style>
