<script setup lang="ts">
import type { WorkVersion } from '@gate-roster/contract';
import { bestOf } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { useEventListener } from '@vueuse/core';
import { computed, onBeforeUnmount, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { showDayOf } from '../ui/format.ts';
import * as words from '../words.ts';
import MarkPanel from './MarkPanel.vue';
import WorkFiles from './WorkFiles.vue';

/** One piece of work, and beside it the marking. A waiting piece that is opened is taken, so that nobody else marks it. */
const { versionId } = defineProps<{ versionId: number }>();
const emit = defineEmits<{ done: [] }>();
const w = words.work;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['work', versionId],
  queryFn: ({ signal }) => call('workSheet', { params: { versionId } }, signal),
  // The addresses of its files end after some minutes.
  refetchInterval: 10 * 60_000,
});
/** The claim on the piece: the reader's own, or (named) that of another marker. */
const claim = ref<{ until: string | null; takenBy: string | null }>({ until: null, takenBy: null });
const problem = ref<string | null>(null);
const renewMilliseconds = 4 * 60_000;
async function take(): Promise<void> {
  if (data.value && (data.value.version.state !== 'waiting' || !data.value.mayMark)) return;
  try {
    claim.value = await call('claimWork', { params: { versionId }, body: { take: true } });
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
void take();
const renewing = setInterval(() => void take(), renewMilliseconds);
/** Also when the page is closed: the request outlives it. */
function giveBack(): void {
  if (claim.value.until === null || claim.value.takenBy !== null) return;
  void fetch(addressOf('claimWork', { params: { versionId }, body: { take: false } }), {
    method: 'POST',
    keepalive: true,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ take: false }),
  }).catch(() => undefined);
}
useEventListener(window, 'pagehide', giveBack);
onBeforeUnmount(() => {
  clearInterval(renewing);
  giveBack();
});
const skillName = computed(() => new Map(data.value?.skills.map(({ id, name }) => [id, name])));
const namesOf = (ids: readonly number[]): string[] => ids.flatMap((id) => skillName.value.get(id) ?? []);
const hostOf = (link: string): string => new URL(link).host + new URL(link).pathname.replace(/\/$/u, '');
function storyOf(version: WorkVersion): string {
  const came = w.handedIn(showDayOf(version.handedInAt ?? ''), version.number);
  const { mark } = version;
  if (!mark || !data.value) return `${came}.`;
  const told =
    mark.verdict === 'sent back'
      ? w.cameBack(showDayOf(mark.at), mark.by, mark.comment)
      : w.wasMarked(showDayOf(mark.at), mark.by, mark.score, bestOf(data.value.asks), mark.comment);
  return `${came}, ${told}`;
}
</script>

<template>
  <main class="part middle">
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <p class="soft small">{{ `${data.course.name} › ${data.unit}` }}</p>
      <h1>{{ data.activity.name }}</h1>
      <p v-if="data.asks.asked" class="soft">{{ `${w.asked}: ${data.asks.asked}` }}</p>
      <p class="soft small">{{ w.handedInAgo(data.version.handedInAt ?? '') }}</p>
      <p v-if="data.version.isLate" class="late">
        <b>{{ w.late }}.</b> {{ data.asks.lateCounts ? '' : w.lateDoesNotCount }}
      </p>
      <div v-if="data.version.words" class="words" tabindex="0">{{ data.version.words }}</div>
      <p v-if="data.version.link">
        <a :href="data.version.link" target="_blank" rel="noopener noreferrer" class="chip">{{ w.openLink(hostOf(data.version.link)) }}</a>
      </p>
      <WorkFiles v-if="data.version.files.length > 0" :files="data.version.files" />
      <h2>{{ w.claims }}</h2>
      <ul v-if="data.version.skillIds.length > 0" class="plain-list chips">
        <li v-for="name in namesOf(data.version.skillIds)" :key="name" class="chip claimed">{{ name }}</li>
      </ul>
      <p v-else class="soft">{{ w.noSkills }}</p>
      <template v-if="data.earlier.length + data.corrected.length > 0 || data.version.mark">
        <h2>{{ w.earlier }}</h2>
        <p v-for="version in data.earlier" :key="version.id" class="soft">{{ storyOf(version) }}</p>
        <p v-for="mark in data.corrected" :key="mark.id" class="soft">
          {{
            mark.verdict === 'sent back'
              ? w.cameBack(showDayOf(mark.at), mark.by, mark.comment)
              : w.wasMarked(showDayOf(mark.at), mark.by, mark.score, bestOf(data.asks), mark.comment)
          }}
        </p>
        <p v-if="data.version.mark" class="soft">{{ storyOf(data.version) }}</p>
      </template>
    </template>
  </main>
  <MarkPanel v-if="data" :work="data" :claim="claim" :problem="problem" @done="emit('done')" />
</template>

<style scoped>
.middle > * {
  flex: none;
}
.middle {
  flex: 1;
  min-width: 0;
}
h1 {
  margin: 2px 0 4px;
}
h2 {
  font-size: 15px;
  margin: 16px 0 6px;
}
.words {
  white-space: pre-wrap;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px 16px;
  margin: 12px 0;
  max-height: 46vh;
  overflow: auto;
  line-height: 1.5;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.chip {
  display: inline-block;
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 4px 10px;
  font-size: 14px;
}
.claimed {
  background: var(--tide2);
  border-color: var(--tide);
}
.late {
  color: var(--flare-ink);
}
.small {
  font-size: 13.5px;
}
</style>
