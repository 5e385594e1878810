<script setup lang="ts">
import { routes } from '@gate-roster/contract';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { singleKeys, themeChoice } from '../shell/settings.ts';
import NewPassword from './NewPassword.vue';
import OwnAddress from './OwnAddress.vue';
import PlatformSettings from '../courses/PlatformSettings.vue';
import BillingSettings from './BillingSettings.vue';
import SiteSettings from './SiteSettings.vue';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

const session = useSession();
const current = ref('');
const next = ref('');
const isBusy = ref(false);
const problem = ref<string | null>(null);
const themes = ['system', 'light', 'dark'] as const;

async function change(): Promise<void> {
  const body = { current: current.value, next: next.value };
  problem.value = routes.changePassword.body.safeParse(body).success ? null : words.accounts.passwordHint;
  if (problem.value) return;
  isBusy.value = true;
  try {
    await call('changePassword', { body });
    current.value = '';
    next.value = '';
    tell(words.accounts.passwordChanged);
  } catch (error) {
    problem.value = failureWords(error);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <main class="settings">
    <h1>{{ words.settings.title }}</h1>
    <section>
      <h2>{{ words.settings.theme }}</h2>
      <v-btn-toggle v-model="themeChoice" mandatory density="comfortable" divided :aria-label="words.settings.theme"
        ><v-btn v-for="theme in themes" :key="theme" :value="theme">{{ words.settings.themes[theme] }}</v-btn></v-btn-toggle
      >
    </section>
    <section>
      <h2>{{ words.keys.title }}</h2>
      <v-switch v-model="singleKeys" :label="words.keys.single" />
    </section>
    <SiteSettings v-if="session.isAdministrator" />
    <PlatformSettings v-if="session.isAdministrator" />
    <BillingSettings v-if="session.isAdministrator" />
    <OwnAddress />
    <section>
      <h2>{{ words.accounts.changePassword }}</h2>
      <form @submit.prevent="change">
        <v-text-field v-model="current" type="password" autocomplete="current-password" :label="words.accounts.currentPassword" />
        <NewPassword v-model="next" :label="words.accounts.newPassword" />
        <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
        <v-btn type="submit" variant="flat" :loading="isBusy" :disabled="current === '' || next === ''">{{
          words.accounts.changePassword
        }}</v-btn>
        <p class="soft">{{ words.accounts.othersEnd }}</p>
      </form>
    </section>
  </main>
</template>

<style scoped>
.settings {
  padding: 18px 26px;
  overflow: auto;
  flex: 1;
  display: grid;
  gap: 24px;
  align-content: start;
  background: var(--sheet);
}
section {
  display: grid;
  gap: 10px;
  max-width: 420px;
  justify-items: start;
}
form {
  display: grid;
  gap: 12px;
  width: 100%;
  justify-items: start;
}
form > .v-input {
  width: 100%;
}
</style>
