<script setup lang="ts">
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { personName } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { useSession } from './session.ts';

/** Says, all the time, that one is only looking as somebody else. */
const session = useSession();
const router = useRouter();
async function stop(): Promise<void> {
  try {
    session.me = await call('stopSeeing', {});
    await router.push({ name: 'home' });
  } catch (error) {
    tell(failureWords(error));
  }
}
</script>

<template>
  <div v-if="session.me?.seenBy" class="seen" role="status">
    {{ words.enter.seenAs(personName(session.me)) }}
    <v-btn size="small" variant="flat" @click="stop">{{ words.enter.backToMyself }}</v-btn>
  </div>
</template>

<style scoped>
.seen {
  background: var(--brass2);
  border-bottom: 2px solid var(--brass);
  padding: 8px 26px;
  display: flex;
  gap: 16px;
  align-items: center;
  font-weight: 600;
}
</style>
