<script setup lang="ts">
import type { GroupSheet } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { copyText } from '../ui/copy.ts';
import * as words from '../words.ts';

/** What a group has before anybody is in it, and the ways to let people in. */
const { group } = defineProps<{ group: GroupSheet }>();
defineEmits<{ add: [] }>();
const w = words.firstSteps;
const scope = useScope();
const params = computed(() => ({ groupId: scope.groupId.value }));
const { data: codes } = useQuery({
  queryKey: ['codes', scope.groupId, 'first'],
  queryFn: ({ signal }) => call('codes', { params: params.value, query: { subgroups: 'no' } }, signal),
});
const code = computed(() => codes.value?.codes.find(({ state, powers }) => state === 'open' && powers === null) ?? null);
const { data: seats } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: params.value }, signal),
  enabled: computed(() => group.seats !== null),
});
const free = computed(() =>
  (seats.value?.licences ?? []).flatMap(({ name, inForce, groups }) => {
    const here = groups.find(({ id }) => id === group.id);
    return inForce && here?.free !== null && here !== undefined ? [{ name, free: here.free }] : [];
  }),
);
const link = (text: string): string => `${location.origin}/join#${text}`;
</script>

<template>
  <section class="first" :aria-label="w.title">
    <h2>{{ w.title }}</h2>
    <p>{{ w.what }}</p>
    <ul class="plain-list facts soft">
      <li>{{ w.courses(group.courses.open) }}</li>
      <li v-for="licence in free" :key="licence.name">{{ w.seats(licence.free, licence.name) }}</li>
    </ul>
    <div class="ways">
      <template v-if="code">
        <span>{{ w.code }}</span> <b class="mono">{{ code.code }}</b>
        <v-btn size="small" @click="copyText(link(code.code))">{{ w.copyLink }}</v-btn>
      </template>
      <v-btn v-else-if="codes?.may.make" size="small" :to="scope.linkTo('ways-in', 'codes')">{{ w.noCode }}</v-btn>
      <v-btn size="small" @click="$emit('add')">{{ w.add }}</v-btn>
      <v-btn v-if="group.may.bringIn" size="small" :to="scope.linkTo('ways-in', 'file')">{{ w.file }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.first {
  display: grid;
  gap: 8px;
  margin-top: 14px;
  padding: 14px 16px;
  border: 1px solid var(--rule);
  border-left: 4px solid var(--tide);
  border-radius: 8px;
}
h2 {
  font-size: 17px;
}
.facts,
.ways {
  display: flex;
  gap: 6px 16px;
  flex-wrap: wrap;
  align-items: center;
}
.mono {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
}
</style>
