<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';
import NewPassword from './NewPassword.vue';

/** A one-time sign-in: opening shows whose it is, only the button uses it up. */
const session = useSession();
const router = useRouter();
// In the fragment, so that it reaches no log and no Referer.
// A code after the token: whoever came by a letter goes on to join by it.
const [token = '', code] = location.hash.slice(1).split('/');
/** Without a link: what stands on a card, or was read out. */
const typed = ref({ signInName: '', word: '' });
const isTyped = ref(token !== '');
const key = computed(() => (token !== '' ? { token } : { ...typed.value }));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['one-time'],
  queryFn: () => call('oneTime', { body: key.value }),
  enabled: isTyped,
  retry: false,
  refetchOnWindowFocus: false,
});
const password = ref('');
const isBusy = ref(false);
const problem = ref<string | null>(null);
const isShort = computed(() => password.value !== '' && password.value.length < 10);
async function look(): Promise<void> {
  problem.value = null;
  isTyped.value = true;
  const { error: failure } = await refetch();
  if (!failure) return;
  isTyped.value = false;
  problem.value = failureWords(failure);
}
async function enter(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    session.me = await call('useOneTime', { body: { key: key.value, password: password.value || null } });
    await router.push(code ? { name: 'join', hash: `#${code}` } : { name: 'home' });
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AccountCard
    :title="data ? words.enter.title(data.name) : token === '' ? words.enter.byWord : error ? words.enter.over : words.accounts.signIn"
  >
    <form v-if="token === '' && !data" @submit.prevent="look">
      <p>{{ words.enter.byWordWhat }}</p>
      <v-text-field
        v-model="typed.signInName"
        v-focus-first
        autocomplete="username"
        autocapitalize="none"
        spellcheck="false"
        :label="words.addresses.signInName"
      />
      <v-text-field
        v-model="typed.word"
        class="mono"
        autocomplete="off"
        autocapitalize="characters"
        spellcheck="false"
        :label="words.enter.word"
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" variant="flat" height="44" :disabled="typed.signInName === '' || typed.word.length < 8">{{
        words.enter.go
      }}</v-btn>
    </form>
    <form v-else @submit.prevent="enter">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <p>{{ data.kind === 'lasting' ? words.enter.signInLasting(data.organisation) : words.enter.signInOnce(data.organisation) }}</p>
        <NewPassword
          v-if="data.kind !== 'lasting'"
          v-model="password"
          :label="words.enter.choosePassword"
          :is-optional="data.kind === 'link'"
        />
        <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
        <v-btn
          type="submit"
          variant="flat"
          height="44"
          :disabled="isShort || (data.kind === 'card' && password === '')"
          :loading="isBusy"
          >{{ words.enter.act }}</v-btn
        >
      </template>
    </form>
  </AccountCard>
</template>
