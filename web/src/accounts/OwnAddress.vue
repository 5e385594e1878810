<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showDay } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** The own sign-in name and address; another address counts once it is confirmed. */
const w = words.addresses;
const { data, refetch } = useQuery({ queryKey: ['my-account'], queryFn: ({ signal }) => call('myAccount', {}, signal) });
const isOpen = ref(false);
const address = ref('');
const current = ref('');
const isBusy = ref(false);
const problem = ref<string | null>(null);

async function change(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await call('changeAddress', { body: { address: address.value, current: current.value } });
    isOpen.value = false;
    address.value = current.value = '';
    tell(w.sent);
    await refetch();
  } catch (error) {
    problem.value = failureWords(error);
  } finally {
    isBusy.value = false;
  }
}
async function undo(changeId: number): Promise<void> {
  try {
    await call('undoJoin', { params: { changeId } });
    tell(words.changes.undone);
  } catch (error) {
    tell(failureWords(error));
  }
  await refetch();
}
</script>

<template>
  <section v-if="data">
    <h2>{{ w.own }}</h2>
    <p>
      <b>{{ data.address ?? w.none }}</b> <span v-if="data.address" class="soft">{{ data.isConfirmed ? w.confirmed : w.unconfirmed }}</span>
    </p>
    <p v-if="data.pending && data.pending !== data.address" class="soft">{{ w.pending(data.pending) }}</p>
    <p v-if="data.signInName" class="soft">
      {{ w.signInName }}: <span class="mono">{{ data.signInName }}</span>
    </p>
    <v-btn v-if="!isOpen" @click="isOpen = true">{{ w.change }}</v-btn>
    <form v-else @submit.prevent="change">
      <p class="soft">{{ w.changeWhat }}</p>
      <v-text-field v-model="address" type="email" autocomplete="email" :label="w.newAddress" />
      <v-text-field v-model="current" type="password" autocomplete="current-password" :label="words.accounts.currentPassword" />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" variant="flat" :loading="isBusy" :disabled="address === '' || current === ''">{{ w.change }}</v-btn>
    </form>
    <p v-for="{ changeId, on } in data.joined" :key="changeId">
      {{ w.joinedOn(showDay(on)) }} <button type="button" class="plain-link" @click="undo(changeId)">{{ w.undoJoin }}</button>
    </p>
  </section>
</template>

<style scoped>
section,
form {
  display: grid;
  gap: 10px;
  max-width: 420px;
  justify-items: start;
}
form,
form > .v-input {
  width: 100%;
}
</style>
