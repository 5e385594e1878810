<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue';
import * as words from '../words.ts';

/** The first pages of a PDF, drawn; what it may carry besides is never run. */
const { bytes, name } = defineProps<{ bytes: Uint8Array; name: string }>();
const place = useTemplateRef<HTMLElement>('place');
const failed = ref(false);
const mostPages = 12;
const width = 620;
onMounted(async () => {
  try {
    const [{ getDocument, GlobalWorkerOptions }, { default: workerUrl }] = await Promise.all([
      import('pdfjs-dist'),
      import('pdfjs-dist/build/pdf.worker.min.mjs?url'),
    ]);
    GlobalWorkerOptions.workerSrc = workerUrl;
    const file = await getDocument({ data: bytes.slice(), isEvalSupported: false, enableXfa: false }).promise;
    for (let page = 1; page <= Math.min(mostPages, file.numPages); page++) {
      const shown = await file.getPage(page);
      const scale = width / shown.getViewport({ scale: 1 }).width;
      const viewport = shown.getViewport({ scale: scale * devicePixelRatio });
      const canvas = document.createElement('canvas');
      canvas.width = viewport.width;
      canvas.height = viewport.height;
      canvas.style.width = `${width}px`;
      canvas.style.maxWidth = '100%';
      place.value?.append(canvas);
      await shown.render({ canvas, viewport }).promise;
    }
  } catch {
    failed.value = true;
  }
});
</script>

<template>
  <div ref="place" class="pages" tabindex="0" role="img" :aria-label="name"></div>
  <p v-if="failed" class="soft">{{ words.work.cannotShow }}</p>
</template>

<style scoped>
.pages {
  max-height: 60vh;
  overflow: auto;
  display: grid;
  gap: 8px;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 8px;
}
.pages:empty {
  display: none;
}
</style>
