<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { chipNamesOf } from '../filters/chip-names.ts';
import { useTree } from '../groups/tree-query.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import RuleEditor from './RuleEditor.vue';
import RuleSheet from './RuleSheet.vue';

/** Automatic rules of the scope: one of them or a new one, and beside it the list. */
const { ruleId } = defineProps<{ ruleId: number | null }>();
const w = words.rules;
const scope = useScope();
const route = useRoute();
const router = useRouter();
const tree = useTree();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['access', scope.groupId, 'rules', scope.query],
  queryFn: ({ signal }) => call('rules', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
const { data: known } = useQuery({
  queryKey: ['filter-names', scope.groupId],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId: scope.groupId.value } }, signal),
});
const all = computed(() => [...(data.value?.rules ?? []), ...(data.value?.above ?? [])]);
const chosen = computed(() => all.value.find(({ id }) => id === ruleId) ?? (ruleId === null ? (all.value[0] ?? null) : null));
const writing = useUrlState<'no' | 'new' | 'change'>('write', 'no', oneOf(['no', 'new', 'change']));
/** A course's page leads here with the course. */
const courseId = computed(() => Number(route.query['gets']) || null);
const editorKey = ref(0);
watch(writing, () => editorKey.value++);
const chipNames = computed(() => chipNamesOf(known.value, tree.value?.nodes() ?? []));
const filterSays = computed(() => (chosen.value?.values.filter ?? []).map((part) => words.filters.chip(part, chipNames.value)).join('; '));
/** A new rule is shown: it is the one with the highest number. */
const showNewest = (): void => {
  show(Math.max(...all.value.map(({ id }) => id)));
};
function show(id: number | null): void {
  void router.push({
    name: 'access',
    params: { groupId: scope.groupId.value, part: 'rules', ...(id === null ? {} : { thing: id }) },
    query: keptQuery(route.query),
  });
}
</script>

<template>
  <div class="split">
    <main class="part scroll-part">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <RuleEditor
        v-else-if="writing === 'new' || (writing === 'change' && chosen)"
        :key="editorKey"
        :group-id="writing === 'change' && chosen ? chosen.group.id : scope.groupId.value"
        :rule="writing === 'change' ? chosen : null"
        :course-id="courseId"
        @close="show(writing === 'change' ? (chosen?.id ?? null) : null)"
        @made="showNewest"
      />
      <RuleSheet v-else-if="chosen" :rule="chosen" :names="data.names" @change="writing = 'change'" @ended="show(null)">
        <template #filter>{{ filterSays }}</template>
      </RuleSheet>
      <template v-else>
        <h1>{{ w.title }}</h1>
        <p class="soft">{{ w.none }}</p>
      </template>
    </main>
    <aside class="panel" :aria-label="w.here">
      <h2>{{ w.here }}</h2>
      <p v-if="data" class="soft">{{ w.count(data.rules.length, data.above.length) }}</p>
      <v-btn v-if="data?.may.make" variant="flat" @click="writing = 'new'">{{ w.make }}</v-btn>
      <ul class="plain-list list">
        <li v-for="rule in all" :key="rule.id">
          <button
            type="button"
            class="rule"
            :class="{ on: rule.id === chosen?.id && writing !== 'new' }"
            :aria-current="rule.id === chosen?.id && writing !== 'new' ? 'true' : undefined"
            @click="show(rule.id)"
          >
            <b>{{ rule.values.name }}</b>
            <span class="soft">{{
              [
                rule.group.id === scope.groupId.value ? null : w.at(rule.group.name),
                rule.waiting.count > 0 ? w.waits(rule.waiting.count) : null,
                rule.pausedFor ? w.pausedShort : rule.isOn ? w.acted(rule) : w.isOff,
              ]
                .filter((part) => part !== null)
                .join(', ')
            }}</span>
          </button>
        </li>
      </ul>
      <p class="soft small">{{ w.what }}</p>
    </aside>
  </div>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.panel > * {
  flex: none;
}
.rule {
  display: grid;
  gap: 2px;
  width: 100%;
  text-align: left;
  padding: 9px 10px;
  border: 0;
  border-top: 1px solid var(--rule);
  border-left: 4px solid transparent;
  background: none;
  font: inherit;
  font-size: 14.5px;
  color: inherit;
  cursor: pointer;
}
.rule.on {
  background: var(--sheet);
  border-left-color: var(--tide);
}
.small {
  font-size: 13.5px;
}
</style>
