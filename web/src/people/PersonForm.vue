<script setup lang="ts">
import type { PersonSheet, Change, PersonValues, Some } from '@gate-roster/contract';

import { useQuery } from '@tanstack/vue-query';
import { computed, reactive, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { personName } from '../ui/format.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import { type PersonFormKind, type StateAsked, stateValues } from './person-acts.ts';
import PersonPicker from './PersonPicker.vue';
import StateChoice from './StateChoice.vue';

/** One change to one person: names and numbers, state, merge, erase. */
const { person, kind } = defineProps<{ person: PersonSheet; kind: PersonFormKind }>();
const emit = defineEmits<{ close: []; gone: []; handOver: [] }>();
const before: PersonValues = {
  givenName: person.givenName,
  familyName: person.familyName,
  email: person.email,
  signInName: person.signInName,
  idNumber: person.idNumber,
  nameHidden: person.nameHidden,
};
const values = reactive<PersonValues>({ ...before });
const state = ref<StateAsked>({
  state: person.state === 'active' ? 'paused' : 'active',
  firstDay: person.firstDay,
  lastDay: person.lastDay,
});
const other = ref<number | null>(null);
const changed = computed<Some<PersonValues>>(() =>
  Object.fromEntries(
    Object.entries(values).flatMap(([field, value]) => {
      const isName = field === 'givenName' || field === 'familyName';
      const now = value === '' && !isName ? null : value;
      return now === before[field as keyof PersonValues] ? [] : [[field, now]];
    }),
  ),
);
const change = computed<Change | null>(() => {
  switch (kind) {
    case 'edit':
      return Object.keys(changed.value).length === 0 ? null : { kind: 'edit-person', personId: person.id, values: changed.value };
    case 'state':
      return { kind: 'set-person-state', personIds: [person.id], ...stateValues(state.value) };
    case 'merge':
      return other.value === null ? null : { kind: 'merge-people', personId: person.id, goneId: other.value };
    case 'erase':
      return { kind: 'erase-person', personId: person.id };
  }
});
const texts = {
  edit: { title: words.people.edit, label: words.common.save, done: words.people.saved },
  state: { title: words.people.stateTitle(1), label: words.common.save, done: words.people.stateSaved },
  merge: { title: words.people.mergeTitle(personName(person)), label: words.people.merge, done: words.people.mergedPeople },
  erase: { title: words.people.eraseTitle(personName(person)), label: words.people.erase.replace('…', ''), done: words.people.erased },
};
const inHand = useChange(
  change,
  computed(() => texts[kind].done),
  { settleMilliseconds: 300 },
);
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  if (kind === 'erase') emit('gone');
  else emit('close');
}
/** Whatever hangs on somebody who is paused or ended is handed over on one sheet. */
const { data: hangs } = useQuery({
  queryKey: ['hanging', computed(() => person.id)],
  queryFn: ({ signal }) => call('hangingOn', { params: { personId: person.id } }, signal),
});
const hangsOn = computed(
  () => (kind === 'state' || kind === 'erase') && (hangs.value?.leads.length ?? 0) + (hangs.value?.contact.length ?? 0) > 0,
);
</script>

<template>
  <section class="form">
    <h3>{{ texts[kind].title }}</h3>
    <template v-if="kind === 'edit'">
      <v-text-field v-model="values.givenName" v-focus-first :label="words.people.givenName" maxlength="120" />
      <v-text-field v-model="values.familyName" :label="words.people.familyName" maxlength="120" />
      <v-text-field v-model="values.email" type="email" :label="words.people.email" />
      <v-text-field v-model="values.signInName" :label="words.people.signInName" maxlength="60" />
      <v-text-field v-model="values.idNumber" :label="words.people.idNumber" maxlength="60" />
      <v-switch v-model="values.nameHidden" :label="words.people.nameHidden" />
    </template>
    <StateChoice v-if="kind === 'state'" v-model="state" />
    <template v-if="kind === 'merge'">
      <p class="soft">{{ words.people.mergeWhat }}</p>
      <PersonPicker v-model="other" autofocus :label="words.people.otherAccount" />
    </template>
    <p v-if="kind === 'erase'">{{ words.people.eraseWhat }}</p>
    <p v-if="hangsOn" class="hangs">
      {{ words.leaders.hangs(personName(person)) }}
      <button type="button" class="plain-link" @click="emit('handOver')">{{ words.leaders.handOver }}</button>
    </p>
    <LookPanel :in-hand="inHand" :change="change" :apply-label="texts[kind].label" @apply="apply" @discard="emit('close')" />
  </section>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}
.hangs {
  background: var(--brass2);
  border: 1px solid var(--brass);
  border-radius: 8px;
  padding: 10px 12px;
}
</style>
