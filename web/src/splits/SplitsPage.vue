<script setup lang="ts">
import { type Change, mostDivided, type SplitPart } from '@gate-roster/contract';
import { mdiChevronDown } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useTree } from '../groups/tree-query.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { dayOf, showMoment, showTime, today } from '../ui/format.ts';
import { chosenByNumber } from '../people/chosen.ts';
import * as words from '../words.ts';
import DivideForm from './DivideForm.vue';
import PartCard from './PartCard.vue';
import PartFields from './PartFields.vue';
import { usePartSwitch } from './use-part-switch.ts';
import { type Length, lengthChoices, untilWhen } from './until-when.ts';
import { useSplitDraft } from './use-split-draft.ts';

/** Splits of a group: who is in which part, what each part gets, and running it. */
const { splitId } = defineProps<{ splitId: number | null }>();
const w = words.splits;
const scope = useScope();
const route = useRoute();
const router = useRouter();
const tree = useTree();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['splits', scope.groupId],
  queryFn: ({ signal }) => call('splits', { params: { groupId: scope.groupId.value } }, signal),
  refetchInterval: 60_000,
});
const isNew = computed(() => route.query['new'] === 'yes');
const chosen = computed(() => {
  const all = data.value?.splits ?? [];
  return isNew.value ? null : (all.find(({ id }) => id === splitId) ?? (splitId === null ? (all[0] ?? null) : null));
});
const members = computed(() => data.value?.members ?? []);
const draft = useSplitDraft(chosen, members, scope.groupId);
const { turn, isTurning } = usePartSwitch(
  draft,
  computed(() => chosen.value?.runsUntil != null),
);
/** What a switch saves by itself needs no panel. */
const unsaved = computed(() => (isTurning.value ? null : draft.change.value));
const canEdit = computed(() => (chosen.value ? chosen.value.may.edit : data.value?.may.make === true));
const group = computed(() => tree.value?.row(scope.groupId.value)?.name ?? '');
const others = computed(() => (data.value?.splits ?? []).filter(({ id }) => id !== chosen.value?.id));
const leaders = computed(() => data.value?.leaders ?? []);
const calledOf = (part: SplitPart): string =>
  leaders.value.find(({ id }) => id === part.leaderId)?.name ??
  chosen.value?.parts.find(({ key }) => key === part.key && part.leaderId !== null)?.called ??
  (part.name || w.partName(part.key));
const places = computed(() => [
  ...draft.parts.value.map((part) => ({ key: part.key, called: calledOf(part) })),
  { key: null, called: w.as },
]);
const working = computed(() => members.value.filter(({ workingAt }) => workingAt !== null).length);
/** Today the hour is enough. */
const endsAt = computed(() => {
  const at = chosen.value?.runsUntil;
  return at == null ? null : dayOf(at) === today() ? showTime(at) : showMoment(at);
});

