<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import ItemsOfSet from './ItemsOfSet.vue';

/** A new course set: its name, and what it holds. */
const emit = defineEmits<{ close: [] }>();
const w = words.catalogue;
const name = ref('');
const holds = ref<{ courses: number[]; sets: number[] }>({ courses: [], sets: [] });
const change = computed<Change | null>(() =>
  name.value.trim() === '' ? null : { kind: 'make-course-set', name: name.value, holds: holds.value },
);
const inHand = useChange(change, w.setMade, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="w.makeSet" @apply="apply" @discard="emit('close')">
    <h2>{{ w.makeSet }}</h2>
    <v-text-field v-model="name" v-focus-first :label="w.name" maxlength="200" />
    <ItemsOfSet v-model="holds" :without="null" />
  </LookPanel>
</template>
