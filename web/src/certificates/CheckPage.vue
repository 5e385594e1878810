<script setup lang="ts">
import type { Answer, Routes } from '@gate-roster/contract';
import { showCertificateNumber } from '@gate-roster/core';
import { ref } from 'vue';
import { useRoute } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import GateMark from '../shell/GateMark.vue';
import { failureWords } from '../ui/failure-words.ts';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';

/** Anybody who has the number of a certificate learns whether it is valid. */
const w = words.check;
const route = useRoute();
const typed = ref(String(route.params['number'] ?? ''));
const found = ref<Answer<Routes['checkCertificate']> | null>(null);
const problem = ref<string | null>(null);
const isAsking = ref(false);
async function check(): Promise<void> {
  if (typed.value.trim() === '') return;
  isAsking.value = true;
  found.value = null;
  problem.value = null;
  try {
    found.value = await call('checkCertificate', { params: { number: typed.value.trim().slice(0, 40) } });
    typed.value = showCertificateNumber(found.value.number);
  } catch (error) {
    if (error instanceof Failure && error.code === 'not-found') problem.value = w.noSuch;
    else if (error instanceof Failure && error.code === 'too-many-tries') problem.value = w.tooMany(error.problem?.retryAfter ?? 60);
    else problem.value = failureWords(error);
  }
  isAsking.value = false;
}
void check();
</script>

<template>
  <main class="check">
    <div class="sheet">
      <p class="brand"><GateMark /> {{ words.product }}</p>
      <h1>{{ w.title }}</h1>
      <form @submit.prevent="check">
        <v-text-field v-model="typed" :label="w.number" class="code" autocomplete="off" maxlength="40" />
        <v-btn type="submit" variant="flat" height="44" :loading="isAsking">{{ w.check }}</v-btn>
      </form>
      <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
      <section v-if="found" aria-live="polite">
        <p class="state" :class="{ good: found.state === 'valid', bad: found.state !== 'valid' }">
          {{
            found.state === 'valid'
              ? w.valid(found.organisation)
              : found.state === 'expired'
                ? w.expired(found.validUntil ? showDay(found.validUntil) : '')
                : w[found.state]
          }}
        </p>
        <dl>
          <dt>{{ w.about }}</dt>
          <dd>{{ found.about }}</dd>
          <dt>{{ w.day }}</dt>
          <dd>{{ showDay(found.day) }}</dd>
          <template v-if="found.validUntil">
            <dt>{{ w.validUntil }}</dt>
            <dd>{{ showDay(found.validUntil) }}</dd>
          </template>
          <dt>{{ w.holder }}</dt>
          <dd>{{ found.name ?? w.nameHidden }}</dd>
        </dl>
      </section>
    </div>
  </main>
</template>

<style scoped>
.check {
  display: grid;
  justify-items: center;
  padding: 40px 16px;
}
.sheet {
  width: 100%;
  max-width: 460px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 10px;
  padding: 24px;
  display: grid;
  gap: 14px;
}
.brand {
  display: flex;
  gap: 8px;
  align-items: center;
  font-weight: 700;
}
form {
  display: grid;
  gap: 10px;
}
.state {
  font-weight: 700;
  font-size: 18px;
}
.state.bad {
  color: var(--flare-ink);
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 14px;
  margin: 0;
}
dt {
  color: var(--ink2);
}
dd {
  margin: 0;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 10px 14px;
  border-radius: 8px;
}
</style>
