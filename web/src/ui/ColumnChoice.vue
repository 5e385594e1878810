<script setup lang="ts">
import * as words from '../words.ts';

/** Which courses are columns; the ids of those that somebody took out. */
defineProps<{ courses: readonly { id: number; name: string }[] }>();
const without = defineModel<number[]>({ required: true });
const shown = (courses: readonly { id: number }[]): number => courses.filter(({ id }) => !without.value.includes(id)).length;
function choose(id: number, isShown: boolean | null): void {
  without.value = isShown ? without.value.filter((each) => each !== id) : [...without.value, id];
}
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" size="small" variant="text">{{ words.common.columns(shown(courses), courses.length) }}</v-btn>
    </template>
    <v-card max-height="420" class="columns">
      <v-checkbox
        v-for="course in courses"
        :key="course.id"
        :label="course.name"
        :model-value="!without.includes(course.id)"
        @update:model-value="choose(course.id, $event)"
      />
    </v-card>
  </v-menu>
</template>

<style scoped>
.columns {
  padding: 8px 16px;
}
</style>
