<script setup lang="ts">
import { nextTick, ref } from 'vue';
import * as words from '../words.ts';
import { type Mark, withMark } from './with-mark.ts';

/** A field for words with simple marks, and buttons that put them in. */
const text = defineModel<string>({ required: true });
const { label } = defineProps<{ label: string }>();
const w = words.messages.form;
const field = ref<{ $el: HTMLElement } | null>(null);
const marks: Mark[] = ['bold', 'list', 'link'];
async function put(mark: Mark): Promise<void> {
  const area = field.value?.$el.querySelector('textarea');
  const marked = withMark(
    text.value,
    { from: area?.selectionStart ?? text.value.length, to: area?.selectionEnd ?? text.value.length },
    mark,
  );
  text.value = marked.text;
  await nextTick();
  area?.focus();
  area?.setSelectionRange(marked.from, marked.to);
}
</script>

<template>
  <div class="marked">
    <v-textarea ref="field" v-model="text" rows="4" auto-grow maxlength="10000" :label="label" />
    <div class="marks" role="group" :aria-label="w.marksLabel">
      <button v-for="mark in marks" :key="mark" type="button" class="pick" @click="put(mark)">{{ w.marks[mark] }}</button>
    </div>
  </div>
</template>

<style scoped>
.marked {
  display: grid;
  gap: 6px;
}
.marks {
  display: flex;
  gap: 6px;
}
</style>
