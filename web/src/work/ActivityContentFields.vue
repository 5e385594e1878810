<script setup lang="ts">
import type { ActivityContent } from '@gate-roster/contract';
import { ref } from 'vue';
import { uploadChosen } from '../api/upload.ts';
import * as words from '../words.ts';

/** What there is to read or open for an activity of our own: words, a link, a file. */
const { name } = defineProps<{ name: string }>();
const content = defineModel<ActivityContent | null>({ required: true });
const w = words.activityContent;
const none: ActivityContent = { words: '', link: null, uploadId: null };
const problem = ref<string | null>(null);
function say(values: Partial<ActivityContent>): void {
  const then = { ...none, ...content.value, ...values };
  content.value = then.words.trim() === '' && then.link === null && then.uploadId === null ? null : then;
}
async function addFile(event: Event): Promise<void> {
  const kept = await uploadChosen(event, problem);
  if (kept) say({ uploadId: kept.id });
}
</script>

<template>
  <div class="content">
    <v-textarea
      :model-value="content?.words ?? ''"
      :label="w.words(name)"
      rows="2"
      auto-grow
      maxlength="4000"
      @update:model-value="say({ words: $event })"
    />
    <v-text-field
      :model-value="content?.link ?? ''"
      type="url"
      :label="w.link(name)"
      :hint="words.myWork.linkHint"
      maxlength="2000"
      @update:model-value="say({ link: $event.trim() === '' ? null : $event.trim() })"
    />
    <p v-if="content?.uploadId">
      {{ w.hasFile }}
      <button type="button" class="plain-link" :aria-label="w.removeFileOf(name)" @click="say({ uploadId: null })">
        {{ w.removeFile }}
      </button>
    </p>
    <label v-else class="plain-link"
      >{{ w.addFile }}<input type="file" class="sr-only" :aria-label="w.addFileOf(name)" @change="addFile"
    /></label>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.content {
  display: grid;
  gap: 8px;
}
.plain-link {
  justify-self: start;
  min-height: 24px;
}
</style>
