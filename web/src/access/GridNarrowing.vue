<script setup lang="ts">
import type { AccessGrid } from '@gate-roster/contract';
import { words } from '../words.ts';

/** What of the grid is looked at: one course on a narrow window, courses by a part of their name, only what was decided here. */
const { courses, isNarrow } = defineProps<{ courses: AccessGrid['courses']; isNarrow: boolean }>();
const course = defineModel<number>('course', { required: true });
const find = defineModel<string>('find', { required: true });
const onlyDecided = defineModel<boolean>('onlyDecided', { required: true });
</script>

<template>
  <div class="narrowing">
    <v-select
      v-if="isNarrow"
      v-model="course"
      class="course"
      :label="words.courses.course"
      :items="courses"
      item-value="id"
      item-title="name"
    />
    <v-text-field v-else v-model="find" class="find" clearable :label="words.access.findCourse" @click:clear="find = ''" />
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
