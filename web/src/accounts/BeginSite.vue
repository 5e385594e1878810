<script setup lang="ts">
import { routes } from '@gate-roster/contract';
import { computed, reactive, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';

/** The first page of an empty site. */
const session = useSession();
const router = useRouter();
const form = reactive({ organisation: '', givenName: '', familyName: '', signInName: '', password: '' });
const isTried = ref(false);
const isBusy = ref(false);
const problem = ref<string | null>(null);
const body = computed(() => ({ ...form, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone }));
const wrong = computed(() => {
  const result = routes.beginSite.body.safeParse(body.value);
  return new Set(result.success ? [] : result.error.issues.map(({ path }) => String(path[0])));
});
const errorsOf = (field: keyof typeof form): string[] =>
  isTried.value && wrong.value.has(field) ? [words.accounts.begin.wrong[field]] : [];

async function begin(): Promise<void> {
  isTried.value = true;
  if (wrong.value.size > 0) return;
  isBusy.value = true;
  problem.value = null;
  try {
    session.me = await call('beginSite', { body: body.value });
    await router.push('/');
  } catch (error) {
    problem.value = failureWords(error);
    if (error instanceof Failure && error.code === 'already-begun') await router.push({ name: 'sign-in' });
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AccountCard :title="words.accounts.begin.title">
    <form novalidate @submit.prevent="begin">
      <p class="soft">{{ words.accounts.begin.intro }}</p>
      <v-text-field
        v-model="form.organisation"
        v-focus-first
        :label="words.accounts.begin.organisation"
        :hint="words.accounts.begin.organisationHint"
        :error-messages="errorsOf('organisation')"
      />
      <v-text-field
        v-model="form.givenName"
        autocomplete="given-name"
        :label="words.people.givenName"
        :error-messages="errorsOf('givenName')"
      />
      <v-text-field
        v-model="form.familyName"
        autocomplete="family-name"
        :label="words.people.familyName"
        :error-messages="errorsOf('familyName')"
      />
      <v-text-field
        v-model="form.signInName"
        autocomplete="username"
        autocapitalize="none"
        :label="words.accounts.nameOrEmail"
        :error-messages="errorsOf('signInName')"
      />
      <v-text-field
        v-model="form.password"
        type="password"
        autocomplete="new-password"
        :label="words.accounts.password"
        :hint="words.accounts.passwordHint"
        :error-messages="errorsOf('password')"
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" variant="flat" height="44" :loading="isBusy">{{ words.accounts.begin.act }}</v-btn>
    </form>
  </AccountCard>
</template>
