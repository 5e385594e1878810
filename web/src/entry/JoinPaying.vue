<script setup lang="ts">
import { showMoney } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import AccountCard from '../accounts/AccountCard.vue';
import { addressOf, call } from '../api/call.ts';
import { useRequestId } from '../api/request-id.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showMoment } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';

/** For whoever joins by a code that has a price: what is still to be paid, until the payment has arrived. */
const session = useSession();
const w = words.join.paying;
const askMilliseconds = 2000;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['paying-entry'],
  queryFn: ({ signal }) => call('payingEntry', {}, signal),
  // Nobody who is not in yet has a stream that tells.
  refetchInterval: ({ state }) => (state.data?.entry?.state === 'paying' ? askMilliseconds : false),
});
const entry = computed(() => data.value?.entry ?? null);
watch(entry, (now) => {
  if (now?.me) session.me = now.me;
});
const isBusy = ref(false);
const problem = ref<string | null>(null);
async function during(work: () => Promise<void>): Promise<void> {
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
const requestId = useRequestId();
const pay = (): Promise<void> =>
  during(async () => {
    const { page } = await call('payEntry', { body: { requestId: requestId({ after: entry.value?.payment ?? null }) } });
    location.assign(page);
  });
const giveUp = (): Promise<void> =>
  during(async () => {
    const before = entry.value;
    await call('giveUpEntry', {});
    if (before) gaveUp.value = true;
  });
const gaveUp = ref(false);
const state = computed(() => (gaveUp.value ? 'given up' : (entry.value?.state ?? 'paying')));
</script>

<template>
  <AccountCard :title="w.title[state]">
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <div v-else class="body" role="status">
      <p v-if="state === 'given up'">{{ w.gaveUp }}</p>
      <p v-else-if="entry === null">{{ w.none }}</p>
      <template v-else>
        <p>
          <b>{{ w.what(entry.groups) }}</b>
        </p>
        <template v-if="state === 'paying'">
          <p v-if="entry.payment === 'refused'" class="wrong">{{ w.refused }}</p>
          <p v-else>{{ w.waits }}</p>
          <p class="soft">{{ entry.heldUntil ? w.held(showMoment(entry.heldUntil)) : w.lapsed }}</p>
          <p v-if="entry.signInName" class="soft">
            {{ words.join.signInName }} <b class="mono">{{ entry.signInName }}</b>
          </p>
          <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
          <v-btn variant="flat" height="44" :loading="isBusy" @click="pay">{{ w.pay(entry.total, entry.currency) }}</v-btn>
          <button type="button" class="plain-link other" @click="giveUp">{{ w.giveUp }}</button>
        </template>
        <template v-else>
          <p>{{ w.paid }} {{ showMoney(entry.total, entry.currency) }}</p>
          <a
            v-if="entry.receipt !== null && session.me"
            class="plain-link other"
            :href="addressOf('receipt', { params: { number: entry.receipt } })"
            >{{ w.receipt }}</a
          >
          <v-btn variant="flat" height="44" :to="{ name: session.me ? 'home' : 'sign-in' }">{{ words.join.toCourses }}</v-btn>
        </template>
      </template>
    </div>
  </AccountCard>
</template>

<style scoped>
.body {
  padding: 0 24px;
  display: grid;
  gap: 12px;
}
.other {
  justify-self: start;
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
</style>
