<script setup lang="ts">
import { showCertificateNumber } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { queryClient } from '../api/queries.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';

/** The own certificates: to save, and to let others see whose they are. */
const w = words.myCertificates;
const { data } = useQuery({
  queryKey: ['my-certificates'],
  queryFn: ({ signal }) => call('myCertificates', {}, signal),
});
const problem = ref<string | null>(null);
async function showName(number: string, shown: boolean): Promise<void> {
  problem.value = null;
  try {
    await call('showMyName', { params: { number }, body: { shown } });
    await queryClient.invalidateQueries({ queryKey: ['my-certificates'] });
  } catch (error) {
    problem.value = failureWords(error);
  }
}
const fileOf = (number: string): string => addressOf('myCertificateFile', { params: { number }, query: { paper: 'A4' } });
</script>

<template>
  <section v-if="data && data.certificates.length > 0" class="mine-too">
    <h2>{{ w.title }}</h2>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <article v-for="certificate in data.certificates" :key="certificate.number" class="card">
      <h3>{{ certificate.title }}</h3>
      <p>{{ w.line(certificate.about, showDay(certificate.day), certificate.validUntil ? showDay(certificate.validUntil) : null) }}</p>
      <p class="soft">
        <span class="code">{{ showCertificateNumber(certificate.number) }}</span>
        {{ certificate.state === 'valid' ? '' : words.certificates.state(certificate.state) }}
      </p>
      <template v-if="certificate.state === 'valid' || certificate.state === 'expired'">
        <v-checkbox
          :model-value="certificate.nameShown"
          :label="w.nameShown"
          @update:model-value="showName(certificate.number, $event === true)"
        />
        <a :href="fileOf(certificate.number)" download class="save">{{ w.save }}</a>
      </template>
    </article>
  </section>
</template>

<style scoped>
.mine-too {
  display: grid;
  gap: 10px;
}
h2 {
  font-size: 20px;
}
h3 {
  font-size: 17px;
}
.save {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
