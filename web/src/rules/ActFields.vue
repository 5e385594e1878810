<script setup lang="ts">
import { computed } from 'vue';
import GroupPicker from '../groups/GroupPicker.vue';
import * as words from '../words.ts';
import { type ActForm, actNames } from './rule-form.ts';

/** One thing that a rule does. */
const { courses, tags, licences, isFirst } = defineProps<{
  courses: readonly { id: number; name: string }[];
  tags: readonly { id: number; name: string }[];
  licences: readonly { id: number; name: string }[];
  isFirst: boolean;
}>();
const form = defineModel<ActForm>({ required: true });
defineEmits<{ drop: [] }>();
const w = words.rules;
const kinds = actNames.map((value) => ({ value, title: w.acts[value] }));
const courseItems = computed(() => courses.map(({ id, name }) => ({ value: id, title: name })));
const licenceItems = computed(() => licences.map(({ id, name }) => ({ value: id, title: name })));
const tagNames = computed(() => tags.map(({ name }) => name));
const asks = (...names: ActForm['act'][]): boolean => names.includes(form.value.act);
</script>

<template>
  <div class="sentence">
    <b class="lead">{{ isFirst ? w.then : '' }}</b>
    <v-select v-model="form.act" :items="kinds" :label="w.fields.act" class="field" />
    <GroupPicker v-if="asks('put in', 'take out')" v-model="form.groupId" :label="w.fields.group" :autofocus="false" class="field" />
    <template v-if="asks('move')">
      <GroupPicker v-model="form.fromId" :label="w.fields.from" :autofocus="false" class="field" />
      <GroupPicker v-model="form.intoId" :label="w.fields.into" :autofocus="false" class="field" />
    </template>
    <v-combobox v-if="asks('tag')" v-model="form.name" maxlength="60" :items="tagNames" :label="w.fields.tag" class="field" />
    <v-autocomplete
      v-if="asks('open', 'block', 'more time')"
      v-model="form.courseId"
      :items="courseItems"
      :label="w.fields.course"
      class="field"
    />
    <v-text-field
      v-if="asks('more time')"
      v-model.number="form.days"
      type="number"
      min="1"
      max="3650"
      :label="w.fields.days"
      class="field short"
    />
    <v-select v-if="asks('give back a seat')" v-model="form.licenceId" :items="licenceItems" :label="w.fields.licence" class="field" />
    <v-text-field v-if="asks('write')" v-model="form.title" maxlength="200" :label="w.fields.title" class="field" />
    <v-textarea
      v-if="asks('write', 'tell leaders')"
      v-model="form.text"
      rows="2"
      auto-grow
      :maxlength="form.act === 'write' ? 10000 : 2000"
      :label="form.act === 'write' ? w.fields.text : w.fields.told"
      class="field wide"
    />
    <v-btn v-if="!isFirst" size="small" variant="text" :aria-label="w.dropAct(w.acts[form.act])" @click="$emit('drop')">{{ '✕' }}</v-btn>
  </div>
</template>
