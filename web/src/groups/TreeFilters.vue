<script setup lang="ts">
import { mdiFilterVariant } from '@mdi/js';
import { computed, defineAsyncComponent } from 'vue';
import * as words from '../words.ts';
import { type TreeFilter, treeMarks } from './tree-query.ts';

// The fields come when the menu is opened.
const TreeFilterFields = defineAsyncComponent(() => import('./TreeFilterFields.vue'));

/** By what the tree is narrowed, beside a name. */
const filter = defineModel<TreeFilter>({ required: true });
const count = computed(
  () => treeMarks.filter((mark) => filter.value[mark]).length + (filter.value.tag == null ? 0 : 1) + (filter.value.leader == null ? 0 : 1),
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
    <TreeFilterFields v-model="filter">
      <v-btn v-if="count > 0" variant="text" @click="clear">{{ words.groups.noFilter }}</v-btn>
    </TreeFilterFields>
  </v-menu>
</template>

<style scoped>
.filter {
  padding: 0 8px;
}
</style>
