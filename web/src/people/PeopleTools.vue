<script setup lang="ts">
import { mdiMagnify } from '@mdi/js';
import type { GroupSheet, PeopleFilter } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import FilterChips from '../filters/FilterChips.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Above a list of people: who is looked for, and of how many the list speaks. */
const { group, listId, matching, total } = defineProps<{
  group: GroupSheet;
  /** One of the reader's own lists that the filter names. */
  listId: number | null;
  matching: number;
  total: number;
  exportLink: string;
}>();
const search = defineModel<string>('search', { required: true });
const parts = defineModel<FilterPart[]>('parts', { required: true });
const fits = defineModel<PeopleFilter['fits']>('fits', { required: true });
const counted = defineModel<PeopleFilter['counted']>('counted', { required: true });
const TagsDialog = defineAsyncComponent(() => import('./TagsDialog.vue'));
const queries = useQueryClient();
const isManagingTags = ref(false);
async function dropList(): Promise<void> {
  if (listId === null) return;
  await call('dropList', { params: { listId } });
  parts.value = parts.value.filter((part) => part.part !== 'list' || part.id !== listId);
  tell(words.people.listDropped);
  await Promise.all(['lists', 'filter-names'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
}
const areOthers = computed(() => parts.value.length > 0 && fits.value === 'no');
const sentence = computed(() =>
  areOthers.value
    ? words.filters.others(matching, total)
    : words.filters.sentence(matching, total, counted.value === 'yes' ? 'learner' : 'person'),
);
</script>

<template>
  <div class="tools">
    <v-text-field v-model="search" class="search" :label="words.people.search" :prepend-inner-icon="mdiMagnify" clearable />
    <FilterChips v-model="parts" :group-id="group.id" />
    <v-btn v-if="listId !== null" variant="text" @click="dropList">{{ words.people.dropList }}</v-btn>
    <v-btn v-if="group.may.managePeople" variant="text" @click="isManagingTags = true">{{ words.filters.manageTags }}</v-btn>
    <v-chip v-if="counted !== 'yes'" closable :close-label="words.people.backToCounted" color="primary" @click:close="counted = 'yes'">{{
      counted === 'no' ? words.people.notCountedChip : words.people.nowhere
    }}</v-chip>
    <span class="shown soft"
      >{{ sentence }}
      <button v-if="areOthers" type="button" class="plain-link" @click="fits = 'yes'">{{ words.filters.backToFitting }}</button>
      <button v-else-if="matching < total" type="button" class="plain-link" @click="fits = 'no'">{{ words.filters.who }}</button>
    </span>
    <a v-if="group.may.export" class="export" :href="exportLink" download>{{ words.common.export }}</a>
    <TagsDialog v-if="isManagingTags" :group-id="group.id" @close="isManagingTags = false" />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  gap: 12px;
  padding: 10px 14px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  min-height: 60px;
  flex-wrap: wrap;
}
.search {
  max-width: 280px;
}
.shown {
  margin-left: auto;
  font-size: 14px;
}
.export {
  color: var(--tide);
  font-weight: 600;
}
</style>
