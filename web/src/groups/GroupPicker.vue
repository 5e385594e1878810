<script setup lang="ts">
import { computed } from 'vue';
import { useTree } from './tree-query.ts';

/** One group out of all that the reader may see, found by any part of its path. */
const { label, autofocus = true } = defineProps<{ label: string; autofocus?: boolean }>();
const picked = defineModel<number | null>({ required: true });
const tree = useTree();
const items = computed(() =>
  (tree.value?.visible(() => true) ?? []).map(({ row }) => ({
    value: row.id,
    title: row.name,
    path: (tree.value?.path(row.id) ?? [])
      .map(({ name }) => name)
      .slice(0, -1)
      .join(' › '),
  })),
);
const matches = (_title: string, typed: string, item?: { raw: { title: string; path: string } }): boolean =>
  `${item?.raw.path ?? ''} ${item?.raw.title ?? ''}`.toLowerCase().includes(typed.toLowerCase());
</script>

<template>
  <v-autocomplete v-model="picked" :items="items" :label="label" :custom-filter="matches" :autofocus="autofocus" auto-select-first>
    <template #item="{ props: item, item: each }"
      ><v-list-item v-bind="item" :subtitle="(each as { path?: string }).path ?? ''"
    /></template>
  </v-autocomplete>
</template>
