<script setup lang="ts">
import type { AskedChange, ChosenPeople, Exception } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';
import ExceptionFields from './ExceptionFields.vue';

/** What holds for one person, or some, in one course: with its preview. */
const { groupId, people, courseId } = defineProps<{
  /** In whose name it is said. */
  groupId: number;
  people: ChosenPeople;
  courseId: number;
}>();
const emit = defineEmits<{ close: []; saved: [] }>();
const exception = ref<Exception | null>(null);
const change = computed<AskedChange | null>(() =>
  exception.value === null ? null : { kind: 'except-people', groupId, personIds: people, courseId, exception: exception.value },
);
const inHand = useChange(change, words.exceptions.saved, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('saved');
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="words.common.save" @apply="apply" @discard="emit('close')">
    <ExceptionFields v-model="exception" />
  </LookPanel>
</template>
