<script setup lang="ts">
import { billing } from '@gate-roster/contract';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import { useSettingsForm } from './settings-form.ts';

/** In whose name invoices are made, in which currency, with which tax. */
const w = words.billing;
const { values, error, isPending, refetch, isBusy, problem, save } = useSettingsForm('billing', {
  read: (signal) => call('billing', {}, signal),
  write: (body) => call('editBilling', { body }),
  shape: billing,
  wrong: w.wrong,
  saved: w.saved,
});
const percent = computed({
  get: () => (values.value ? w.percent(values.value) : 0),
  set: (typed: number) => {
    if (values.value) values.value.vatRate = Math.round(Number(typed) * 100);
  },
});
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
      <v-text-field v-model="values.currency" maxlength="3" :label="w.currency" :hint="w.currencyHint" />
      <v-textarea v-model="values.foot" rows="2" auto-grow :label="w.foot" />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" :loading="isBusy">{{ w.save }}</v-btn>
    </form>
  </section>
</template>

<style scoped src="./settings-form.css" />
