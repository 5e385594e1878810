<script setup lang="ts">
import * as words from '../words.ts';
import { type TreeFilter, treeMarks, useTreeNames } from './tree-query.ts';

/** What the tree can be narrowed by, beside a name. */
const filter = defineModel<TreeFilter>({ required: true });
const names = useTreeNames();
const set = (values: TreeFilter): void => {
  filter.value = { ...filter.value, ...values };
};
</script>

<template>
  <v-card width="280" class="menu">
    <v-select
      :model-value="filter.tag ?? null"
      :items="names.tags"
      item-value="id"
      item-title="name"
      clearable
      :label="words.groups.filterTag"
      @update:model-value="set({ tag: $event })"
    />
    <v-autocomplete
      :model-value="filter.leader ?? null"
      :items="names.leaders"
      item-value="id"
      item-title="name"
      clearable
      :label="words.groups.filterLeader"
      @update:model-value="set({ leader: $event })"
    />
    <v-checkbox
      v-for="mark in treeMarks"
      :key="mark"
      :model-value="filter[mark] ?? false"
      :label="words.groups.filters[mark]"
      @update:model-value="set({ [mark]: $event === true })"
    />
    <slot />
  </v-card>
</template>

<style scoped>
.menu {
  padding: 14px;
  display: grid;
  gap: 10px;
}
</style>
