<script setup lang="ts">
import type { GroupLeader, GroupSheet } from '@gate-roster/contract';
import { emailProblem, presetOf, readPerson, readWho } from '@gate-roster/core';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { personName, showDay, showDayOf } from '../ui/format.ts';
import OfferedList from '../ui/OfferedList.vue';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';
import { type NewLeader, useLeaderDraft } from './use-leader-draft.ts';
import PowersChoice from './PowersChoice.vue';
import HandOver from './HandOver.vue';
import DayField from '../ui/DayField.vue';

/** Who leads a group, with which powers and until when. */
const { group } = defineProps<{ group: GroupSheet }>();
const session = useSession();
const emit = defineEmits<{ close: [] }>();

const { who, held, firstDay, lastDay, ending, takingBack, change, isBegun, edit, end, takeBack, leaveOut, reset } = useLeaderDraft(
  () => group.id,
);
const handing = ref<{ id: number; name: string } | null>(null);

const typed = ref('');
const asked = refDebounced(
  computed(() => typed.value.trim()),
  200,
);
const { data: found } = useQuery({
  queryKey: ['find', asked],
  queryFn: ({ signal }) => call('find', { query: { q: readPerson(asked.value).email || asked.value } }, signal),
  enabled: () => asked.value !== '',
  placeholderData: keepPreviousData,
});
const written = computed(() => readWho(asked.value));
const offered = computed<NewLeader[]>(() => {
  if (asked.value === '') return [];
  const known = (found.value?.people ?? []).map((person) => ({ personId: person.id, name: personName(person) }));
  const { email } = written.value;
  // An exact sign-in name may be meant too: somebody from outside is asked, whether or not there is an account.
  const byLetter =
    email !== '' && (emailProblem(email) === null || (!email.includes('@') && !session.isAdministrator))
      ? [{ ...written.value, name: words.leaders.byLetter(email) }]
      : [];
  return [...known, ...byLetter];
});
function choose(wanted: NewLeader): void {
  who.value = wanted;
  typed.value = '';
}
const inHand = useChange(
  change,
  computed(() => (takingBack.value === null ? words.leaders.applied : words.leaders.tookBack)),
);
async function apply(): Promise<void> {
  if (await inHand.apply()) reset();
}
const days = (leader: GroupLeader): string =>
  [leader.firstDay ? words.leaders.from(showDay(leader.firstDay)) : '', leader.lastDay ? words.leaders.until(showDay(leader.lastDay)) : '']
    .filter(Boolean)
    .join(' ');
</script>

<template>
  <HandOver v-if="handing" :person="handing" @close="handing = null" />
  <section v-else class="leaders">
    <h2>{{ words.leaders.of(group.name) }}</h2>
    <p class="soft">{{ words.leaders.branch }}</p>
    <ul class="plain-list">
      <li v-for="leader in group.leaders" :key="leader.id" class="leader">
        <b>{{ leader.name }}</b>
        <span class="soft">{{ words.leaders.held(presetOf(leader.powers), leader.powers) }} {{ days(leader) }}</span>
        <div>
          <v-btn variant="text" size="small" @click="edit(leader)">{{ words.leaders.change }}</v-btn>
          <v-btn variant="text" size="small" @click="handing = leader">{{ words.leaders.handOver }}</v-btn>
          <v-btn variant="text" size="small" class="late" @click="end(leader)">{{ words.leaders.takeAway }}</v-btn>
        </div>
      </li>
      <li v-if="group.leaders.length === 0" class="soft">{{ words.groups.noLeader }}</li>
    </ul>
    <template v-if="group.invited.length > 0">
      <h3>{{ words.leaders.invited }}</h3>
      <ul class="plain-list">
        <li v-for="each in group.invited" :key="each.id" class="leader">
          {{ each.name || each.email }}
          <span class="soft">{{ words.leaders.invitedAs(each.leads, showDayOf(each.until)) }}</span>
          <v-btn variant="text" size="small" @click="takeBack(each)">{{ words.leaders.takeBack }}</v-btn>
        </li>
      </ul>
    </template>
    <template v-if="!ending && !takingBack">
      <h3>{{ words.leaders.add }}</h3>
      <v-chip v-if="who" closable :close-label="words.people.leaveOut(who.name)" @click:close="leaveOut">{{ who.name }}</v-chip>
      <template v-else>
        <v-text-field
          v-model="typed"
          autofocus
          :label="words.leaders.who"
          :hint="words.leaders.whoHint"
          @keydown.enter.prevent="offered[0] && choose(offered[0])"
        />
        <OfferedList
          :items="offered.map(({ name }, index) => ({ key: index, title: name }))"
          @take="offered[$event] && choose(offered[$event])"
        />
      </template>
      <PowersChoice v-model="held" />
      <div class="two">
        <DayField v-model="firstDay" :label="words.leaders.firstDay" />
        <DayField v-model="lastDay" :label="words.leaders.lastDay" />
      </div>
    </template>
    <p v-else-if="takingBack">
      <b>{{ takingBack.name || takingBack.email }}</b>
    </p>
    <p v-else-if="ending">
      <b>{{ ending.name }}</b>{{ ' ' }}
      <button type="button" class="plain-link" @click="handing = ending">{{ words.leaders.handOver }}</button>
    </p>
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="takingBack ? words.leaders.takeBack : ending ? words.leaders.takeAway : words.leaders.apply"
      @apply="apply"
      @discard="isBegun ? reset() : emit('close')"
    />
  </section>
</template>

<style scoped>
.leaders {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.leader {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  font-size: 14px;
}
.leader .v-btn {
  padding: 0 8px 0 0;
  min-width: 0;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
