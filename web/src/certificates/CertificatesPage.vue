<script setup lang="ts">
import { type Change, type CertificateForm, certificateLists } from '@gate-roster/contract';
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { idCode, useUrlState } from '../shell/url-state.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import { listName, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import CertificateFormPanel from './CertificateFormPanel.vue';

/** Certificates that learners of the scope can be given; and of one, who has it, who has earned it, and whose was withdrawn. */
const { query } = defineProps<{ query: { subgroups: 'yes' | 'no' } }>();
const w = words.certificates;
const scope = useScope();
const params = computed(() => ({ groupId: scope.groupId.value }));
const chosenId = useUrlState('certificate', null, idCode);
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['certificates', params, computed(() => query)],
  queryFn: ({ signal }) => call('certificates', { params: params.value, query: { subgroups: query.subgroups } }, signal),
});
const chosen = computed<CertificateForm | null>(() => data.value?.forms.find(({ id }) => id === chosenId.value) ?? null);
const list = ref<(typeof certificateLists)[number]>('given');
const editing = ref<'no' | 'new' | 'edit'>('no');
const picked = ref<string[]>([]);
const act = ref<'give' | 'withdraw' | 'replace' | 'end' | null>(null);
watch([chosenId, list, () => scope.groupId.value], () => {
  picked.value = [];
  act.value = null;
});
const holders = useInfiniteQuery({
  queryKey: ['certificates', 'holders', params, computed(() => query), chosenId, list],
  queryFn: ({ pageParam, signal }) =>
    call(
      'certificateHolders',
      {
        params: { ...params.value, formId: chosenId.value ?? 0 },
        query: { subgroups: query.subgroups, list: list.value, ...(pageParam === null ? {} : { after: pageParam }) },
      },
      signal,
    ),
  enabled: computed(() => chosen.value !== null),
  initialPageParam: null as number | null,
  getNextPageParam: ({ next }) => next,
});
const people = computed(() => holders.data.value?.pages.flatMap((page) => page.people) ?? []);
const keyOf = (person: { personId: number; number: string | null }): string => person.number ?? String(person.personId);
const toggle = (key: string): void => {
  picked.value = picked.value.includes(key) ? picked.value.filter((each) => each !== key) : [...picked.value, key];
};
const change = computed<Change | null>(() => {
  if (!chosen.value || act.value === null) return null;
  if (act.value === 'end') return { kind: 'end-certificate', formId: chosen.value.id };
  if (picked.value.length === 0) return null;
  if (act.value === 'give') return { kind: 'give-certificates', formId: chosen.value.id, personIds: picked.value.map(Number) };
  return { kind: 'withdraw-certificates', numbers: picked.value, replace: act.value === 'replace' };
});
const said = { give: w.given, withdraw: w.withdrawn, replace: w.replaced, end: w.removed };
const inHand = useChange(
  change,
  computed(() => (act.value ? said[act.value] : '')),
);
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  act.value = null;
  picked.value = [];
}
const fileOf = (paper: 'A4' | 'Letter', number?: string | null): string =>
  addressOf('certificatesFile', {
    params: { ...params.value, formId: chosenId.value ?? 0 },
    query: { subgroups: query.subgroups, paper, ...(number ? { number } : {}) },
  });
const columns: readonly ListColumn[] = [
  { key: 'certificate', title: w.head.certificate },
  { key: 'about', title: w.head.about },
  { key: 'group', title: w.head.group, roomFrom: 560 },
  { key: 'given', title: w.head.given, isNumber: true },
  { key: 'earned', title: w.head.earned, isNumber: true },
];
</script>

