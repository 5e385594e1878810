<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { nameKey, type Preset, presets } from '@gate-roster/core';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import GroupPicker from './GroupPicker.vue';
import { depthsOf, groupsOfOutline, shapeOf } from './new-groups.ts';
import { useTree } from './tree-query.ts';

/** New groups from pasted lines, or as a copy of a branch's shape. */
const { parentId, name, copyOf = null } = defineProps<{ parentId: number; name: string; copyOf?: number | null }>();
const emit = defineEmits<{ close: [] }>();
const scope = useScope();
const tree = useTree();
const typed = ref('');
const preset = ref<Preset>('head');
const copyName = ref(copyOf === null ? '' : name);
const copyInto = ref<number | null>(parentId);
const into = computed(() => (copyOf === null ? parentId : copyInto.value));

const groups = computed(() => {
  if (copyOf === null) return groupsOfOutline(typed.value, presets[preset.value]);
  return tree.value ? shapeOf(tree.value, copyOf, copyName.value) : [];
});
const depths = computed(() => depthsOf(groups.value));
const hasLeaders = computed(() => groups.value.some(({ leaders }) => leaders.length > 0));
const change = computed<Change | null>(() =>
  groups.value.length === 0 || into.value === null ? null : { kind: 'make-groups', parentId: into.value, groups: groups.value },
);
const inHand = useChange(change, copyOf === null ? words.groups.made : words.groups.copied, { settleMilliseconds: 250 });
const choices = (['head', 'helper', 'auditor'] as const).map((value) => ({
  value,
  title: words.leaders.presets[value],
  props: { subtitle: words.leaders.presetHints[value] },
}));

async function apply(): Promise<void> {
  const [first, under] = [groups.value[0]?.name ?? '', into.value];
  if (!(await inHand.apply())) return;
  // Straight on to what was made: the next thing is to put people in.
  const made = tree.value?.children(under).find((row) => nameKey(row.name) === nameKey(first));
  emit('close');
  if (made) scope.goTo(made.id);
}
/** A tab key indents where one types an outline; Escape first lets it move on. */
function onTab(event: KeyboardEvent): void {
  const field = event.target as HTMLTextAreaElement;
  if (event.shiftKey || field.tagName !== 'TEXTAREA') return;
  event.preventDefault();
  field.setRangeText('  ', field.selectionStart, field.selectionEnd, 'end');
  typed.value = field.value;
}
</script>

<template>
  <section class="make">
    <h2>{{ copyOf === null ? words.groups.makeIn(name) : words.groups.copyTitle(name) }}</h2>
    <template v-if="copyOf === null">
      <v-textarea
        v-model="typed"
        v-focus-first
        rows="6"
        auto-grow
        max-rows="18"
        class="outline"
        :label="words.groups.outline"
        :placeholder="words.groups.outlineExample"
        persistent-placeholder
        :hint="words.groups.outlineHint"
        @keydown.tab="onTab"
      />
      <v-select v-if="hasLeaders" v-model="preset" :label="words.groups.leadersAs" :items="choices" />
    </template>
    <template v-else>
      <p class="soft">{{ words.groups.copyHint }}</p>
      <v-text-field v-model="copyName" v-focus-first :label="words.groups.copyName" />
      <GroupPicker v-model="copyInto" :autofocus="false" :label="words.groups.copyInto" />
    </template>
    <ul v-if="groups.length > 0" class="plain-list preview">
      <li v-for="(group, index) in groups" :key="index" :style="{ paddingLeft: `${10 + (depths[index] ?? 0) * 16}px` }">
        {{ group.name }} <span v-if="group.leaders.length > 0" class="soft">{{ words.groups.withLeader(group.leaders.length) }}</span>
      </li>
    </ul>
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="words.groups.makeCount(Math.max(1, groups.length))"
      @apply="apply"
      @discard="emit('close')"
    />
  </section>
</template>

<style scoped>
.make {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.outline :deep(textarea) {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
  font-size: 14px;
  line-height: 1.5;
}
.preview {
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  max-height: 220px;
  overflow: auto;
  padding: 6px 0;
  font-size: 14.5px;
}
.preview li {
  padding-block: 3px;
}
</style>
