<script setup lang="ts">
import type { GroupSheet } from '@gate-roster/contract';
import type { Change } from '@gate-roster/core';
import { computed, ref, watch } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { words } from '../words.ts';

/** Puts chosen people into a group, or takes them out of this one. */
const { group, personIds } = defineProps<{ group: GroupSheet; personIds: number[] }>();
const act = defineModel<'put' | 'remove' | null>({ required: true });
const emit = defineEmits<{ moved: [] }>();
const target = ref<number | null>(null);
watch(act, () => {
  target.value = null;
});
const change = computed<Change | null>(() => {
  if (act.value === 'remove') return { kind: 'remove-members', groupId: group.id, personIds };
  if (act.value === 'put' && target.value !== null)
    return { kind: 'add-members', groupId: target.value, personIds, firstDay: null, lastDay: null };
  return null;
});
const inHand = useChange(change, words.people.moved);
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  act.value = null;
  emit('moved');
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
    <v-card>
      <div class="move">
        <h2>{{ act === 'remove' ? words.people.removeTitle(personIds.length, group.name) : words.people.putTitle(personIds.length) }}</h2>
        <p v-if="act === 'remove'" class="soft">{{ words.people.removeStays }}</p>
        <GroupPicker v-if="act === 'put'" v-model="target" :label="words.people.intoGroup" />
        <LookPanel
          v-if="change"
          :in-hand="inHand"
          :change="change"
          :apply-label="act === 'remove' ? words.people.remove : words.people.put"
          @apply="apply"
          @discard="act = null"
        />
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.move {
  padding: 20px 24px;
  display: grid;
  gap: 14px;
  overflow: auto;
}
</style>
