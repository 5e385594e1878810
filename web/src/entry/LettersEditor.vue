<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { fillLetter, letterFields, type LetterKind, letterProblems } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import LetterLookForm from './LetterLookForm.vue';

/** The texts of letters for a branch, beside how they will read. */
const scope = useScope();
const w = words.waysIn.letters;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['letters', scope.groupId],
  queryFn: ({ signal }) => call('letters', { params: { groupId: scope.groupId.value } }, signal),
});
const kind = ref<LetterKind>('invitation');
const shown = computed(() => data.value?.letters.find((letter) => letter.kind === kind.value));
const subject = ref('');
const body = ref('');
watch(
  shown,
  (letter) => {
    subject.value = letter?.subject ?? '';
    body.value = letter?.body ?? '';
  },
  { immediate: true },
);
const text = computed(() => ({ subject: subject.value, body: body.value }));
const problems = computed(() => letterProblems(kind.value, text.value));
const preview = computed(() => fillLetter(text.value, w.sample));
const isChanged = computed(() => subject.value !== shown.value?.subject || body.value !== shown.value.body);
const keep = (value: typeof text.value | null): Promise<boolean> => {
  const change: Change = { kind: 'edit-letter', groupId: scope.groupId.value, letter: kind.value, text: value };
  return applyAtOnce(change, w.saved);
};
const insert = (field: string): void => {
  body.value = `${body.value.trimEnd()} {${field}}\n`;
};
</script>

<template>
  <main class="part">
    <div class="head">
      <div>
        <h1>{{ w.title }}</h1>
        <p class="soft">{{ w.what }}</p>
      </div>
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <LetterLookForm v-if="data?.may.edit" :group-id="scope.groupId.value" :look="data.look" />
    <div v-if="data" class="letters">
      <nav class="kinds" :aria-label="w.title">
        <button
          v-for="letter in data.letters"
          :key="letter.kind"
          type="button"
          :class="{ on: letter.kind === kind }"
          :aria-pressed="letter.kind === kind"
          @click="kind = letter.kind"
        >
          {{ w.kinds[letter.kind] }}
          <small class="soft">{{ letter.from ? w.from(letter.from.name) : w.first }}</small>
        </button>
      </nav>
      <section class="form">
        <v-text-field v-model="subject" :label="w.subject" :readonly="!data.may.edit" />
        <v-textarea v-model="body" rows="14" :label="w.body" :readonly="!data.may.edit" />
        <template v-if="data.may.edit">
          <div class="fields" :aria-label="w.fields">
            <v-chip v-for="field in letterFields" :key="field" size="small" @click="insert(field)">{{ w.field(field) }}</v-chip>
          </div>
          <p v-for="problem in problems" :key="problem.code" class="wrong" role="alert">{{ w.problems[problem.code] }}</p>
          <div class="acts">
            <v-btn variant="flat" :disabled="!isChanged || problems.length > 0" @click="keep(text)">{{ w.save }}</v-btn>
            <v-btn v-if="shown?.from?.id === scope.groupId.value" variant="text" @click="keep(null)">{{ w.takeBack }}</v-btn>
          </div>
        </template>
      </section>
      <section class="preview" :aria-label="w.preview">
        <h3>{{ w.preview }}</h3>
        <p class="subject">{{ preview.subject }}</p>
        <pre>{{ preview.body }}</pre>
      </section>
    </div>
  </main>
</template>

<style scoped>
.letters {
  display: grid;
  grid-template-columns: 210px minmax(280px, 1fr) minmax(260px, 1fr);
  gap: 18px;
  align-items: start;
}
.kinds {
  display: grid;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  overflow: hidden;
}
.kinds button {
  display: grid;
  text-align: left;
  padding: 8px 12px;
  border: 0;
  border-bottom: 1px solid var(--rule);
  background: none;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
.kinds .on {
  background: var(--tide2);
  box-shadow: inset 4px 0 0 var(--tide);
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.acts {
  display: flex;
  gap: 12px;
}
.preview {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 14px 16px;
}
.subject {
  font-weight: 700;
  margin: 8px 0;
}
pre {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  font: inherit;
}
@media (max-width: 1000px) {
  .letters {
    grid-template-columns: 1fr;
  }
}
</style>
