<script setup lang="ts">
import type { CertificateForm, Change } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { base64Of } from '../ui/base64.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';

/** What a certificate says, what it is for, and when it is given. */
const { form } = defineProps<{ form: CertificateForm | null }>();
const emit = defineEmits<{ close: [] }>();
const w = words.certificates;
const scope = useScope();
const names = useQuery({
  queryKey: ['filter-names', scope.groupId],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId: scope.groupId.value } }, signal),
});
const courses = computed(() => names.data.value?.courses ?? []);
const sets = computed(() => names.data.value?.courseSets ?? []);
const was = form?.values;
const what = ref<'course' | 'set' | 'all'>(was ? (was.courseId !== null ? 'course' : was.courseSetId !== null ? 'set' : 'all') : 'course');
const courseId = ref(was?.courseId ?? null);
const courseSetId = ref(was?.courseSetId ?? null);
const title = ref(was?.title ?? '');
const text = ref(was?.words ?? w.usualWords);
const logoId = ref(was?.logoId ?? null);
const showsScore = ref(was?.showsScore ?? false);
const byItself = ref(was?.byItself ?? false);
const problem = ref<string | null>(null);
const choices = [
  { value: 'course', title: w.forCourse },
  { value: 'set', title: w.forSet },
  { value: 'all', title: w.forEverything },
];
const change = computed<Change | null>(() => {
  const isWhole =
    title.value.trim() !== '' &&
    text.value.trim() !== '' &&
    (what.value === 'all' || (what.value === 'course' ? courseId.value : courseSetId.value) !== null);
  return isWhole
    ? {
        kind: 'set-certificate',
        formId: form?.id ?? null,
        groupId: form?.group.id ?? scope.groupId.value,
        values: {
          courseId: what.value === 'course' ? courseId.value : null,
          courseSetId: what.value === 'set' ? courseSetId.value : null,
          title: title.value.trim(),
          words: text.value.trim(),
          logoId: logoId.value,
          showsScore: showsScore.value,
          byItself: byItself.value,
        },
      }
    : null;
});
const inHand = useChange(change, w.saved, { settleMilliseconds: 400 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
async function chooseLogo(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement;
  const file = field.files?.[0];
  problem.value = null;
  if (!file) return;
  try {
    const kept = await call('upload', { body: { fileName: file.name, base64: await base64Of(file) } });
    if (kept.isPicture) logoId.value = kept.id;
    else problem.value = words.failures['wrong-file'];
  } catch (error) {
    problem.value = failureWords(error);
  }
  field.value = '';
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="w.save" @apply="apply" @discard="emit('close')">
    <h2>{{ form ? w.edit : w.make }}</h2>
    <v-text-field v-model="title" :label="w.formTitle" maxlength="200" />
    <v-select v-model="what" :items="choices" :label="w.whatFor" />
    <v-autocomplete v-if="what === 'course'" v-model="courseId" :items="courses" item-value="id" item-title="name" :label="w.course" />
    <v-autocomplete v-if="what === 'set'" v-model="courseSetId" :items="sets" item-value="id" item-title="name" :label="w.set" />
    <v-textarea v-model="text" :label="w.words" :hint="w.wordsHint" rows="3" auto-grow maxlength="1000" />
    <label class="logo">
      <span>{{ w.logo }}</span>
      <input type="file" accept="image/png,image/jpeg" @change="chooseLogo" />
    </label>
    <p v-if="logoId !== null" class="soft">
      {{ w.logoThere }} <button type="button" class="plain-link" @click="logoId = null">{{ w.noLogo }}</button>
    </p>
    <p v-if="problem" class="soft" role="alert">{{ problem }}</p>
    <v-checkbox v-model="showsScore" :label="w.showsScore" />
    <v-checkbox v-model="byItself" :label="w.givesItself" />
  </LookPanel>
</template>

<style scoped>
.logo {
  display: grid;
  gap: 4px;
  font-size: 14px;
}
</style>
