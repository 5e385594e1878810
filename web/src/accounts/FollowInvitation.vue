<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { useRequestId } from '../api/request-id.ts';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import AccountCard from './AccountCard.vue';
import NewPassword from './NewPassword.vue';

/** An invitation: what it asks one into, and the button that says yes. */
const session = useSession();
const router = useRouter();
const token = location.hash.slice(1);
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['invitation'],
  queryFn: () => call('invitationOf', { body: { token } }),
  retry: false,
  refetchOnWindowFocus: false,
});
const givenName = ref('');
const familyName = ref('');
const password = ref('');
watch(data, (found) => {
  givenName.value = found?.givenName ?? '';
  familyName.value = found?.familyName ?? '';
});
const requestId = useRequestId();
const isBusy = ref(false);
const problem = ref<string | null>(null);
async function accept(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    const sent = { token, givenName: givenName.value, familyName: familyName.value };
    const { isSignedIn } = await call('acceptInvitation', {
      body: { ...sent, password: data.value?.isKnown ? null : password.value, requestId: requestId(sent) },
    });
    session.me = isSignedIn ? await call('me', {}) : undefined;
    tell(words.enter.isIn);
    await router.push({ name: 'home' });
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AccountCard :title="data ? words.enter.invitedTo(data.group) : error ? words.enter.over : words.product">
    <form @submit.prevent="accept">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <p>{{ words.enter.asks(data.organisation, data.leads) }}</p>
        <p v-if="data.isKnown" class="soft">{{ words.enter.known }}</p>
        <template v-else>
          <v-text-field v-model="givenName" autocomplete="given-name" :label="words.people.givenName" />
          <v-text-field v-model="familyName" autocomplete="family-name" :label="words.people.familyName" />
          <NewPassword v-model="password" :label="words.accounts.newPassword" />
        </template>
        <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
        <v-btn type="submit" variant="flat" height="44" :disabled="!data.isKnown && password.length < 10" :loading="isBusy">{{
          words.enter.yes
        }}</v-btn>
      </template>
    </form>
  </AccountCard>
</template>
