<script setup lang="ts">
import type { Platform } from '@gate-roster/contract';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';

/** The name of a platform and the courses on which it may report; null: a new one. */
const { platform, choices } = defineProps<{ platform: Platform | null; choices: readonly { id: number; name: string }[] }>();
const emit = defineEmits<{ saved: [credentials: { key: string; password: string } | null]; close: [] }>();
const w = words.platforms;
const name = ref(platform?.name ?? '');
const allCourses = ref(platform?.allCourses ?? false);
const courses = ref(platform?.courses.map(({ id }) => id) ?? []);
const isBusy = ref(false);
const problem = ref<string | null>(null);

async function save(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  const body = { name: name.value.trim(), allCourses: allCourses.value, courses: allCourses.value ? [] : courses.value };
  try {
    if (platform) await call('editPlatform', { params: { platformId: platform.id }, body });
    emit('saved', platform ? null : await call('makePlatform', { body }));
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <form @submit.prevent="save">
    <v-text-field v-model="name" v-focus-first maxlength="120" :label="w.name" />
    <v-checkbox v-model="allCourses" :label="w.allCourses" />
    <v-autocomplete
      v-if="!allCourses"
      v-model="courses"
      :items="choices"
      item-value="id"
      item-title="name"
      multiple
      chips
      closable-chips
      :label="w.courses"
    />
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <div class="foot">
      <v-btn type="submit" variant="flat" :loading="isBusy" :disabled="name.trim() === ''">{{ platform ? w.save : w.make }}</v-btn>
      <v-btn variant="text" @click="$emit('close')">{{ words.common.cancel }}</v-btn>
    </div>
  </form>
</template>

<style scoped src="../accounts/settings-form.css" />
<style scoped>
.foot {
  display: flex;
  gap: 8px;
}
</style>
