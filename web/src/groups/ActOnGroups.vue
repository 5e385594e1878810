<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { computed, ref, watch } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';
import type { GroupAct } from './group-act.ts';
import GroupPicker from './GroupPicker.vue';
import { useTree } from './tree-query.ts';

/** One act on one or several groups: what it would do, and the button that does it. */
const { groupIds, into = null } = defineProps<{ groupIds: number[]; into?: number | null }>();
const act = defineModel<GroupAct | null>({ required: true });
const emit = defineEmits<{ done: [act: GroupAct] }>();
const tree = useTree();
const target = ref<number | null>(null);
const subgroups = ref<'move up' | 'go too'>('move up');
watch(
  act,
  () => {
    target.value = into;
    subgroups.value = 'move up';
  },
  { immediate: true },
);
const names = computed(() => words.groups.names(groupIds.flatMap((id) => tree.value?.row(id)?.name ?? [])));
const hasBelow = computed(() => groupIds.some((id) => (tree.value?.children(id).length ?? 0) > 0));
const change = computed<Change | null>(() => {
  if (groupIds.length === 0) return null;
  if (act.value === 'move') return target.value === null ? null : { kind: 'move-groups', groupIds, intoId: target.value };
  if (act.value === 'delete') return { kind: 'delete-groups', groupIds, subgroups: subgroups.value };
  if (act.value === 'archive' || act.value === 'unarchive')
    return { kind: 'set-group-state', groupIds, state: act.value === 'archive' ? 'archived' : 'active' };
  return null;
});
const texts = {
  move: { title: words.groups.moveTitle, applied: words.groups.moved, label: words.groups.move },
  archive: { title: words.groups.archiveTitle, applied: words.groups.archived, label: words.groups.archive },
  unarchive: { title: words.groups.unarchiveTitle, applied: words.groups.archived, label: words.groups.unarchive },
  delete: { title: words.groups.removeTitle, applied: words.groups.removed, label: words.groups.delete },
};
const inHand = useChange(
  change,
  computed(() => (act.value ? texts[act.value].applied : '')),
);
async function apply(): Promise<void> {
  const done = act.value;
  if (!done || !(await inHand.apply())) return;
  act.value = null;
  emit('done', done);
}
</script>

<template>
  <v-dialog
    :model-value="act !== null"
    max-width="480"
    scrollable
    :aria-label="words.changes.whatItWouldDo"
    @update:model-value="act = null"
  >
    <v-card v-if="act">
      <div class="act">
        <h2>{{ texts[act].title(names) }}</h2>
        <p v-if="act === 'archive'" class="soft">{{ words.groups.archiveWhat }}</p>
        <p v-if="act === 'delete'" class="soft">{{ words.groups.removeStays }}</p>
        <GroupPicker v-if="act === 'move'" v-model="target" :label="words.groups.moveTo" />
        <v-radio-group v-if="act === 'delete' && hasBelow" v-model="subgroups" inline hide-details :label="words.groups.removeSubgroups">
          <v-radio value="move up" :label="words.groups.removeUp" />
          <v-radio value="go too" :label="words.groups.removeToo" />
        </v-radio-group>
        <LookPanel
          v-if="change"
          :in-hand="inHand"
          :change="change"
          :apply-label="texts[act].label.replace('…', '')"
          @apply="apply"
          @discard="act = null"
        />
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.act {
  padding: 20px 24px;
  display: grid;
  gap: 14px;
  overflow: auto;
}
</style>
