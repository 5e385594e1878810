<script setup lang="ts">
import { messageKinds, tallyFor } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, reactive, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { uploadChosen } from '../api/upload.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useFilter } from '../filters/use-filter.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import MarkedField from './MarkedField.vue';
import type { Chosen } from '../people/chosen.ts';
import { emptyMessage, messageChange } from './write-message.ts';
import DayField from '../ui/DayField.vue';

/** Writes to a group, to those who fit a filter, or to people who were chosen in a list. */
const { chosen } = defineProps<{ chosen: Chosen }>();
const emit = defineEmits<{ close: [] }>();
const w = words.messages.form;
const scope = useScope();
const tree = useTree();
const filter = useFilter();
const row = computed(() => tree.value?.row(scope.groupId.value));
const audiences = computed(() => [
  ...(chosen.count > 0 ? [{ value: 'people' as const, title: w.toChosen(chosen.count) }] : []),
  ...(filter.value.length > 0 ? [{ value: 'filter' as const, title: w.toFilter }] : []),
  { value: 'branch' as const, title: w.toGroup(row.value?.name ?? '', row.value?.people ?? 0) },
  ...((tree.value?.branchSize(scope.groupId.value) ?? 1) > 1 ? [{ value: 'several' as const, title: w.toSeveral }] : []),
  { value: 'group' as const, title: w.toGroupAlone(row.value?.name ?? '') },
]);
const form = reactive(emptyMessage(audiences.value[0]?.value ?? 'branch'));
watch(
  () => chosen,
  () => {
    form.to = audiences.value[0]?.value ?? 'branch';
  },
);
const kinds = messageKinds.map((value) => ({ value, title: words.messages.kinds[value] }));
const change = computed(() => messageChange(form, { groupId: scope.groupId.value, people: chosen.people, filter: filter.value }));
const inHand = useChange(change, w.sent, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const groupItems = computed(() =>
  [...(tree.value?.nodes() ?? [])]
    .filter(({ id }) => id !== scope.groupId.value && (tree.value?.path(id).some((step) => step.id === scope.groupId.value) ?? false))
    .map(({ id, name }) => ({ value: id, title: name })),
);
const { data: handIns } = useQuery({
  queryKey: ['messages', 'hand-in-activities', scope.groupId],
  queryFn: ({ signal }) => call('handInActivities', { params: { groupId: scope.groupId.value } }, signal),
  enabled: () => form.kind === 'task',
});
const activityItems = computed(() => [
  { value: null, title: w.byTick },
  ...(handIns.value?.activities ?? []).map(({ id, name, course }) => ({ value: id, title: w.byWork(course, name) })),
]);
const tallies = tallyFor.map((value) => ({ value, title: w.tallies[value] }));
const fileProblem = ref<string | null>(null);
async function addFile(event: Event): Promise<void> {
  const kept = await uploadChosen(event, fileProblem);
  if (kept) form.files.push({ id: kept.id, name: kept.name });
}
const isLive = computed(() => ['branch', 'group', 'several'].includes(form.to));
</script>

<template>
  <div class="write">
    <section class="form">
      <h1>{{ w.title }}</h1>
      <v-select v-model="form.to" :items="audiences" :label="w.to" />
      <v-checkbox v-if="isLive" v-model="form.laterToo" :label="w.later" />
      <v-text-field v-model="form.title" v-focus-first maxlength="120" :label="w.subject" />
      <v-autocomplete
        v-if="form.to === 'several'"
        v-model="form.groups"
        multiple
        chips
        closable-chips
        :items="groupItems"
        :label="w.groups"
      />
      <MarkedField v-model="form.body" :label="w.body" />
      <div class="files">
        <label class="choose-file">{{ w.addFile }}<input type="file" class="sr-only" @change="addFile" /></label>
        <v-chip v-for="(file, at) in form.files" :key="file.id" closable @click:close="form.files.splice(at, 1)">{{ file.name }}</v-chip>
        <p v-if="fileProblem" class="wrong" role="alert">{{ fileProblem }}</p>
      </div>
      <v-select v-model="form.kind" :items="kinds" :label="w.kind" />
      <div v-if="form.kind !== 'message'" class="pair">
        <DayField v-model="form.dueDay" :label="w.dueDay" />
        <v-checkbox v-if="form.dueDay" v-model="form.closes" :label="w.closes" />
      </div>
      <v-autocomplete v-if="form.kind === 'task'" v-model="form.activityId" :items="activityItems" :label="w.doneBy" />
      <template v-if="form.kind === 'question'">
        <v-textarea v-model="form.choices" rows="3" auto-grow :label="w.choices" />
        <div class="pair">
          <v-checkbox v-model="form.several" :label="w.several" />
          <v-checkbox v-model="form.ownWords" :label="w.ownWords" />
        </div>
        <v-checkbox v-model="form.isNamed" :label="w.isNamed" />
        <v-select v-model="form.tally" :items="tallies" :label="w.tally" />
      </template>
      <v-checkbox v-model="form.urgent" :label="w.urgent" />
      <details>
        <summary>{{ w.more }}</summary>
        <v-checkbox v-model="form.answers" :label="w.answers" />
        <v-combobox v-model="form.tags" multiple chips closable-chips maxlength="60" :label="w.tags" />
        <div class="pair">
          <DayField v-model="form.pinnedUntil" :label="w.pinnedUntil" />
          <v-text-field v-model="form.sendAt" type="datetime-local" :label="w.sendAt" />
        </div>
      </details>
    </section>
    <LookPanel :in-hand="inHand" :change="change" :apply-label="w.apply" @apply="apply" @discard="emit('close')" />
  </div>
</template>

<style scoped src="./write.css" />
<style scoped>
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
