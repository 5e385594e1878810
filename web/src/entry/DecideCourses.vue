<script setup lang="ts">
import type { Change, CourseRequest } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** Answers learners who ask for courses: open, until a day if wished, or not, with a word. */
const { requests, decision } = defineProps<{ requests: readonly CourseRequest[]; decision: 'open' | 'turn away' }>();
const emit = defineEmits<{ close: [] }>();
const w = words.waysIn.courseRequests;
const word = ref('');
const lastDay = ref('');
const change = computed<Change | null>(() => ({
  kind: 'decide-course-requests',
  requestIds: requests.map(({ id }) => id),
  decision,
  lastDay: decision === 'open' && lastDay.value ? lastDay.value : null,
  word: word.value.trim() || null,
}));
const inHand = useChange(change, words.waysIn.asking.done, { settleMilliseconds: 200 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const title = computed(() => {
  const [only] = requests;
  if (requests.length === 1 && only) return decision === 'open' ? w.openOne(only.course, only.name) : w.refuseOne(only.course, only.name);
  return decision === 'open' ? w.openSome(requests.length) : w.refuseSome(requests.length);
});
</script>

<template>
  <section class="form">
    <h2>{{ title }}</h2>
    <DayField v-if="decision === 'open'" v-model="lastDay" :label="w.lastDay" />
    <v-textarea
      v-model="word"
      rows="2"
      auto-grow
      :label="words.waysIn.asking.word"
      :hint="decision === 'open' ? words.waysIn.asking.wordHint : w.wordHint"
    />
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="decision === 'open' ? w.open : words.waysIn.asking.turnAway"
      @apply="apply"
      @discard="emit('close')"
    />
  </section>
</template>
