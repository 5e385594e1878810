<script setup lang="ts">
import { siteSettings } from '@gate-roster/contract';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import { useSettingsForm } from './settings-form.ts';

/** What an administrator sets for everybody. */
const w = words.settings;
const { values, error, isPending, refetch, isBusy, problem, save } = useSettingsForm('site-settings', {
  read: (signal) => call('siteSettings', {}, signal),
  write: (body) => call('editSite', { body }),
  shape: siteSettings,
  wrong: w.siteWrong,
  saved: w.siteSaved,
});
</script>

<template>
  <section>
    <h2>{{ w.site }}</h2>
    <LoadState v-if="!values" :error="error" :is-pending="isPending" @again="refetch()" />
    <form v-else @submit.prevent="save">
      <v-text-field v-model="values.organisation" :label="w.organisation" />
      <v-text-field v-model.number="values.dueSoonDays" type="number" min="1" max="90" :label="w.dueSoonDays" />
      <v-text-field v-model.number="values.undoDays" type="number" min="1" max="730" :label="w.undoDays" />
      <v-text-field
        v-model.number="values.markReminderDays"
        type="number"
        min="0"
        max="90"
        :label="w.markReminderDays"
        :hint="w.markReminderHint"
      />
      <div class="pair">
        <v-text-field v-model.number="values.quietFrom" type="number" min="0" max="23" :label="w.quietFrom" :hint="w.quietHint" />
        <v-text-field v-model.number="values.quietUntil" type="number" min="0" max="23" :label="w.quietUntil" />
      </div>
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" :loading="isBusy">{{ w.saveSite }}</v-btn>
    </form>
  </section>
</template>

<style scoped src="./settings-form.css" />
