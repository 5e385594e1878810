<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { personName } from '../ui/format.ts';
import * as words from '../words.ts';

/** One person out of those the reader may see, found by any part of a name, address or number. */
const {
  label,
  hint = '',
  known = null,
  autofocus = false,
  leaders = false,
} = defineProps<{ label: string; hint?: string; known?: { id: number; name: string } | null; autofocus?: boolean; leaders?: boolean }>();
const picked = defineModel<number | null>({ required: true });
const search = ref('');
const asked = refDebounced(
  computed(() => search.value.trim()),
  200,
);
const { data } = useQuery({
  queryKey: ['find', asked, leaders],
  queryFn: ({ signal }) => call('find', { query: { q: asked.value, ...(leaders ? { leaders: 'yes' as const } : {}) } }, signal),
  enabled: () => asked.value !== '',
  placeholderData: keepPreviousData,
});
const items = computed(() => {
  const found = (data.value?.people ?? []).map((person) => ({
    value: person.id,
    title: personName(person),
    props: { subtitle: person.group?.name ?? words.people.inNoGroup },
  }));
  const own = known && !found.some(({ value }) => value === known.id) ? [{ value: known.id, title: known.name, props: {} }] : [];
  return [...own, ...found];
});
</script>

<template>
  <v-autocomplete
    v-model="picked"
    v-model:search="search"
    :items="items"
    :label="label"
    :hint="hint"
    :autofocus="autofocus"
    no-filter
    clearable
    auto-select-first
    :no-data-text="asked === '' ? words.people.findKnown : words.find.nothing(asked)"
  />
</template>
