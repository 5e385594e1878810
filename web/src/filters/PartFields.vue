<script setup lang="ts">
import type { FilterPart } from '@gate-roster/core';
import { computed, defineAsyncComponent } from 'vue';
import { useTree } from '../groups/tree-query.ts';
import * as words from '../words.ts';
import type { ChipNames } from '../words/filters.ts';
import { choicesOf, waysIn } from './new-parts.ts';
import DayField from '../ui/DayField.vue';

/** The fields of one part of a filter. */
const { names, namesCourse } = defineProps<{
  names: ChipNames;
  /** The filter names a course or a course set. */
  namesCourse: boolean;
}>();
const part = defineModel<FilterPart>({ required: true });
const CountedSelect = defineAsyncComponent(() => import('../ui/CountedSelect.vue'));
const w = words.filters;
const tree = useTree();
const groups = computed(() =>
  (tree.value?.visible(() => true) ?? []).map(({ row }) => ({ id: row.id, name: row.name, people: row.people })),
);

const set = (values: object): void => {
  part.value = { ...part.value, ...values };
};
/** A choice among few, in the order in which they are offered. */
function toggle<T extends string>(key: 'of' | 'by', all: readonly T[], chosen: readonly T[], each: T): void {
  set({ [key]: all.filter((other) => chosen.includes(other) !== (other === each)) });
}
const choices = computed(() => {
  const { value } = part;
  if (!('of' in value)) return [];
  const list: readonly string[] = choicesOf[value.part];
  const titles: Readonly<Record<string, string>> = w.choices[value.part];
  return list.map((each) => ({
    each,
    title: titles[each] ?? each,
    isOn: (value.of as string[]).includes(each),
    isOff: !namesCourse && value.part === 'access' && (each === 'blocked' || each === 'not open'),
  }));
});
const hows = computed((): Record<string, string> | null => {
  switch (part.value.part) {
    case 'tags':
      return w.tagHows;
    case 'groups':
      return w.inHows;
    case 'people':
      return w.peopleHows;
    case 'list':
      return w.listHows;
    case 'skill':
      return w.skillHows;
    case 'active':
      return w.activeHows;
    default:
      return null;
  }
});
const number = (typed: unknown, most: number): number => Math.max(0, Math.min(most, Math.round(Number(typed) || 0)));
</script>

<template>
  <div class="fields">
    <v-radio-group v-if="hows && 'how' in part" :model-value="part.how" hide-details @update:model-value="set({ how: $event })">
      <v-radio v-for="(title, how) in hows" :key="how" :value="how" :label="title" />
    </v-radio-group>
    <v-radio-group v-else-if="'is' in part" :model-value="part.is" hide-details @update:model-value="set({ is: $event })">
      <v-radio :value="true" :label="w.chip({ ...part, is: true }, names)" />
      <v-radio :value="false" :label="w.chip({ ...part, is: false }, names)" />
    </v-radio-group>
    <v-checkbox
      v-for="choice in choices"
      :key="choice.each"
      :label="choice.title"
      :disabled="choice.isOff"
      :model-value="choice.isOn"
      @update:model-value="
        'of' in part && toggle('of', choicesOf[part.part] as readonly string[], part.of as readonly string[], choice.each)
      "
    />
    <p v-if="part.part === 'access' && !namesCourse" class="soft small">{{ w.nameCourse }}</p>
    <CountedSelect
      v-if="part.part === 'tags'"
      multiple
      :model-value="part.ids"
      :items="names.tags"
      :label="w.parts.tags"
      @update:model-value="set({ ids: $event })"
    />
    <v-autocomplete
      v-else-if="part.part === 'skill'"
      multiple
      chips
      :model-value="part.ids"
      :items="names.skills"
      item-value="id"
      item-title="name"
      :label="w.parts.skill"
      @update:model-value="set({ ids: [...$event] })"
    />
    <template v-else-if="part.part === 'groups'">
      <CountedSelect multiple :model-value="part.ids" :items="groups" :label="w.parts.groups" @update:model-value="set({ ids: $event })" />
      <v-checkbox
        :label="w.withSubgroups"
        :model-value="part.withSubgroups"
        @update:model-value="set({ withSubgroups: $event === true })"
      />
    </template>
    <template v-else-if="part.part === 'list'">
      <CountedSelect
        v-if="names.lists.length > 0"
        :model-value="part.id || null"
        :items="names.lists"
        :label="w.parts.list"
        @update:model-value="set({ id: $event ?? 0 })"
      />
      <p v-else class="soft">{{ w.noLists }}</p>
    </template>
    <v-autocomplete
      v-else-if="part.part === 'led by'"
      multiple
      chips
      closable-chips
      :items="names.leaders"
      item-value="id"
      item-title="name"
      :label="w.parts['led by']"
      :model-value="part.ids"
      @update:model-value="set({ ids: $event })"
    />
    <template v-else-if="part.part === 'course'">
      <v-autocomplete
        multiple
        chips
        closable-chips
        :items="names.courses"
        item-value="id"
        item-title="name"
        :label="words.courses.course"
        :model-value="part.courses"
        @update:model-value="set({ courses: $event })"
      />
      <v-autocomplete
        v-if="names.courseSets.length > 0"
        multiple
        chips
        closable-chips
        :items="names.courseSets"
        item-value="id"
        item-title="name"
        :label="w.courseSet"
        :model-value="part.sets"
        @update:model-value="set({ sets: $event })"
      />
    </template>
    <template v-else-if="part.part === 'came'">
      <v-checkbox
        v-for="way in waysIn"
        :key="way"
        :label="words.people.cameBy[way]"
        :model-value="part.by.includes(way)"
        @update:model-value="part.part === 'came' && toggle('by', waysIn as readonly string[], part.by, way)"
      />
    </template>
    <v-text-field
      v-if="(part.part === 'active' && part.how !== 'never') || part.part === 'due'"
      type="number"
      min="0"
      max="3650"
      :label="w.days"
      :model-value="part.days"
      @update:model-value="set({ days: number($event, 3650) })"
    />
    <div v-if="part.part === 'score'" class="two">
      <v-text-field
        type="number"
        min="0"
        max="100"
        :label="w.scoreFrom"
        :model-value="part.from"
        @update:model-value="set({ from: number($event, 100) })"
      />
      <v-text-field
        type="number"
        min="0"
        max="100"
        :label="w.scoreTo"
        :model-value="part.to"
        @update:model-value="set({ to: number($event, 100) })"
      />
    </div>
    <div v-if="part.part === 'done' || part.part === 'worked' || part.part === 'came'" class="two">
      <DayField :label="w.from" :model-value="part.from ?? ''" @update:model-value="set({ from: $event || null })" />
      <DayField :label="w.until" :model-value="part.until ?? ''" @update:model-value="set({ until: $event || null })" />
    </div>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 8px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
