<script setup lang="ts">
import { type Billing, billing as shape } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import { words } from '../words.ts';

/** In whose name invoices are made, in which currency, with which tax. */
const w = words.billing;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['billing'],
  queryFn: ({ signal }) => call('billing', {}, signal),
});
const values = ref<Billing | null>(null);
watch(data, (now) => (values.value = now ? { ...now } : null), { immediate: true });
const percent = computed({
  get: () => (values.value ? w.percent(values.value) : 0),
  set: (typed: number) => {
    if (values.value) values.value.vatRate = Math.round(Number(typed) * 100);
  },
});
const isBusy = ref(false);
const problem = ref<string | null>(null);

async function save(): Promise<void> {
  const body = shape.safeParse(values.value);
  problem.value = body.success ? null : w.wrong;
  if (!body.success) return;
  isBusy.value = true;
  try {
    await call('editBilling', { body: body.data });
    await refetch();
    tell(w.saved);
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <section>
    <h2>{{ w.title }}</h2>
    <LoadState v-if="!values" :error="error" :is-pending="isPending" @again="refetch()" />
    <form v-else @submit.prevent="save">
      <v-text-field v-model="values.sellerName" :label="w.sellerName" />
      <v-textarea v-model="values.sellerAddress" rows="3" auto-grow :label="w.sellerAddress" />
      <v-text-field v-model="values.vatNumber" :label="w.vatNumber" />
      <v-text-field v-model.number="percent" type="number" min="0" max="100" step="0.01" :label="w.vat" />
      <v-text-field v-model="values.currency" maxlength="3" :label="w.currency" :hint="w.currencyHint" persistent-hint />
      <v-textarea v-model="values.foot" rows="2" auto-grow :label="w.foot" />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" :loading="isBusy">{{ w.save }}</v-btn>
    </form>
  </section>
</template>

<style scoped>
section,
form {
  display: grid;
  gap: 12px;
  width: 100%;
  max-width: 420px;
  justify-items: start;
}
form > .v-input {
  width: 100%;
}
</style>
