<script setup lang="ts">
import type { FilterPart } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import { useTree } from '../groups/tree-query.ts';
import * as words from '../words.ts';
import { chipNamesOf } from './chip-names.ts';
import { filterCode } from './use-filter.ts';
import { inAccord, isAboutCourses, isWhole, newParts, offeredParts, type PartName } from './new-parts.ts';

/** The filter as a row of chips. Each opens where it stands; what is added counts as soon as it is whole. */
const { groupId } = defineProps<{ groupId: number }>();
const filter = defineModel<FilterPart[]>({ required: true });
// The fields come when one is opened.
const PartFields = defineAsyncComponent(() => import('./PartFields.vue'));
const w = words.filters;
const route = useRoute();
const tree = useTree();
const { data } = useQuery({
  queryKey: ['filter-names', computed(() => groupId)],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId } }, signal),
});
const names = computed(() => chipNamesOf(data.value, tree.value?.nodes() ?? []));
const namesCourse = computed(() => filter.value.some(({ part }) => part === 'course'));
/** What is typed in the search field of a list has no chip. */
const chips = computed(() =>
  filter.value.flatMap((part, index) => (part.part === 'words' ? [] : [{ part, index, text: w.chip(part, names.value) }])),
);

function put(index: number, part: FilterPart): void {
  if (isWhole(part)) filter.value = inAccord(filter.value.map((each, at) => (at === index ? part : each)));
}
const drop = (index: number): void => {
  filter.value = inAccord(filter.value.filter((_, at) => at !== index));
};

/** The address names a filter that is none. */
const isBroken = computed(() => {
  const text = route.query['filter'];
  return typeof text === 'string' && filterCode.read(text) === undefined;
});
const isAdding = ref(false);
const find = ref('');
/** What is being added, and where it stands once it is whole. */
const added = ref<{ part: FilterPart; index: number | null } | null>(null);
const offered = computed(() => {
  const typed = find.value.trim().toLowerCase();
  const fitting = offeredParts().filter((name) => w.parts[name].toLowerCase().includes(typed));
  return [
    { title: w.aboutCourses, list: fitting.filter(isAboutCourses) },
    { title: w.aboutPeople, list: fitting.filter((name) => !isAboutCourses(name)) },
  ].filter(({ list }) => list.length > 0);
});
function opened(isOpen: boolean): void {
  isAdding.value = isOpen;
  find.value = '';
  added.value = null;
}
function begin(name: PartName): void {
  change(newParts[name]);
}
function change(part: FilterPart): void {
  let index = added.value?.index ?? null;
  if (isWhole(part)) {
    if (index === null) index = filter.value.push(part) - 1;
    filter.value = filter.value.map((each, at) => (at === index ? part : each));
  }
  added.value = { part, index };
}
</script>

<template>
  <div class="filters" role="group" :aria-label="w.label">
    <span v-for="chip in chips" :key="chip.index" class="chip">
      <v-menu :close-on-content-click="false">
        <template #activator="{ props: activator }">
          <button v-bind="activator" type="button" class="say" :aria-label="chip.text">{{ chip.text }}</button>
        </template>
        <v-card width="320" class="menu">
          <b>{{ w.parts[chip.part.part] }}</b>
          <PartFields :model-value="chip.part" :names="names" :names-course="namesCourse" @update:model-value="put(chip.index, $event)" />
        </v-card>
      </v-menu>
      <button type="button" class="drop" :aria-label="w.remove(chip.text)" @click="drop(chip.index)">{{ '✕' }}</button>
    </span>
    <v-menu :model-value="isAdding" :close-on-content-click="false" @update:model-value="opened($event)">
      <template #activator="{ props: activator }">
        <v-btn v-bind="activator" size="small" height="32" :aria-label="w.add">{{ w.add }}</v-btn>
      </template>
      <v-card width="320" max-height="460" class="menu">
        <template v-if="added">
          <b>{{ w.parts[added.part.part] }}</b>
          <PartFields :model-value="added.part" :names="names" :names-course="namesCourse" @update:model-value="change" />
          <v-btn size="small" variant="text" @click="opened(false)">{{ words.common.close }}</v-btn>
        </template>
        <template v-else>
          <v-text-field
            v-model="find"
            autofocus
            :label="w.findPart"
            @keydown.enter.prevent="offered[0]?.list[0] && begin(offered[0].list[0])"
          />
          <div v-for="group in offered" :key="group.title">
            <p class="soft small">{{ group.title }}</p>
            <ul class="plain-list">
              <li v-for="name in group.list" :key="name">
                <button type="button" class="offer" @click="begin(name)">{{ w.parts[name] }}</button>
              </li>
            </ul>
          </div>
        </template>
      </v-card>
    </v-menu>
    <button v-if="chips.length > 1" type="button" class="plain-link" @click="filter = filter.filter(({ part }) => part === 'words')">
      {{ w.clear }}
    </button>
    <span v-if="isBroken" class="late" role="alert">
      {{ w.broken }} <button type="button" class="plain-link" @click="filter = []">{{ w.dropBroken }}</button>
    </span>
    <slot />
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
}
.chip {
  display: inline-flex;
  align-items: stretch;
  border: 1px solid var(--tide);
  border-radius: 6px;
  background: var(--tide2);
  font-size: 14px;
  min-height: 32px;
  max-width: 100%;
}
.say,
.drop {
  background: none;
  border: 0;
  font: inherit;
  color: var(--ink);
  cursor: pointer;
}
.say {
  padding: 0 4px 0 10px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.say:hover {
  text-decoration: underline;
}
.drop {
  padding: 0 10px 0 6px;
  min-width: 28px;
}
.menu {
  display: grid;
  gap: 10px;
  padding: 14px;
  overflow: auto;
}
.offer {
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  font: inherit;
  padding: 6px 4px;
  min-height: 32px;
  cursor: pointer;
}
.offer:hover {
  background: var(--tide2);
}
.small {
  font-size: 13px;
}
</style>
