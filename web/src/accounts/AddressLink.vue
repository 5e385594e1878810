<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showDay } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';
import NewPassword from './NewPassword.vue';

/** The link of a letter that asks whose account it is. Opening it changes nothing; each button does one thing. */
const w = words.addresses;
const session = useSession();
const router = useRouter();
// In the fragment, so that it reaches no log and no Referer.
const token = location.hash.slice(1);
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['address-link'],
  queryFn: () => call('addressLink', { body: { token } }),
  retry: false,
  refetchOnWindowFocus: false,
});
const password = ref('');
const isRefused = ref(false);
const isBusy = ref(false);
const problem = ref<string | null>(null);
const requestId = crypto.randomUUID();
const facts = computed(() =>
  data.value
    ? [
        [w.signInName, data.value.signInName],
        [w.group, data.value.group ?? w.noGroup],
        [w.madeOn, showDay(data.value.madeOn)],
      ]
    : [],
);

async function during(work: () => Promise<unknown>): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await work();
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
const confirm = (): Promise<void> =>
  during(async () => {
    session.me = await call('confirmAddress', { body: { token, password: password.value || null } });
    await router.push({ name: 'home' });
  });
const refuse = (): Promise<void> =>
  during(async () => {
    await call('refuseAddress', { body: { token } });
    isRefused.value = true;
  });
const join = (): Promise<void> =>
  during(async () => {
    await call('joinAddress', { body: { token, requestId } });
    session.me = undefined;
    await session.load();
    tell(w.joined);
    await router.push({ name: 'settings' });
  });
</script>

<template>
  <AccountCard :title="error ? words.enter.over : w.title">
    <p v-if="isRefused" role="status">{{ w.notMineDone }}</p>
    <LoadState v-else-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <p>{{ w.about(data.address) }}</p>
      <dl class="facts">
        <template v-for="[name, value] in facts" :key="name"
          ><dt>{{ name }}</dt>
          <dd>{{ value }}</dd></template
        >
      </dl>
      <form v-if="!data.isTaken" @submit.prevent="confirm">
        <p class="soft">{{ data.needsPassword ? w.mineWhat : w.cardsOnlyMine }}</p>
        <NewPassword v-if="data.needsPassword" v-model="password" :label="words.accounts.newPassword" />
        <v-btn type="submit" variant="flat" height="44" :disabled="data.needsPassword && password.length < 10" :loading="isBusy">{{
          w.mine
        }}</v-btn>
      </form>
      <div v-if="data.mine" class="way">
        <v-btn height="44" :loading="isBusy" @click="join">{{ w.join(data.mine) }}</v-btn>
        <p class="soft">{{ w.joinWhat }}</p>
      </div>
      <div v-else-if="data.isTaken" class="way">
        <p>{{ w.signInFirst }}</p>
        <v-btn height="44" variant="flat" :to="{ name: 'sign-in', query: { next: `/address#${token}` } }">{{ w.signIn }}</v-btn>
      </div>
      <div class="way">
        <v-btn height="44" variant="text" :loading="isBusy" @click="refuse">{{ w.notMine }}</v-btn>
        <p class="soft">{{ w.notMineWhat }}</p>
      </div>
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    </template>
  </AccountCard>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 16px;
  margin: 0;
}
.facts dt {
  color: var(--ink2);
}
.facts dd {
  margin: 0;
  font-weight: 700;
}
.way {
  border-top: 1px solid var(--rule);
  padding-top: 12px;
  display: grid;
  gap: 6px;
  justify-items: start;
}
</style>