<template>
  <div class="split whole">
    <main class="part">
      <div class="head">
        <h1>{{ w.title }}</h1>
        <v-btn v-if="data?.mayGive" variant="flat" @click="editing = 'new'">{{ w.make }}</v-btn>
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="data.forms.length === 0" class="soft">{{ w.none }}</p>
      <DataList
        v-else
        class="list"
        :label="w.title"
        :columns="columns"
        :rows="data.forms"
        :look-of="(form) => ({ on: form.id === chosenId })"
      >
        <template #certificate="{ row: form }">
          <button type="button" class="plain-link" :aria-current="form.id === chosenId ? 'true' : undefined" @click="chosenId = form.id">
            {{ form.values.title }}
          </button>
          <p class="soft small">{{ form.values.byItself ? w.byItself : w.byHand }}</p>
        </template>
        <template #about="{ row: form }">{{ w.about(form) }}</template>
        <template #group="{ row: form }"
          ><span class="soft">{{ form.group.name || w.groupAbove }}</span></template
        >
        <template #given="{ row: form }">{{ showNumber(form.given) }}</template>
        <template #earned="{ row: form }">{{ showNumber(form.earned) }}</template>
      </DataList>
      <section v-if="chosen" class="one">
        <div class="head">
          <h2>{{ chosen.values.title }}</h2>
          <v-btn v-if="chosen.mayEdit" variant="text" @click="editing = 'edit'">{{ w.edit }}</v-btn>
          <v-btn v-if="chosen.mayEdit" variant="text" @click="act = 'end'">{{ w.remove }}</v-btn>
          <v-menu v-if="chosen.given > 0">
            <template #activator="{ props: activator }">
              <v-btn v-bind="activator" variant="text">{{ w.pdf }}</v-btn>
            </template>
            <v-list>
              <v-list-item v-for="paper in ['A4', 'Letter'] as const" :key="paper" :href="fileOf(paper)" download :title="w.asPdf[paper]" />
            </v-list>
          </v-menu>
        </div>
        <div class="which">
          <button
            v-for="name in certificateLists"
            :key="name"
            type="button"
            class="pick"
            :class="{ on: name === list }"
            :aria-pressed="name === list"
            @click="list = name"
          >
            {{ w.lists[name] }}
          </button>
        </div>
        <LoadState
          v-if="!holders.data.value"
          :error="holders.error.value"
          :is-pending="holders.isPending.value"
          @again="holders.refetch()"
        />
        <p v-else-if="people.length === 0" class="soft">{{ w.noneIn[list] }}</p>
        <template v-else>
          <div v-if="list !== 'withdrawn'" class="acts">
            <v-btn variant="text" @click="picked = people.map(keyOf)">{{ w.chooseAll }}</v-btn>
            <v-btn v-if="list === 'earned'" :disabled="picked.length === 0" @click="act = 'give'">{{ w.give(picked.length) }}</v-btn>
            <template v-else>
              <v-btn :disabled="picked.length === 0" @click="act = 'withdraw'">{{ w.withdraw(picked.length) }}</v-btn>
              <v-btn :disabled="picked.length === 0" variant="text" @click="act = 'replace'">{{ w.replace(picked.length) }}</v-btn>
              <span v-if="picked.length === 0" class="soft small">{{ w.choosing }}</span>
            </template>
          </div>
          <ul class="plain-list people">
            <li v-for="person in people" :key="keyOf(person)">
              <v-checkbox-btn
                v-if="list !== 'withdrawn'"
                density="compact"
                :model-value="picked.includes(keyOf(person))"
                :aria-label="listName(person)"
                @update:model-value="toggle(keyOf(person))"
              />
              <router-link :to="{ name: 'groups', params, query: { person: String(person.personId) } }">{{ listName(person) }}</router-link>
              <span class="soft">{{ w.holder(person) }}</span>
              <a v-if="list === 'given'" :href="fileOf('A4', person.number)" download :aria-label="`${w.onePdf}: ${listName(person)}`">{{
                w.onePdf
              }}</a>
            </li>
            <li v-if="holders.hasNextPage.value">
              <v-btn variant="text" @click="holders.fetchNextPage()">{{ w.more }}</v-btn>
            </li>
          </ul>
        </template>
      </section>
    </main>
    <aside v-if="editing !== 'no' || act !== null" class="panel">
      <CertificateFormPanel v-if="editing !== 'no'" :key="editing" :form="editing === 'edit' ? chosen : null" @close="editing = 'no'" />
      <LookPanel v-else :in-hand="inHand" :change="change" @apply="apply" @discard="act = null">
        <h2>
          {{
            act === 'end'
              ? w.remove
              : act === 'give'
                ? w.give(picked.length)
                : act === 'replace'
                  ? w.replace(picked.length)
                  : w.withdraw(picked.length)
          }}
        </h2>
        <p v-if="act === 'end'" class="soft">{{ w.removeNote }}</p>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped>
.whole {
  flex: 1;
  min-height: 0;
}
.part {
  flex: 1;
  min-width: 0;
  overflow: auto;
}
.part > * {
  flex: none;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  flex-wrap: wrap;
}
.list {
  max-width: 860px;
}
:deep(tr.on) {
  background: var(--tide2);
}
.small {
  font-size: 13.5px;
}
.one {
  display: grid;
  gap: 10px;
}
.which,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.people li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 34px;
  border-bottom: 1px solid var(--rule);
  flex-wrap: wrap;
}
.people .v-checkbox-btn {
  flex: none;
}
</style>
