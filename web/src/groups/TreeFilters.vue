<script setup lang="ts">
import { mdiFilterVariant } from '@mdi/js';
import { computed } from 'vue';
import { words } from '../words.ts';
import { type TreeFilter, useTreeNames } from './tree-query.ts';

/** By what the tree is narrowed, beside a name. */
const filter = defineModel<TreeFilter>({ required: true });
const names = useTreeNames();
const marks = ['overdue', 'noLeader', 'empty', 'archived'] as const;
const set = (values: TreeFilter): void => {
  filter.value = { ...filter.value, ...values };
};
const count = computed(
  () => marks.filter((mark) => filter.value[mark]).length + (filter.value.tag == null ? 0 : 1) + (filter.value.leader == null ? 0 : 1),
);
function clear(): void {
  filter.value = { name: filter.value.name ?? '' };
}
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn
        v-bind="activator"
        class="filter"
        :variant="count > 0 ? 'flat' : 'outlined'"
        min-width="40"
        height="40"
        :aria-label="words.groups.filter"
        :title="words.groups.filter"
      >
        <v-icon :icon="mdiFilterVariant" size="20" /><template v-if="count > 0">{{ count }}</template>
      </v-btn>
    </template>
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
        v-for="mark in marks"
        :key="mark"
        :model-value="filter[mark] ?? false"
        :label="words.groups.filters[mark]"
        @update:model-value="set({ [mark]: $event === true })"
      />
      <v-btn v-if="count > 0" variant="text" @click="clear">{{ words.groups.noFilter }}</v-btn>
    </v-card>
  </v-menu>
</template>

<style scoped>
.menu {
  padding: 14px;
  display: grid;
  gap: 10px;
}
.filter {
  padding: 0 8px;
}
</style>
