<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import * as words from '../words.ts';
import { type WhenForm, whenNames } from './rule-form.ts';
import DayField from '../ui/DayField.vue';

/** What sets a rule off. */
const { groupId, courses, tags } = defineProps<{
  groupId: number;
  courses: readonly { id: number; name: string }[];
  tags: readonly { id: number; name: string }[];
}>();
const form = defineModel<WhenForm>({ required: true });
const w = words.rules;
const kinds = whenNames.map((value) => ({ value, title: w.whens[value] }));
const courseItems = computed(() => courses.map(({ id, name }) => ({ value: id, title: name })));
const tagItems = computed(() => tags.map(({ id, name }) => ({ value: id, title: name })));
const sides = (['before', 'after'] as const).map((value) => ({ value, title: w.sides[value] }));
const asks = (...names: WhenForm['when'][]): boolean => names.includes(form.value.when);
/** Another course has other units. */
function choose(courseId: number | null): void {
  form.value = { ...form.value, courseId, unitId: null, activityId: null };
}
const { data: sheet } = useQuery({
  queryKey: ['access', computed(() => groupId), 'course-units', computed(() => form.value.courseId)],
  queryFn: ({ signal }) => call('course', { params: { groupId, courseId: form.value.courseId ?? 0 }, query: {} }, signal),
  enabled: computed(() => ['begins', 'finishes', 'scores'].includes(form.value.when) && form.value.courseId !== null),
});
/** The whole course, a unit of it or an activity of a unit; a score is of the course or of an activity. */
const parts = computed(() => [
  { value: '', title: w.fields.wholeCourse },
  ...(sheet.value?.units ?? []).flatMap(({ id, name, activities }) => [
    ...(form.value.when === 'scores' ? [] : [{ value: `${id}`, title: name }]),
    ...activities
      .filter(({ scored }) => scored || form.value.when !== 'scores')
      .map((activity) => ({ value: `${id}/${activity.id}`, title: w.activityOf(activity.name, name) })),
  ]),
]);
const part = computed({
  get: () => [form.value.unitId, form.value.activityId].flatMap((id) => id ?? []).join('/'),
  set: (chosen: string) => {
    const [unitId = null, activityId = null] = chosen.split('/').filter(Boolean).map(Number);
    form.value = { ...form.value, unitId, activityId };
  },
});
</script>

<template>
  <div class="sentence">
    <b class="lead">{{ w.when }}</b>
    <v-select v-model="form.when" :items="kinds" :label="w.fields.kind" class="field" />
    <GroupPicker v-if="asks('enters', 'leaves')" v-model="form.groupId" :label="w.fields.group" :autofocus="false" class="field" />
    <v-autocomplete
      v-if="asks('gets', 'due')"
      v-model="form.courses"
      multiple
      chips
      closable-chips
      :items="courseItems"
      :label="form.when === 'due' ? w.fields.anyCourse : w.fields.courses"
      class="field wide"
    />
    <v-autocomplete
      v-if="asks('begins', 'finishes', 'scores')"
      :model-value="form.courseId"
      :items="courseItems"
      :label="w.fields.course"
      class="field"
      @update:model-value="choose"
    />
    <v-select
      v-if="asks('begins', 'finishes', 'scores') && form.courseId !== null"
      v-model="part"
      :items="parts"
      :label="w.fields.unit"
      class="field"
    />
    <v-text-field
      v-if="asks('scores')"
      v-model.number="form.least"
      type="number"
      min="0"
      max="100"
      :label="w.fields.least"
      class="field short"
    />
    <v-autocomplete v-if="asks('tagged')" v-model="form.tagId" :items="tagItems" :label="w.fields.tag" class="field" />
    <v-text-field
      v-if="asks('idle', 'before end', 'due')"
      v-model.number="form.days"
      type="number"
      min="0"
      max="3650"
      :label="w.fields.days"
      class="field short"
    />
    <v-select v-if="asks('due')" v-model="form.side" :items="sides" :label="w.fields.side" class="field short" />
    <DayField v-if="asks('day')" v-model="form.day" :label="w.fields.day" class="field short" />
  </div>
</template>
