<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import LoadState from '../ui/LoadState.vue';
import { showAgo } from '../ui/format.ts';
import OfferedList from '../ui/OfferedList.vue';
import * as words from '../words.ts';
import HelpAnswer from './HelpAnswer.vue';

/** One place for "I can't get in": who it is, the first thing that stops them, and what mends it. */
const route = useRoute();
const router = useRouter();
const w = words.help;
const typed = ref(typeof route.query['q'] === 'string' ? route.query['q'] : '');
const asked = refDebounced(
  computed(() => typed.value.trim()),
  200,
);
const personId = computed(() => (route.params['personId'] ? Number(route.params['personId']) : null));
const show = (id: number | null): void => {
  void router.replace({ name: 'help', params: id === null ? {} : { personId: id } });
};
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['help', 'find', asked],
  queryFn: ({ signal }) => call('helpFind', { query: { q: asked.value } }, signal),
  enabled: () => asked.value !== '',
  placeholderData: keepPreviousData,
  staleTime: 0,
});
const { data: recent } = useQuery({
  queryKey: ['help', 'recent'],
  queryFn: ({ signal }) => call('helpRecent', {}, signal),
  staleTime: 0,
});
// A number names one account: it opens at once.
watch(data, (found) => {
  if (found?.number?.personId) show(found.number.personId);
});
watch(asked, () => {
  if (personId.value !== null) show(null);
});
const isNothing = computed(
  () => data.value && asked.value !== '' && data.value.people.length === 0 && !data.value.code && !data.value.number,
);
</script>

<template>
  <main class="part">
    <div class="narrow">
      <h1>{{ w.title }}</h1>
      <p class="soft">{{ w.what }}</p>
      <v-text-field
        v-model="typed"
        v-focus-first
        :label="w.who"
        :hint="w.whoHint"
        @keydown.enter.prevent="data?.people[0] && show(data.people[0].id)"
      />
      <LoadState v-if="error" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-if="personId === null && asked !== ''">
        <p v-if="data?.number && data.number.personId === null" class="answer" role="status">{{ w.noAccount }}</p>
        <p v-if="data?.code" class="answer" role="status">{{ w.codeIs(data.code.code, data.code.groups, data.code.state) }}</p>
        <OfferedList
          :items="(data?.people ?? []).map(({ id, name, group }) => ({ key: id, title: name, note: group ?? words.people.inNoGroup }))"
          @take="data?.people[$event] && show(data.people[$event].id)"
        />
        <p v-if="isNothing" class="answer" role="status">{{ w.nobody(asked) }}</p>
      </template>
      <section v-if="personId === null && asked === '' && recent && recent.people.length > 0">
        <h2>{{ w.recent }}</h2>
        <OfferedList
          :items="
            recent.people.map(({ id, name, group, at, tries }) => ({
              key: id,
              title: name,
              note: `${group ?? words.people.inNoGroup}, ${w.tries(tries, showAgo(at))}`,
            }))
          "
          @take="recent.people[$event] && show(recent.people[$event].id)"
        />
      </section>
      <p v-else-if="personId === null && asked === '' && recent" class="soft">{{ w.noneRecent }}</p>
      <HelpAnswer v-if="personId !== null" :key="personId" :person-id="personId" />
    </div>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 620px;
  display: grid;
  gap: 14px;
}
.answer {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px 16px;
}
</style>
