<script setup lang="ts">
import type { ReminderRow } from '@gate-roster/contract';
import { courseOccasions, reminderFields, type ReminderOccasion } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, reactive } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';
import { reminderChange, reminderForm } from './reminder-form.ts';

/** What a group says about one occasion: when, of which course, in which words, and whom that reaches next. */
const { groupId, occasion, row, own } = defineProps<{
  groupId: number;
  occasion: ReminderOccasion;
  row: ReminderRow | null;
  /** What the group itself says already. */
  own: readonly ReminderRow[];
}>();
const emit = defineEmits<{ close: [] }>();
const w = words.reminders;
const form = reactive(reminderForm(occasion, row));
const isOfCourse = computed(() => courseOccasions.includes(occasion));
const { data: courses } = useQuery({
  queryKey: ['access', groupId, 'reminder-courses'],
  queryFn: ({ signal }) => call('courses', { params: { groupId }, query: { limit: 200 } }, signal),
  enabled: isOfCourse,
});
const courseItems = computed(() => [
  { value: null, title: w.form.allCourses },
  ...(courses.value?.courses ?? []).map(({ id, name }) => ({ value: id, title: name })),
]);
const isOwn = computed(() => own.some((each) => each.occasion === occasion && (each.course?.id ?? null) === form.courseId));
const states = computed(() =>
  (isOwn.value ? (['remind', 'nobody', 'above'] as const) : (['remind', 'nobody'] as const)).map((value) => ({
    value,
    title: w.form.states[value],
  })),
);
const change = computed(() => reminderChange(groupId, occasion, form));
const inHand = useChange(change, w.form.saved, { settleMilliseconds: 300 });
const insert = (field: string): void => {
  form.body = `${form.body.trimEnd()} {${field}}`;
};
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <div class="write">
    <section class="form">
      <h1>{{ w.occasions[occasion] }}</h1>
      <v-autocomplete v-if="isOfCourse" v-model="form.courseId" :items="courseItems" :label="w.form.course" />
      <v-select v-model="form.state" :items="states" :label="w.form.state" />
      <template v-if="form.state === 'remind'">
        <v-text-field
          v-if="occasion !== 'on due'"
          v-model.number="form.days"
          type="number"
          min="0"
          max="365"
          :label="w.form.days"
          :hint="w.days(occasion, form.days || 0)"
        />
        <v-checkbox v-model="form.alsoPassed" :label="w.form.alsoPassed" />
        <v-checkbox v-model="form.hasOwnText" :label="w.form.ownText" />
        <template v-if="form.hasOwnText">
          <v-text-field v-model="form.subject" maxlength="300" :label="w.form.subject" />
          <v-textarea v-model="form.body" rows="4" auto-grow maxlength="4000" :label="w.form.body" />
          <div class="fields">
            <v-chip v-for="field in reminderFields" :key="field" size="small" @click="insert(field)">{{ w.form.field(field) }}</v-chip>
          </div>
        </template>
        <blockquote v-else class="soft">
          <b>{{ form.subject }}</b><br />{{ form.body }}
        </blockquote>
      </template>
    </section>
    <p class="soft">{{ w.form.leaves }}</p>
    <LookPanel :in-hand="inHand" :change="change" @apply="apply" @discard="emit('close')" />
  </div>
</template>

<style scoped src="./write.css" />
<style scoped>
.fields {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
blockquote {
  margin: 0;
  border-left: 3px solid var(--rule);
  padding: 2px 12px;
}
</style>
