<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import { nextOf } from '../shell/router.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';

const session = useSession();
const router = useRouter();
const route = useRoute();
const isBusy = ref(false);
const problem = ref<string | null>(null);
/** Under which whoever helps finds what went wrong. */
const number = ref<string | null>(null);
/** An address signs in only once it is confirmed. */
const isAddress = ref(false);
const { data: site } = useQuery({ queryKey: ['site'], queryFn: () => call('site', {}) });
const title = computed(() => (site.value?.organisation ? words.accounts.signInTo(site.value.organisation) : words.accounts.signIn));

/** Reads the form itself: a browser that fills it in need not tell anybody. */
async function signIn(event: Event): Promise<void> {
  const form = new FormData(event.target as HTMLFormElement);
  isBusy.value = true;
  problem.value = null;
  const typed = form.get('name') as string;
  isAddress.value = typed.includes('@');
  try {
    session.me = await call('signIn', { body: { signInName: typed, password: form.get('password') as string } });
    await router.push(nextOf(route.query['next']));
  } catch (error) {
    if (error instanceof Failure && error.code === 'still-paying') {
      await router.push({ name: 'join-paying' });
      return;
    }
    problem.value = failureWords(error);
    const given = error instanceof Failure ? error.problem?.number : undefined;
    number.value = given ? `${given.slice(0, 3)} ${given.slice(3)}` : null;
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AccountCard :title="title">
    <form @submit.prevent="signIn">
      <v-text-field
        v-focus-first
        name="name"
        required
        autocomplete="username"
        autocapitalize="none"
        spellcheck="false"
        :label="words.accounts.nameOrEmail"
      />
      <v-text-field name="password" type="password" required autocomplete="current-password" :label="words.accounts.password" />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <p v-if="problem && isAddress" class="soft">{{ words.addresses.trySignInName }}</p>
      <p v-if="number" class="number">
        {{ words.help.readOut }} <b class="mono">{{ number }}</b>
      </p>
      <v-btn type="submit" variant="flat" height="44" :loading="isBusy">{{ words.accounts.signIn }}</v-btn>
      <p class="ways">
        <router-link class="code plain-link" :to="{ name: 'forgot' }">{{ words.addresses.forgot }}</router-link>
        <router-link class="code plain-link" :to="{ name: 'enter' }">{{ words.enter.byWord }}</router-link>
        <router-link class="code plain-link" :to="{ name: 'join' }">{{ words.areas.enterCode }}</router-link>
      </p>
    </form>
  </AccountCard>
</template>

<style scoped>
.number b {
  font-size: 18px;
  white-space: nowrap;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  column-gap: 18px;
}
.code {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
