<script setup lang="ts">
import { routes, type SiteSettings } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import { words } from '../words.ts';

/** What an administrator sets for everybody. */
const w = words.settings;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['site-settings'],
  queryFn: ({ signal }) => call('siteSettings', {}, signal),
});
const values = ref<SiteSettings | null>(null);
watch(data, (now) => (values.value = now ? { ...now } : null), { immediate: true });
const isBusy = ref(false);
const problem = ref<string | null>(null);

async function save(): Promise<void> {
  const body = routes.editSite.body.safeParse(values.value);
  problem.value = body.success ? null : w.siteWrong;
  if (!body.success) return;
  isBusy.value = true;
  try {
    await call('editSite', { body: body.data });
    await refetch();
    tell(w.siteSaved);
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
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
        persistent-hint
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <v-btn type="submit" :loading="isBusy">{{ w.saveSite }}</v-btn>
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
