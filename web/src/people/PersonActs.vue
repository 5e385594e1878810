<script setup lang="ts">
import type { PersonSheet } from '@gate-roster/contract';
import { mdiChevronDown } from '@mdi/js';
import { useQueryClient } from '@tanstack/vue-query';
import { useClipboard } from '@vueuse/core';
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { addressOf, call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showMoment } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** What can be done with one person's account, as far as the reader may. */
const { person } = defineProps<{ person: PersonSheet }>();
const emit = defineEmits<{ form: [form: 'edit' | 'state' | 'merge' | 'erase' | 'hand over'] }>();
const queries = useQueryClient();
const session = useSession();
const router = useRouter();
const given = ref<{ link: string; until: string } | null>(null);
const { copy } = useClipboard();

async function doing(act: () => Promise<unknown>, said: string): Promise<void> {
  try {
    await act();
    tell(said);
    await queries.invalidateQueries({ queryKey: ['log'] });
  } catch (error) {
    tell(failureWords(error));
  }
}
const params = { params: { personId: person.id } };
async function oneTime(): Promise<void> {
  try {
    given.value = await call('oneTimeSignIn', params);
  } catch (error) {
    tell(failureWords(error));
  }
}
async function seeAs(): Promise<void> {
  try {
    session.me = await call('seeAs', { body: { personId: person.id } });
    await router.push({ name: 'home' });
  } catch (error) {
    tell(failureWords(error));
  }
}
async function copyLink(): Promise<void> {
  await copy(given.value?.link ?? '');
  tell(words.people.copied);
}
</script>

<template>
  <div class="acts">
    <v-menu>
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator" :append-icon="mdiChevronDown" size="small">{{ words.people.acts }}</v-btn>
      </template>
      <v-list>
        <template v-if="person.may.account">
          <v-list-item :title="words.people.edit" @click="emit('form', 'edit')" />
          <v-list-item :title="words.people.stateAct" @click="emit('form', 'state')" />
        </template>
        <v-list-item v-if="person.leads.length > 0" :title="words.leaders.handOver" @click="emit('form', 'hand over')" />
        <v-list-item v-if="person.may.letter" :title="words.help.fromPerson" :to="{ name: 'help', params: { personId: person.id } }" />
        <v-list-item
          v-if="person.may.letter"
          :title="words.people.sendLetter"
          @click="doing(() => call('sendSignIn', params), words.people.letterSent)"
        />
        <template v-if="person.may.account">
          <v-list-item :title="words.cards.title" @click="router.push({ name: 'cards', state: { personIds: [person.id] } })" />
          <v-list-item :title="words.people.oneTime" @click="oneTime" />
          <v-list-item :title="words.people.endSessions" @click="doing(() => call('endSessions', params), words.people.sessionsEnded)" />
          <v-list-item :title="words.people.mergeWith" @click="emit('form', 'merge')" />
          <v-list-item :title="words.people.exportPerson" :href="addressOf('personFile', params)" download />
          <v-list-item :title="words.people.erase" class="late" @click="emit('form', 'erase')" />
        </template>
        <v-list-item v-if="person.may.seeAs" :title="words.people.seeAs" @click="seeAs" />
      </v-list>
    </v-menu>
    <p v-if="!person.may.account" class="soft small">{{ words.people.notYours }}</p>
    <div v-if="given" class="given" role="status">
      <p>{{ words.people.oneTimeWhat(showMoment(given.until)) }}</p>
      <code class="mono">{{ given.link }}</code>
      <v-btn size="small" @click="copyLink">{{ words.people.copyLink }}</v-btn>
    </div>
  </div>
</template>

<style scoped>
.acts {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.small {
  font-size: 13px;
}
.given {
  background: var(--brass2);
  border: 1px solid var(--brass);
  border-radius: 8px;
  padding: 10px 12px;
  display: grid;
  gap: 8px;
  justify-items: start;
}
code {
  overflow-wrap: anywhere;
  font-size: 13px;
}
</style>
