<script setup lang="ts">
import type { AccessGrid } from '@gate-roster/contract';
import ColumnChoice from '../ui/ColumnChoice.vue';
import * as words from '../words.ts';

/** What of the grid is looked at: one course or one group on a narrow window, courses by a part of their name, only what was decided here. */
const { courses, groups, isNarrow } = defineProps<{
  courses: AccessGrid['courses'];
  groups: readonly { id: number; name: string }[];
  isNarrow: boolean;
}>();
/** On a narrow window: one course’s groups, or one group’s courses. */
const by = defineModel<'course' | 'group'>('by', { required: true });
const course = defineModel<number>('course', { required: true });
const group = defineModel<number>('group', { required: true });
const find = defineModel<string>('find', { required: true });
const without = defineModel<number[]>('without', { required: true });
const onlyDecided = defineModel<boolean>('onlyDecided', { required: true });
</script>

<template>
  <div class="narrowing">
    <v-select
      v-if="isNarrow"
      v-model="by"
      class="course"
      :label="words.access.narrowBy.label"
      :items="(['course', 'group'] as const).map((value) => ({ value, title: words.access.narrowBy[value] }))"
    />
    <v-select
      v-if="isNarrow && by === 'group'"
      v-model="group"
      class="course"
      :label="words.groups.group"
      :items="groups"
      item-value="id"
      item-title="name"
    />
    <v-select
      v-else-if="isNarrow"
      v-model="course"
      class="course"
      :label="words.courses.course"
      :items="courses"
      item-value="id"
      item-title="name"
    />
    <v-text-field v-else v-model="find" class="find" clearable :label="words.access.findCourse" @click:clear="find = ''" />
    <ColumnChoice v-if="!isNarrow" v-model="without" :courses="courses" />
    <v-checkbox v-model="onlyDecided" :label="words.access.onlyDecided" />
  </div>
</template>

<style scoped>
.narrowing {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  flex: none;
  padding-top: 4px;
}
.find {
  flex: 0 1 240px;
}
.course {
  flex: 1 1 240px;
}
</style>
