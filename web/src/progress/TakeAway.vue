<script setup lang="ts">
import type { ShownView, TakenView } from '@gate-roster/contract';
import { computed, ref, watch } from 'vue';
import { useFilterWords } from '../filters/filter-words.ts';
import { useSession } from '../shell/session.ts';
import { useScope } from '../shell/scope.ts';
import { call, Failure } from '../api/call.ts';
import JobProgress from '../changes/JobProgress.vue';
import { useJob } from '../changes/use-job.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import { saveFile } from '../ui/save-file.ts';
import * as words from '../words.ts';
import { filesToTake, type TakenFile } from './files-to-take.ts';
import type { ReportQuery } from './shown-view.ts';

/** What is shown, as a file: with this filter, which is written in it. */
const { view, query, shown, groups } = defineProps<{
  view: TakenView;
  query: ReportQuery;
  /** Those that stand side by side. */
  groups: readonly number[];
  shown: ShownView;
}>();
const w = words.progress;
const scope = useScope();
const session = useSession();
const says = useFilterWords(() => shown.filter);
const files = computed(() => filesToTake(view, query, shown, groups, says.value));
const isBusy = ref(false);
const job = useJob(
  'take away',
  async ({ id, fileName }) => {
    await saveFile('madeFile', { params: { jobId: id } }, fileName ?? '').catch((error: unknown) => {
      tell(failureWords(error));
    });
  },
  { failed: w.fileFailed, stopped: w.fileStopped },
);
watch(job.said, (said) => {
  if (said !== null) tell(said);
});
/** A past day may have to be made first; a file that cannot be made says so here, and one of many rows is made as a job. */
async function take({ route, asked, ending }: TakenFile): Promise<void> {
  isBusy.value = true;
  const params = { groupId: scope.groupId.value };
  const name = `${view}-${params.groupId}-${query.day ?? session.me?.today ?? ''}.${ending}`;
  try {
    await saveFile(route, { params, query: asked }, name);
  } catch (error) {
    if (error instanceof Failure && error.code === 'too-many-rows') {
      const texts = Object.fromEntries(Object.entries(asked).map(([key, value]) => [key, String(value)]));
      await job.start((requestId) => call('startFile', { params, body: { file: route, query: texts, requestId } }));
    } else tell(failureWords(error));
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <v-menu>
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :loading="isBusy" :disabled="job.sheet.value !== null">{{ w.takeAway }}</v-btn>
    </template>
    <v-list>
      <v-list-item v-for="file in files" :key="file.title" :title="file.title" @click="take(file)" />
    </v-list>
  </v-menu>
  <div v-if="job.sheet.value" class="making">
    <h2>{{ w.makingFile }}</h2>
    <JobProgress :job="job" :title="w.makingFile" />
  </div>
</template>

<style scoped>
.making {
  position: fixed;
  right: 20px;
  bottom: 20px;
  z-index: 10;
  width: min(420px, calc(100vw - 40px));
  padding: 14px 18px 8px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  box-shadow: 0 6px 24px #00000026;
}
</style>
