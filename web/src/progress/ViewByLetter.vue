<script setup lang="ts">
import type { KeptView } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Sends a kept view by letter, every week or month, to chosen leaders. */
const { view } = defineProps<{ view: KeptView }>();
const emit = defineEmits<{ close: [] }>();
const w = words.views.letter;
const params = { viewId: view.id };
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['kept-views', view.id, 'letter'],
  queryFn: ({ signal }) => call('viewLetter', { params }, signal),
});
const every = ref<'week' | 'month'>('week');
const readers = ref<number[]>([]);
watch(data, (now) => {
  if (!now?.letter) return;
  every.value = now.letter.every;
  readers.value = now.letter.readers;
});
const isBusy = ref(false);
const problem = ref<string | null>(null);
async function act(doing: () => Promise<unknown>, done: string): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await doing();
    tell(done);
    emit('close');
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
const send = (): Promise<void> =>
  act(() => call('sendViewByLetter', { params, body: { every: every.value, readers: readers.value } }), w.sent);
const end = (): Promise<void> => act(() => call('endViewLetter', { params }), w.ended);
</script>

<template>
  <form @submit.prevent="send">
    <h2>{{ w.title(view.name) }}</h2>
    <p class="soft">{{ w.what }}</p>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <p v-if="data.letter" role="status">{{ w.state(data.letter) }}</p>
      <v-radio-group v-model="every" inline :label="w.every">
        <v-radio :label="w.week" value="week" />
        <v-radio :label="w.month" value="month" />
      </v-radio-group>
      <v-autocomplete
        v-model="readers"
        :items="data.leaders"
        item-value="id"
        :item-title="w.leader"
        :item-props="({ hasAddress }) => ({ disabled: !hasAddress })"
        multiple
        chips
        closable-chips
        :label="w.readers"
      />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <div class="foot">
        <v-btn type="submit" variant="flat" :loading="isBusy" :disabled="readers.length === 0">{{ w.send }}</v-btn>
        <v-btn v-if="data.letter" variant="text" :disabled="isBusy" @click="end">{{ w.end }}</v-btn>
        <v-btn variant="text" @click="$emit('close')">{{ words.common.cancel }}</v-btn>
      </div>
    </template>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
