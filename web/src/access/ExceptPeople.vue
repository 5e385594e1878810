<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import type { Chosen } from '../people/chosen.ts';
import * as words from '../words.ts';
import ExceptionForm from './ExceptionForm.vue';

/** An exception in a course for people who were chosen in a list. */
const {
  groupId,
  chosen,
  courseId = null,
} = defineProps<{
  groupId: number;
  chosen: Chosen;
  /** The course that the list is about; null: it is asked. */
  courseId?: number | null;
}>();
const emit = defineEmits<{ close: []; saved: [] }>();
const w = words.exceptions;
const picked = ref(courseId);
const { data } = useQuery({
  queryKey: ['filter-names', computed(() => groupId)],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId } }, signal),
});
const courses = computed(() => (data.value?.courses ?? []).map(({ id, name }) => ({ value: id, title: name })));
</script>

<template>
  <v-dialog model-value max-width="480" scrollable :aria-label="w.act" @update:model-value="emit('close')">
    <v-card>
      <div class="act">
        <h2>{{ w.title(chosen.count) }}</h2>
        <v-autocomplete v-model="picked" :items="courses" :label="w.course" auto-select-first :autofocus="picked === null" />
        <ExceptionForm
          v-if="picked !== null"
          :key="picked"
          :group-id="groupId"
          :people="chosen.people"
          :course-id="picked"
          @close="emit('close')"
          @saved="emit('saved')"
        />
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.act {
  padding: 20px 24px;
  display: grid;
  gap: 14px;
  overflow: auto;
}
</style>
