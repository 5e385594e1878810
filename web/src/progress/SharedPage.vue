<script setup lang="ts">
import type { Answer, Routes } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { call, Failure } from '../api/call.ts';
import GateMark from '../shell/GateMark.vue';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';
import FrozenTable from './FrozenTable.vue';

/** One view, for whoever has its link. The key stands behind the # of the address, which no server is told. */
const w = words.views;
const route = useRoute();
const shown = ref<Answer<Routes['openSharedView']> | null>(null);
const problem = ref<string | null>(null);
async function open(): Promise<void> {
  const key = route.hash.slice(1);
  try {
    if (key.length < 20) problem.value = w.over;
    else shown.value = await call('openSharedView', { body: { key: key.slice(0, 60) } });
  } catch (error) {
    if (error instanceof Failure && error.code === 'link-over') problem.value = w.over;
    else if (error instanceof Failure && error.code === 'too-many-tries') problem.value = w.tooMany;
    else problem.value = failureWords(error);
  }
}
void open();
const narrowed = computed(() => (shown.value?.head[0] === 'Family name' ? w.narrowedNames : w.narrowedGroups));
</script>

<template>
  <main class="shared">
    <p class="brand"><GateMark /> {{ words.product }}</p>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <template v-if="shown">
      <h1>{{ shown.title }}</h1>
      <p class="soft">
        {{ shown.group === shown.organisation ? shown.group : `${shown.organisation}, ${shown.group}` }}.
        {{ w.asOf(shown.day, shown.frozen) }}
        {{ shown.says.length > 0 ? w.filtered(shown.says) : '' }}
        {{ shown.isNarrowed ? narrowed : '' }}
      </p>
      <p v-if="shown.lines.length === 0" class="soft">{{ w.nothing }}</p>
      <FrozenTable v-else :label="shown.title" :head="shown.head" :lines="shown.lines" />
      <p class="soft">{{ w.until(shown.lastDay) }}</p>
    </template>
  </main>
</template>

<style scoped>
.shared {
  flex: 1;
  min-height: 0;
  padding: 18px 26px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.brand {
  display: flex;
  gap: 10px;
  align-items: center;
  font-weight: 700;
}
</style>
