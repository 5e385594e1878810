<script setup lang="ts">
import { nameKey } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, reactive, watch } from 'vue';
import PowersChoice from '../accounts/PowersChoice.vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import GroupPicker from './GroupPicker.vue';
import { clientChange, emptyClient } from './new-client.ts';
import { useTree } from './tree-query.ts';
import DayField from '../ui/DayField.vue';

/** A new group with its leader, courses, seats and join code: one form, one preview, one change. */
const { parentId } = defineProps<{ parentId: number }>();
const emit = defineEmits<{ close: [] }>();
const w = words.newClient;
const scope = useScope();
const session = useSession();
const tree = useTree();
const form = reactive(emptyClient(parentId));
const { data: catalogue } = useQuery({
  queryKey: ['access', scope.groupId, 'to open'],
  queryFn: ({ signal }) => call('courses', { params: { groupId: scope.groupId.value }, query: { limit: 200 } }, signal),
});
const offered = computed(() => [
  ...(catalogue.value?.sets ?? []).map(({ id, name, courses }) => ({ value: `set ${id}`, title: name, subtitle: w.setOf(courses) })),
  ...(catalogue.value?.courses ?? []).map(({ id, name, code }) => ({ value: `course ${id}`, title: name, subtitle: code ?? '' })),
]);
const { data: seats } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: { groupId: scope.groupId.value } }, signal),
});
/** Licences above the new group whose seats it could share. */
const licences = computed(() => {
  const above = new Set((form.parentId === null ? [] : (tree.value?.path(form.parentId) ?? [])).map(({ id }) => id));
  return (seats.value?.licences ?? []).filter(({ home, inForce }) => inForce && above.has(home.id));
});
const paidBy = computed(() => [
  ...(session.isAdministrator ? [{ value: null, title: w.ownLicence }] : []),
  ...licences.value.map(({ id, name }) => ({ value: id, title: name })),
]);
watch(paidBy, (list) => {
  if (!list.some(({ value }) => value === form.licenceId)) form.licenceId = list[0]?.value ?? null;
});
const change = computed(() => clientChange(form));
const inHand = useChange(change, w.made, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  const { name, parentId: under } = form;
  if (!(await inHand.apply())) return;
  const made = tree.value?.children(under).find((row) => nameKey(row.name) === nameKey(name));
  emit('close');
  if (made) scope.goTo(made.id);
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="w.apply" @apply="apply" @discard="emit('close')">
    <h2>{{ w.title }}</h2>
    <v-text-field v-model="form.name" v-focus-first maxlength="200" :label="w.name" />
    <GroupPicker v-model="form.parentId" :autofocus="false" :label="w.parent" />
    <v-text-field v-model="form.leader" :label="w.leader" :placeholder="w.leaderExample" :hint="w.leaderHint" />
    <PowersChoice v-if="form.leader.trim() !== ''" v-model="form.powers" />
    <v-autocomplete
      v-model="form.opens"
      multiple
      chips
      closable-chips
      clear-on-select
      :items="offered"
      :label="w.opens"
      :item-props="({ subtitle }) => ({ subtitle })"
    />
    <template v-if="form.opens.length > 0 && paidBy.length > 0">
      <v-text-field v-model="form.seats" type="number" min="0" :label="w.seats" :hint="w.seatsHint" />
      <v-select v-if="form.seats !== '' && paidBy.length > 1" v-model="form.licenceId" :items="paidBy" :label="w.licence" />
    </template>
    <div class="pair">
      <DayField v-model="form.firstDay" :label="words.access.firstDay" />
      <DayField v-model="form.lastDay" :label="words.access.lastDay" />
    </div>
    <v-checkbox v-model="form.code" :label="w.code" />
  </LookPanel>
</template>
