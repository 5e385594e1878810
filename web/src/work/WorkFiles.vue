<script setup lang="ts">
import type { WorkFile } from '@gate-roster/contract';
import { failureWords } from '../ui/failure-words.ts';
import { saveBlob } from '../ui/save-csv.ts';
import * as words from '../words.ts';
import PdfPages from './PdfPages.vue';
import { useShownFile } from './use-shown-file.ts';

/** Files that were handed in. Pictures, PDF and text are shown beside; nothing is run, and everything can be saved. */
const { files } = defineProps<{ files: readonly WorkFile[] }>();
const w = words.work;
async function bytesOf(file: WorkFile): Promise<Blob> {
  const answer = await fetch(file.address, { credentials: 'omit' });
  if (!answer.ok) throw new Error(String(answer.status));
  return new Blob([await answer.arrayBuffer()], { type: file.mimeType });
}
const { opened, content, problem, show } = useShownFile(bytesOf);
async function save(file: WorkFile): Promise<void> {
  try {
    saveBlob(file.fileName, await bytesOf(file));
  } catch (error) {
    problem.value = failureWords(error);
  }
}
const canShow = ({ mimeType }: WorkFile): boolean => mimeType.startsWith('image/') || ['text/plain', 'application/pdf'].includes(mimeType);
</script>

<template>
  <div class="files">
    <div class="names">
      <button
        v-for="file in files"
        :key="file.id"
        type="button"
        class="pick"
        :class="{ on: opened?.id === file.id }"
        :aria-expanded="opened?.id === file.id"
        @click="show(file)"
      >
        {{ w.file(file.fileName, w.size(file.size)) }}
      </button>
    </div>
    <div v-if="opened" class="shown">
      <p v-if="problem" class="soft" role="alert">{{ problem }}</p>
      <img v-else-if="content && 'picture' in content" :src="content.picture" :alt="opened.fileName" />
      <pre v-else-if="content && 'text' in content" tabindex="0">{{ content.text }}</pre>
      <PdfPages v-else-if="content" :bytes="content.pdf" :name="opened.fileName" />
      <p v-else-if="!canShow(opened)" class="soft">{{ w.cannotShow }}</p>
      <button type="button" class="plain-link" @click="save(opened)">{{ w.save }}</button>
    </div>
  </div>
</template>

<style scoped>
.names {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.shown {
  margin-top: 10px;
  display: grid;
  gap: 6px;
  justify-items: start;
}
.shown img {
  max-width: 100%;
  max-height: 60vh;
  border: 1px solid var(--rule);
  border-radius: 6px;
}
pre {
  width: 100%;
  max-height: 50vh;
  overflow: auto;
  white-space: pre-wrap;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 10px;
}
</style>
