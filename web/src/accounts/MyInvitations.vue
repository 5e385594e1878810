<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { useRequestId } from '../api/request-id.ts';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** What one is asked into oneself; nothing while there is none. */
const queries = useQueryClient();
const session = useSession();
const { data } = useQuery({ queryKey: ['my-courses', 'invitations'], queryFn: ({ signal }) => call('myInvitations', {}, signal) });
const requestId = useRequestId();
const busy = ref<number | null>(null);
async function accept(invitationId: number): Promise<void> {
  busy.value = invitationId;
  try {
    await call('acceptMine', { params: { invitationId }, body: { requestId: requestId({ invitationId }) } });
    tell(words.enter.isIn);
    await session.refresh();
    await queries.invalidateQueries();
  } catch (error) {
    tell(failureWords(error));
  } finally {
    busy.value = null;
  }
}
</script>

<template>
  <section v-for="each in data?.invitations ?? []" :key="each.id" class="asked">
    <p>
      <b>{{ words.enter.invitedTo(each.group) }}</b> {{ words.enter.asks(session.me?.organisation ?? '', each.leads) }}
    </p>
    <v-btn variant="flat" height="44" :loading="busy === each.id" @click="accept(each.id)">{{ words.enter.yes }}</v-btn>
  </section>
</template>

<style scoped>
.asked {
  border: 1px solid var(--brass);
  background: var(--brass2);
  border-radius: 8px;
  padding: 12px 16px;
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  flex-wrap: wrap;
}
</style>
