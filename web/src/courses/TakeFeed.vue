<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { useMutation } from '@tanstack/vue-query';
import { computed, onMounted, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';

/** What the course platform offers beside what is here: the new and the changed to take, and what it offers no more to archive. */
const emit = defineEmits<{ close: [] }>();
const w = words.courseFeed;
const { data, error, isPending, mutate } = useMutation({ mutationFn: () => call('checkFeed', {}) });
onMounted(() => {
  mutate();
});
const take = ref<string[]>([]);
const archive = ref<number[]>([]);
// What is gone is not archived without being asked: some may still be needed here.
watch(data, (checked) => {
  take.value = [...(checked?.fresh ?? []), ...(checked?.changed ?? [])].map(({ number }) => number);
  archive.value = [];
});
const change = computed<Change | null>(() =>
  data.value && take.value.length + archive.value.length > 0
    ? { kind: 'take-feed', feedId: data.value.feedId, take: take.value, archive: archive.value }
    : null,
);
const inHand = useChange(change, w.taken, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <LookPanel
    :in-hand="inHand"
    :change="change"
    :apply-label="w.apply(take.length + archive.length)"
    @apply="apply"
    @discard="emit('close')"
  >
    <h2>{{ w.title }}</h2>
    <p v-if="isPending" role="status">{{ w.checking }}</p>
    <template v-else-if="error">
      <p class="wrong" role="alert">{{ failureWords(error) }}</p>
      <v-btn @click="mutate()">{{ w.again }}</v-btn>
    </template>
    <template v-else-if="data">
      <p role="status">{{ data.platform }}: {{ w.counts(data.counts) }}</p>
      <fieldset v-if="data.fresh.length > 0">
        <legend>{{ w.fresh(data.fresh.length, data.counts.fresh) }}</legend>
        <v-checkbox
          v-for="course in data.fresh"
          :key="course.number"
          v-model="take"
          :value="course.number"
          :label="w.offered(course)"
          density="compact"
        />
      </fieldset>
      <fieldset v-if="data.changed.length > 0">
        <legend>{{ w.changed(data.changed.length, data.counts.changed) }}</legend>
        <template v-for="course in data.changed" :key="course.number">
          <v-checkbox v-model="take" :value="course.number" :label="course.course.name" density="compact" />
          <p class="soft what">{{ w.what(course) }}</p>
        </template>
      </fieldset>
      <fieldset v-if="data.gone.length > 0">
        <legend>{{ w.gone(data.gone.length, data.counts.gone) }}</legend>
        <p class="soft">{{ w.goneHint }}</p>
        <v-checkbox
          v-for="course in data.gone"
          :key="course.id"
          v-model="archive"
          :value="course.id"
          :label="w.archive(course)"
          density="compact"
        />
      </fieldset>
      <details v-if="data.left.length > 0">
        <summary>{{ w.left(data.left.length) }}</summary>
        <ul class="plain-list">
          <li v-for="(each, at) in data.left" :key="at">{{ w.leftOut(each) }}</li>
        </ul>
      </details>
      <p v-if="data.ignored.length > 0" class="soft">{{ words.makeCourses.ignored(data.ignored) }}</p>
    </template>
  </LookPanel>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  max-height: 300px;
  overflow: auto;
}
legend {
  font-weight: 600;
}
.what {
  margin: -4px 0 4px 40px;
  font-size: 14px;
}
</style>