function says({ allowance, link, words: message }: SplitPart): string {
  const courses = allowance?.courses.flatMap(({ courseId, units }) => {
    const course = data.value?.courses.find(({ id }) => id === courseId);
    return course ? [w.unitsOf(course.name, units?.length ?? course.units.length, course.units.length)] : [];
  });
  const what = [
    ...(allowance ? [w.allowance(allowance.mode, courses ?? [])] : []),
    ...(link === null ? [] : [w.opens(link.replace(/^https?:\/\//u, ''))]),
    ...(message === '' ? [] : [`“${message}”`]),
  ];
  return what.length === 0 ? w.nothing : what.join('; ');
}

/* One panel on the right: what a part may do, how to divide, how long to run; and what stands to be saved. */
type Panel = { kind: 'part'; key: number } | { kind: 'divide' | 'start' | 'stop' | 'delete' };
const panel = ref<Panel | null>(null);
const edited = computed(() => {
  const open = panel.value;
  return open?.kind === 'part' ? draft.parts.value.find(({ key }) => key === open.key) : undefined;
});
watch([scope.groupId, () => chosen.value?.id], () => (panel.value = null));
const length = ref<Length>(1);
const typed = ref('');
const openedAt = ref(Date.now());
const change = computed<Change | null>(() => {
  const id = chosen.value?.id;
  if (id === undefined || unsaved.value) return unsaved.value;
  if (panel.value?.kind === 'start') {
    const until = untilWhen(length.value, typed.value, openedAt.value);
    return until === null ? null : { kind: 'start-split', splitId: id, until };
  }
  if (panel.value?.kind === 'stop') return { kind: 'stop-split', splitId: id };
  return panel.value?.kind === 'delete' ? { kind: 'delete-split', splitId: id } : null;
});
const did = computed(() => {
  switch (change.value?.kind) {
    case 'start-split':
      return { label: w.start, done: w.started };
    case 'stop-split':
      return { label: w.stop, done: w.ended };
    case 'delete-split':
      return { label: w.remove, done: w.deleted };
    default:
      return { label: words.common.save, done: w.saved };
  }
});
const inHand = useChange(
  change,
  computed(() => did.value.done),
  { settleMilliseconds: 250 },
);
function show(kind: 'divide' | 'start' | 'stop' | 'delete'): void {
  openedAt.value = Date.now();
  panel.value = { kind };
}
const goTo = (id: number | null, isFresh = false): void => {
  void router.replace({
    name: 'groups',
    params: { groupId: scope.groupId.value, part: 'splits', ...(id === null ? {} : { thing: id }) },
    query: { ...keptQuery(route.query), ...(isFresh ? { new: 'yes' } : {}) },
  });
};
async function apply(): Promise<void> {
  const wasNew = chosen.value === null;
  const isDeleted = change.value?.kind === 'delete-split';
  if (!(await inHand.apply())) return;
  panel.value = null;
  if (wasNew) goTo(Math.max(...((await refetch()).data?.splits ?? []).map(({ id }) => id)));
  else if (isDeleted) goTo(null);
}
function discard(): void {
  panel.value = null;
  draft.reset();
}
function write(part: SplitPart): void {
  const personIds = draft.membersOf(part).map(({ id }) => id);
  void router.push({
    name: 'messages',
    params: { groupId: scope.groupId.value },
    query: { write: 'yes' },
    state: { chosen: { ...chosenByNumber(personIds) } },
  });
}
</script>

<template>
  <div class="split">
    <main class="sheet">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else-if="data.count > mostDivided">
        <h1>{{ words.figures.splits }}</h1>
        <p class="soft">{{ w.tooMany(data.count, mostDivided) }}</p>
      </template>
      <template v-else>
        <div class="head">
          <div>
            <h1>{{ draft.name.value || words.figures.splits }}</h1>
            <p class="soft">{{ w.of(group, endsAt) }}</p>
          </div>
          <div class="acts">
            <template v-if="chosen">
              <v-btn v-if="chosen.runsUntil && canEdit" :disabled="unsaved !== null" @click="show('start')">{{ w.changeEnd }}</v-btn>
              <v-btn v-if="chosen.runsUntil" variant="flat" :disabled="unsaved !== null" @click="show('stop')">{{ w.stop }}</v-btn>
              <v-btn v-else-if="canEdit" variant="flat" :disabled="unsaved !== null" @click="show('start')">{{ w.startNow }}</v-btn>
            </template>
          </div>
        </div>
        <div class="bar">
          <v-menu>
            <template #activator="{ props: activator }">
              <v-btn v-bind="activator" :append-icon="mdiChevronDown">{{ w.chosen(chosen?.name ?? null) }}</v-btn>
            </template>
            <v-list>
              <v-list-item
                v-for="each in data.splits"
                :key="each.id"
                :title="each.name"
                :subtitle="each.runsUntil ? w.running : false"
                :active="each.id === chosen?.id"
                @click="goTo(each.id)"
              />
              <v-divider v-if="data.splits.length > 0" />
              <v-list-item v-if="data.may.make" :title="w.make" @click="goTo(null, true)" />
              <v-list-item v-if="chosen && canEdit" class="late" :title="w.remove" @click="show('delete')" />
            </v-list>
          </v-menu>
          <template v-if="canEdit">
            <v-btn @click="show('divide')">{{ w.divide }}</v-btn>
            <v-btn @click="draft.add()">{{ w.addPart }}</v-btn>
          </template>
          <p class="soft">{{ w.counts(members.length, members.length - draft.rest.value.length, working) }}</p>
        </div>
        <p v-if="chosen && !canEdit" class="soft">{{ w.notYours }}</p>
        <p v-else-if="chosen?.runsUntil && chosen.by" class="soft">{{ w.by(chosen.by) }}</p>
        <div class="parts">
          <PartCard
            v-for="part in draft.parts.value"
            :key="part.key"
            :part="part"
            :called="calledOf(part)"
            :people="draft.membersOf(part)"
            :others="places.filter(({ key }) => key !== part.key)"
            :can-edit="canEdit"
            :says="says(part)"
            @move="draft.move"
            @here="draft.move($event, part.key)"
            @turn="turn(part)"
            @change="panel = { kind: 'part', key: part.key }"
            @write="write(part)"
          />
          <PartCard
            :part="null"
            :called="w.as"
            :people="draft.rest.value"
            :others="places.filter(({ key }) => key !== null)"
            :can-edit="canEdit"
            :says="w.asHint"
            @move="draft.move"
            @here="draft.move($event, null)"
          />
        </div>
        <p class="soft">{{ w.kept }}</p>
      </template>
    </main>
    <aside v-if="panel || unsaved" class="panel" :aria-label="words.figures.splits">
      <PartFields
        v-if="edited && data"
        :key="edited.key"
        :part="edited"
        :called="calledOf(edited)"
        :courses="data.courses"
        @edit="draft.edit(edited.key, $event)"
        @remove="draft.remove(edited.key)"
        @close="panel = null"
      />
      <DivideForm
        v-else-if="panel?.kind === 'divide'"
        :leaders="leaders.length"
        :others="others"
        @divide="draft.divideAgain"
        @per-leader="draft.onePerLeader(leaders)"
        @take-over="draft.takeOver"
        @close="panel = null"
      />
      <LookPanel v-if="change" :in-hand="inHand" :change="change" :apply-label="did.label" @apply="apply" @discard="discard">
        <template v-if="change.kind === 'set-split'">
          <v-text-field v-model="draft.name.value" maxlength="120" :label="w.name" />
        </template>
        <h2 v-else>{{ did.label }}</h2>
        <template v-if="panel?.kind === 'start'">
          <v-select v-model="length" :items="lengthChoices" :label="w.runsFor" />
          <v-text-field v-if="length === null" v-model="typed" type="datetime-local" :label="w.startUntil" />
        </template>
      </LookPanel>
      <template v-else-if="panel?.kind === 'start'">
        <v-select v-model="length" :items="lengthChoices" :label="w.runsFor" />
        <v-text-field v-model="typed" type="datetime-local" :label="w.startUntil" />
        <v-btn variant="text" @click="panel = null">{{ words.changes.discard }}</v-btn>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.sheet {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 14px 26px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: 18px;
  flex-wrap: wrap;
}
.acts,
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 14px;
  align-items: start;
}
.panel {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.panel > * {
  flex: none;
}
</style>
