<script setup lang="ts">
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';

/** Asks for a link to choose a new password; the answer is the same whether or not there is an account. */
const w = words.addresses;
const typed = ref('');
const isSent = ref(false);
const isBusy = ref(false);
const problem = ref<string | null>(null);

async function send(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await call('forgot', { body: { signInName: typed.value } });
    isSent.value = true;
  } catch (error) {
    problem.value = failureWords(error);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AccountCard :title="w.forgot">
    <p v-if="isSent" role="status">{{ w.forgotSent }}</p>
    <form v-else @submit.prevent="send">
      <p>{{ w.forgotWhat }}</p>
      <v-text-field
        v-model="typed"
        v-focus-first
        autocomplete="username"
        autocapitalize="none"
        spellcheck="false"
        :label="words.accounts.nameOrEmail"
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" variant="flat" height="44" :disabled="typed.trim().length < 3" :loading="isBusy">{{ w.forgotSend }}</v-btn>
    </form>
    <router-link class="back" :to="{ name: 'sign-in' }">{{ words.accounts.signIn }}</router-link>
  </AccountCard>
</template>

<style scoped>
.back {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
