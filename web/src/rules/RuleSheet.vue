<script setup lang="ts">
import type { Change, RuleNames, RuleRow } from '@gate-roster/contract';
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import PersonPicker from '../people/PersonPicker.vue';
import { showAgo, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';
import RuleWaiting from './RuleWaiting.vue';

/** One rule: what it says, what it did last, and why it did or did not act on somebody. */
const { rule, names } = defineProps<{ rule: RuleRow; names: RuleNames }>();
const emit = defineEmits<{ change: []; ended: [] }>();
const w = words.rules;
const id = computed(() => rule.id);
const {
  data: pages,
  hasNextPage,
  fetchNextPage,
} = useInfiniteQuery({
  queryKey: ['access', 'rule-acts', id],
  queryFn: ({ pageParam, signal }) =>
    call('ruleActs', { params: { ruleId: id.value }, query: pageParam === null ? {} : { after: pageParam } }, signal),
  initialPageParam: null as number | null,
  getNextPageParam: ({ next }) => next,
});
const acts = computed(() => pages.value?.pages.flatMap((page) => page.acts) ?? []);
const personId = ref<number | null>(null);
const { data: why } = useQuery({
  queryKey: ['access', 'rule-why', id, personId],
  queryFn: ({ signal }) =>
    personId.value === null ? null : call('whyNot', { params: { ruleId: id.value, personId: personId.value } }, signal),
});
const isEnding = ref(false);
watch(id, () => {
  isEnding.value = false;
  personId.value = null;
});
const ending = computed<Change | null>(() => (isEnding.value ? { kind: 'end-rule', ruleId: id.value } : null));
const inHand = useChange(ending, w.ended);
async function end(): Promise<void> {
  if (await inHand.apply()) emit('ended');
}
</script>

<template>
  <section class="sheet">
    <h1>{{ rule.values.name }}</h1>
    <p class="soft">
      {{ rule.isOn && rule.onSince ? w.isOn(rule.onSince) : w.isOffNow }}, {{ w.at(rule.group.name) }}, {{ w.acted(rule) }}.
      {{ w.by(rule.by) }}
    </p>
    <p v-if="rule.pausedFor" class="card warn" role="status">{{ w.paused[rule.pausedFor] }}</p>
    <div class="card">
      <p>
        <b>{{ w.when }}</b> {{ w.whenSays(rule.values.when, names) }}
      </p>
      <p v-if="rule.values.filter.length > 0">
        <b>{{ w.and }}</b> <slot name="filter" />
      </p>
      <p v-for="(act, index) in rule.values.then" :key="index">
        <b>{{ index === 0 ? w.then : '' }}</b> {{ w.actSays(act, names) }}
      </p>
      <p v-if="rule.values.asksFirst" class="soft">{{ w.asksSays }}</p>
    </div>
    <RuleWaiting v-if="rule.waiting.count > 0 && rule.may.answer" :rule="rule" />
    <div class="acts">
      <v-btn v-if="rule.may.edit" variant="flat" @click="emit('change')">{{ w.change }}</v-btn>
      <v-btn v-if="rule.may.end && !isEnding" variant="text" class="late" @click="isEnding = true">{{ w.end }}</v-btn>
    </div>
    <LookPanel v-if="isEnding" :in-hand="inHand" :change="ending" @apply="end" @discard="isEnding = false">
      <h2>{{ w.endTitle(rule.values.name) }}</h2>
      <p class="soft">{{ w.endHint }}</p>
    </LookPanel>
    <div class="two">
      <section class="card">
        <h2>{{ w.lastActs }}</h2>
        <p v-if="acts.length === 0" class="soft">{{ w.noActs }}</p>
        <ul class="plain-list done">
          <li v-for="act in acts" :key="act.id">
            <router-link :to="{ name: 'groups', params: { groupId: rule.group.id }, query: { person: String(act.person.id) } }">{{
              act.person.name
            }}</router-link>
            <span class="soft" :title="showMoment(act.at)">{{ `${w.outcomes[act.outcome]}, ${showAgo(act.at)}` }}</span>
          </li>
        </ul>
        <v-btn v-if="hasNextPage" variant="text" size="small" @click="fetchNextPage()">{{ w.older }}</v-btn>
      </section>
      <section class="card">
        <h2>{{ w.whyTitle }}</h2>
        <PersonPicker v-model="personId" :label="w.whom" />
        <p v-if="why" role="status">
          {{ w.why[why.reason] }} <span v-if="why.at" class="soft">{{ showMoment(why.at) }}</span>
        </p>
      </section>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: 14px;
  max-width: 900px;
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 14px 16px;
  display: grid;
  gap: 8px;
  align-content: start;
}
.card.warn {
  background: var(--brass2);
  border-color: var(--brass);
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 14px;
}
.acts {
  display: flex;
  gap: 8px;
}
h2 {
  font-size: 17px;
}
.done li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}
</style>
