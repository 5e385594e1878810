<script setup lang="ts">
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';

/** Stops letters about messages by the key of a letter, without signing in; opening the page changes nothing. */
const w = words.myMessages;
const key = location.hash.slice(1);
history.replaceState(null, '', '/stop-letters');
const state = ref<'asked' | 'stopped'>('asked');
const problem = ref<string | null>(null);
async function stop(): Promise<void> {
  try {
    await call('stopLetters', { body: { key } });
    state.value = 'stopped';
  } catch (error) {
    problem.value = failureWords(error);
  }
}
</script>

<template>
  <main class="mine">
    <div class="column">
      <h1>{{ w.stopTitle }}</h1>
      <p v-if="state === 'stopped'" role="status">{{ w.stopped }}</p>
      <template v-else>
        <p>{{ w.stopWhat }}</p>
        <p v-if="problem" class="late" role="alert">{{ problem }}</p>
        <p>
          <v-btn variant="flat" height="44" @click="stop">{{ w.stop }}</v-btn>
        </p>
      </template>
    </div>
  </main>
</template>
