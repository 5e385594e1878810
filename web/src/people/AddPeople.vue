<script setup lang="ts">
import { type Change, type GroupSheet, mostCards } from '@gate-roster/contract';
import { emailProblem, readPerson, type RosterRow } from '@gate-roster/core';
import { useQuery, keepPreviousData } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { goToCards } from '../entry/cards-of-change.ts';
import RowProblems from '../entry/RowProblems.vue';
import { personName } from '../ui/format.ts';
import OfferedList from '../ui/OfferedList.vue';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';

/** People into one group: picked from those who are known, or typed, a line for each. Adding takes nothing away. */
const { group } = defineProps<{ group: GroupSheet }>();
const emit = defineEmits<{ close: [] }>();
const router = useRouter();
const how = ref<'known' | 'new'>('known');
const typed = ref('');
const search = ref('');
const asked = refDebounced(
  computed(() => search.value.trim()),
  200,
);
const picked = ref<{ id: number; name: string }[]>([]);
const { data: found } = useQuery({
  queryKey: ['find', asked],
  queryFn: ({ signal }) => call('find', { query: { q: asked.value } }, signal),
  enabled: () => asked.value !== '',
  placeholderData: keepPreviousData,
});
const offered = computed(() =>
  asked.value === '' ? [] : (found.value?.people ?? []).filter(({ id }) => !picked.value.some((each) => each.id === id)),
);

const rows = computed<RosterRow[]>(() =>
  typed.value.split('\n').flatMap((line, index) => (line.trim() === '' ? [] : [{ row: index + 1, cells: { ...readPerson(line) } }])),
);
const change = computed<Change | null>(() => {
  if (how.value === 'known')
    return picked.value.length === 0
      ? null
      : { kind: 'add-members', groupId: group.id, personIds: picked.value.map(({ id }) => id), firstDay: null, lastDay: null };
  return rows.value.length === 0
    ? null
    : { kind: 'bring-in-roster', into: group.id, fileName: null, hasGroupColumn: false, dateOrder: 'dayFirst', rows: rows.value };
});
const inHand = useChange(change, words.people.added(group.name), { settleMilliseconds: 300 });
const problems = computed(() => inHand.look.value?.rows ?? []);
const known = computed(() => inHand.look.value?.rowCounts.nothing ?? 0);
/** Those who are new may need a card to come in with. */
const fresh = ref(0);
async function apply(): Promise<void> {
  const newPeople = how.value === 'new' ? (inHand.look.value?.newPeople ?? 0) : 0;
  if (!(await inHand.apply())) return;
  if (newPeople === 0 || !group.may.managePeople) emit('close');
  else fresh.value = newPeople;
}
const toCards = async (): Promise<void> => goToCards(router, inHand.appliedId.value ?? 0);
function pick(person: { id: number; givenName: string; familyName: string }): void {
  picked.value = [...picked.value, { id: person.id, name: personName(person) }];
  search.value = '';
}
const hint = computed(() =>
  rows.value.some(({ cells }) => cells.email && emailProblem(cells.email)) ? words.people.checkAddresses : words.people.typeHint,
);
</script>

<template>
  <section v-if="fresh > 0" class="add" role="status">
    <h2>{{ words.entry.isIn(fresh) }}</h2>
    <v-btn v-if="fresh <= mostCards" variant="flat" @click="toCards">{{ words.entry.cardsFor(fresh) }}</v-btn>
    <v-btn variant="text" @click="emit('close')">{{ words.common.close }}</v-btn>
  </section>
  <section v-else class="add">
    <p class="soft">{{ group.name }}</p>
    <h2>{{ words.people.add }}</h2>
    <v-btn-toggle v-model="how" mandatory density="compact" divided>
      <v-btn value="known">{{ words.people.known }}</v-btn>
      <v-btn value="new">{{ words.people.newPeople }}</v-btn>
    </v-btn-toggle>
    <template v-if="how === 'known'">
      <v-text-field
        v-model="search"
        v-focus-first
        :label="words.people.findKnown"
        @keydown.enter.prevent="offered[0] && pick(offered[0])"
      />
      <OfferedList
        :items="
          offered.map((person) => ({ key: person.id, title: personName(person), note: person.group?.name ?? words.people.inNoGroup }))
        "
        @take="offered[$event] && pick(offered[$event])"
      />
      <div class="chips">
        <v-chip
          v-for="person in picked"
          :key="person.id"
          closable
          :close-label="words.people.leaveOut(person.name)"
          @click:close="picked = picked.filter(({ id }) => id !== person.id)"
          >{{ person.name }}</v-chip
        >
      </div>
    </template>
    <v-textarea v-else v-model="typed" v-focus-first rows="5" auto-grow :label="words.people.typeNames" :hint="hint" />
    <RowProblems v-if="problems.length > 0" :rows="problems" />
    <p v-if="(inHand.look.value?.letters ?? 0) > 0" class="soft">{{ words.people.invite(inHand.look.value?.letters ?? 0) }}</p>
    <p v-if="known > 0" class="soft">{{ words.people.alreadyIn(known) }}</p>
    <LookPanel :in-hand="inHand" :change="change" :apply-label="words.people.add" @apply="apply" @discard="emit('close')" />
  </section>
</template>

<style scoped>
.add {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.chips {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
</style>
