<script setup lang="ts">
import { ruleStates, type Change, type RuleNames, type RuleRow } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import FilterChips from '../filters/FilterChips.vue';
import { useTree } from '../groups/tree-query.ts';
import { useSession } from '../shell/session.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';
import ActFields from './ActFields.vue';
import { formOf, newAct, newRule, type RuleForm, valuesOf } from './rule-form.ts';
import WhenFields from './WhenFields.vue';

/** Writes an automatic rule as a sentence, rehearses it, and switches it on. */
const WeekBars = defineAsyncComponent(() => import('./WeekBars.vue'));
const { groupId, rule, courseId } = defineProps<{ groupId: number; rule: RuleRow | null; courseId: number | null }>();
const emit = defineEmits<{ close: []; made: [] }>();
const w = words.rules;
const session = useSession();
const tree = useTree();
const form = ref<RuleForm>(rule ? formOf(groupId, rule.values) : newRule(groupId, courseId));
const state = ref<(typeof ruleStates)[number]>('later ones');
const { data: known } = useQuery({
  queryKey: ['filter-names', computed(() => groupId)],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId } }, signal),
});
const courses = computed(() => known.value?.courses ?? []);
const tags = computed(() => known.value?.tags ?? []);
const { data: seats } = useQuery({
  queryKey: ['seats', computed(() => groupId), { subgroups: 'yes' }],
  queryFn: ({ signal }) => call('seats', { params: { groupId } }, signal),
  enabled: computed(() => form.value.then.some(({ act }) => act === 'give back a seat')),
});
const licences = computed(() => (seats.value?.licences ?? []).map(({ id, name }) => ({ id, name })));
const names = computed<RuleNames>(() => ({
  groups: [...(tree.value?.nodes() ?? [])].map(({ id, name }) => ({ id, name })),
  courses: courses.value,
  units: [],
  tags: tags.value,
  activities: [],
  licences: licences.value,
}));
const values = computed(() => valuesOf(form.value, (when, then) => w.sentence(when, then, names.value)));
const settledValues = refDebounced(values, 400);
const { data: rehearsal } = useQuery({
  queryKey: ['access', 'rehearsal', computed(() => groupId), settledValues],
  queryFn: ({ signal }) =>
    settledValues.value ? call('rehearseRule', { params: { groupId }, body: { values: settledValues.value } }, signal) : null,
  placeholderData: keepPreviousData,
});
const shownRehearsal = computed(() => (values.value ? rehearsal.value : null));
const weeks = computed(() => {
  const list = shownRehearsal.value?.weeks;
  const today = session.me?.today;
  return list && today ? list.map((times, index) => ({ from: addDays(today, 7 * (index - list.length)), times })) : null;
});
const times = computed(() => weeks.value?.reduce((sum, week) => sum + week.times, 0) ?? 0);
const change = computed<Change | null>(
  () => values.value && { kind: 'set-rule', ruleId: rule?.id ?? null, groupId, values: values.value, state: state.value },
);
const inHand = useChange(change, w.kept, { settleMilliseconds: 400 });
const stateItems = ruleStates.map((value) => ({ value, title: w.states[value] })).reverse();
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  if (rule) emit('close');
  else emit('made');
}
</script>

<template>
  <section class="editor">
    <h1>{{ rule ? rule.values.name : w.make }}</h1>
    <div class="card">
      <WhenFields v-model="form.when" :group-id="groupId" :courses="courses" :tags="tags" />
      <div class="sentence">
        <b class="lead">{{ w.and }}</b>
        <FilterChips v-model="form.filter" :group-id="groupId" />
        <span v-if="form.filter.length === 0" class="soft small">{{ w.everybody }}</span>
      </div>
      <ActFields
        v-for="(_, index) in form.then"
        :key="index"
        v-model="form.then[index]!"
        :courses="courses"
        :tags="tags"
        :licences="licences"
        :is-first="index === 0"
        @drop="form.then.splice(index, 1)"
      />
      <div class="sentence">
        <span class="lead" />
        <v-btn v-if="form.then.length < 5" size="small" variant="text" @click="form.then.push(newAct('tag'))">{{ w.also }}</v-btn>
      </div>
      <div class="sentence">
        <span class="lead" />
        <v-checkbox v-model="form.asksFirst" :label="w.asksFirst" />
      </div>
      <div class="sentence">
        <span class="lead" />
        <v-text-field v-model="form.name" maxlength="200" :label="w.fields.name" :placeholder="values?.name ?? ''" class="field wide" />
      </div>
    </div>
    <div v-if="shownRehearsal" class="two">
      <section class="card">
        <h2>{{ w.today }}</h2>
        <p>{{ shownRehearsal.fits === 0 ? w.fitsNobody : w.fits(shownRehearsal.fits) }}</p>
        <ul class="plain-list people">
          <li v-for="person in shownRehearsal.people" :key="person.id">
            <router-link :to="{ name: 'groups', params: { groupId }, query: { person: String(person.id) } }">{{ person.name }}</router-link>
            <span v-if="person.at" class="soft" :title="showMoment(person.at)">{{ showAgo(person.at) }}</span>
          </li>
        </ul>
        <p v-if="shownRehearsal.fits > shownRehearsal.people.length" class="soft">
          {{ w.more(shownRehearsal.fits - shownRehearsal.people.length) }}
        </p>
      </section>
      <section class="card">
        <h2>{{ w.past }}</h2>
        <template v-if="weeks">
          <WeekBars v-if="times > 0" :weeks="weeks" />
          <p class="soft small">{{ w.happened(times, shownRehearsal.happened.people, shownRehearsal.happened.days) }}</p>
        </template>
        <p v-else class="soft">{{ w.noPast }}</p>
      </section>
    </div>
    <v-select v-if="values" v-model="state" :items="stateItems" :label="w.state" class="state" />
    <LookPanel
      v-if="values"
      :in-hand="inHand"
      :change="change"
      :apply-label="w.apply[state](shownRehearsal?.fits ?? 0)"
      @apply="apply"
      @discard="emit('close')"
    />
    <div v-else>
      <v-btn variant="text" @click="emit('close')">{{ words.changes.discard }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.editor {
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
  gap: 12px;
  align-content: start;
  min-width: 0;
}
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 14px;
}
h2 {
  font-size: 17px;
}
.people {
  max-height: 190px;
  overflow: auto;
}
.people li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}
.small {
  font-size: 13.5px;
}
.state {
  max-width: 420px;
}
/* Each line of the sentence begins under the one above. */
.editor :deep(.sentence) {
  display: grid;
  grid-template-columns: 92px minmax(240px, 1.2fr) repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
  align-items: start;
}
.editor :deep(.lead) {
  padding-top: 10px;
}
.editor :deep(.field.wide) {
  grid-column: span 2;
}
@media (max-width: 860px) {
  .editor :deep(.sentence) {
    grid-template-columns: 1fr;
  }
  .editor :deep(.field.wide) {
    grid-column: auto;
  }
  .editor :deep(.lead) {
    padding-top: 0;
  }
}
</style>
