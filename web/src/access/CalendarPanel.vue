<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { copyText } from '../ui/copy.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showAgo } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** The secret address under which a calendar asks for what is coming up. */
defineEmits<{ close: [] }>();
const w = words.coming.calendar;
const address = ref<string | null>(null);
const { data, refetch } = useQuery({ queryKey: ['my-calendar'], queryFn: ({ signal }) => call('myCalendar', {}, signal) });
async function act(what: () => Promise<string | null>): Promise<void> {
  try {
    address.value = await what();
    await refetch();
  } catch (error) {
    tell(failureWords(error));
  }
}
const replace = (): Promise<void> =>
  act(async () => `${location.origin}/api/v1/calendars/${(await call('replaceCalendar', { body: {} })).key}`);
const stop = (): Promise<void> =>
  act(async () => {
    await call('stopCalendar', {});
    return null;
  });
</script>

<template>
  <aside class="panel calendar" :aria-label="w.title">
    <h2>{{ w.title }}</h2>
    <p class="soft">{{ w.what }}</p>
    <p v-if="data">{{ data.madeAt ? w.since(showAgo(data.madeAt), data.readAt && showAgo(data.readAt)) : w.none }}</p>
    <template v-if="address">
      <v-text-field :model-value="address" readonly :label="w.address" :hint="w.once" />
      <v-btn @click="copyText(address)">{{ w.copy }}</v-btn>
    </template>
    <div class="acts">
      <v-btn variant="flat" @click="replace">{{ data?.madeAt ? w.replace : w.make }}</v-btn>
      <v-btn v-if="data?.madeAt" variant="text" class="late" @click="stop">{{ w.stop }}</v-btn>
    </div>
    <v-btn variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
  </aside>
</template>

<style scoped>
.calendar {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.calendar > * {
  flex: none;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
