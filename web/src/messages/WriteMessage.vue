<script setup lang="ts">
import { messageKinds } from '@gate-roster/contract';
import { computed, reactive, watch } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useFilter } from '../filters/use-filter.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { words } from '../words.ts';
import { emptyMessage, messageChange } from './write-message.ts';

/** Writes to a group, to those who fit a filter, or to people who were chosen in a list. */
const { personIds } = defineProps<{ personIds: readonly number[] }>();
const emit = defineEmits<{ close: [] }>();
const w = words.messages.form;
const scope = useScope();
const tree = useTree();
const filter = useFilter();
const row = computed(() => tree.value?.row(scope.groupId.value));
const audiences = computed(() => [
  ...(personIds.length > 0 ? [{ value: 'people' as const, title: w.toChosen(personIds.length) }] : []),
  ...(filter.value.length > 0 ? [{ value: 'filter' as const, title: w.toFilter }] : []),
  { value: 'branch' as const, title: w.toGroup(row.value?.name ?? '', row.value?.people ?? 0) },
  { value: 'group' as const, title: w.toGroupAlone(row.value?.name ?? '') },
]);
const form = reactive(emptyMessage(audiences.value[0]?.value ?? 'branch'));
watch(
  () => personIds,
  () => {
    form.to = audiences.value[0]?.value ?? 'branch';
  },
);
const kinds = messageKinds.map((value) => ({ value, title: words.messages.kinds[value] }));
const change = computed(() => messageChange(form, { groupId: scope.groupId.value, personIds, filter: filter.value }));
const inHand = useChange(change, w.sent, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const isLive = computed(() => form.to === 'branch' || form.to === 'group');
</script>

<template>
  <div class="write">
    <section class="form">
      <h1>{{ w.title }}</h1>
      <v-select v-model="form.to" :items="audiences" :label="w.to" :hint="isLive ? w.later : ''" :persistent-hint="isLive" />
      <v-text-field v-model="form.title" autofocus maxlength="120" :label="w.subject" />
      <v-textarea v-model="form.body" rows="4" auto-grow maxlength="10000" :label="w.body" />
      <v-select v-model="form.kind" :items="kinds" :label="w.kind" />
      <v-text-field v-if="form.kind === 'task'" v-model="form.dueDay" type="date" :label="w.dueDay" />
      <template v-if="form.kind === 'question'">
        <v-textarea v-model="form.choices" rows="3" auto-grow :label="w.choices" />
        <v-checkbox v-model="form.several" :label="w.several" />
      </template>
      <v-checkbox v-model="form.urgent" :label="w.urgent" />
      <details>
        <summary>{{ w.more }}</summary>
        <v-checkbox v-model="form.answers" :label="w.answers" />
        <div class="pair">
          <v-text-field v-model="form.pinnedUntil" type="date" :label="w.pinnedUntil" />
          <v-text-field v-model="form.sendAt" type="datetime-local" :label="w.sendAt" />
        </div>
      </details>
    </section>
    <LookPanel :in-hand="inHand" :change="change" :apply-label="w.apply" @apply="apply" @discard="emit('close')" />
  </div>
</template>

<style scoped>
.write {
  display: grid;
  gap: 16px;
  max-width: 640px;
}
.form {
  display: grid;
  gap: 12px;
}
summary {
  cursor: pointer;
  color: var(--tide);
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
