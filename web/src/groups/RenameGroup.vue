<script setup lang="ts">
import type { GroupSheet } from '@gate-roster/contract';
import { type Change, longestGroupName } from '@gate-roster/core';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useChange } from '../changes/use-change.ts';
import { words } from '../words.ts';

const { group } = defineProps<{ group: GroupSheet }>();
const isOpen = defineModel<boolean>({ required: true });
const name = ref(group.name);
watch(isOpen, (open) => {
  if (open) name.value = group.name;
});
const settled = refDebounced(name, 200);
const change = computed<Change | null>(() => (isOpen.value ? { kind: 'rename-group', groupId: group.id, name: settled.value } : null));
const { look, isApplying, problem, apply } = useChange(change, words.groups.renamed);
// An unchanged name is no mistake, it is only nothing to do.
const wrong = computed(
  () =>
    problem.value ??
    look.value?.conflicts.filter(({ code }) => code !== 'nothing to do').map(({ code, count }) => words.changes.conflicts[code](count))[0],
);
async function save(): Promise<void> {
  if (await apply()) isOpen.value = false;
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="460" :aria-label="words.groups.rename">
    <v-card>
      <v-form class="rename" @submit.prevent="save">
        <h2>{{ words.groups.renameTitle(group.name) }}</h2>
        <v-text-field
          v-model="name"
          autofocus
          :label="words.groups.name"
          :maxlength="longestGroupName"
          :error-messages="wrong ? [wrong] : []"
        />
        <div class="acts">
          <v-btn
            type="submit"
            variant="flat"
            :disabled="name.trim() === group.name || name !== settled || (look?.conflicts.length ?? 1) > 0"
            :loading="isApplying"
            >{{ words.groups.rename }}</v-btn
          >
          <v-btn variant="text" @click="isOpen = false">{{ words.common.cancel }}</v-btn>
        </div>
      </v-form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.rename {
  padding: 20px 24px;
  display: grid;
  gap: 16px;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
