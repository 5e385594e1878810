<script setup lang="ts">
import type { Change, CourseRequest, JoinRequest } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import DataList from '../ui/DataList.vue';
import LoadState from '../ui/LoadState.vue';
import { showAgo, showMoment } from '../ui/format.ts';
import type { ListColumn } from '../ui/list-columns.ts';
import { useSelection } from '../ui/selection.ts';
import * as words from '../words.ts';
import ChosenBar from './ChosenBar.vue';
import CourseRequests from './CourseRequests.vue';
import DecideCourses from './DecideCourses.vue';

/** Who asks to join, what they gave, whom they may be, and who asks for a course; one or many are answered. */
const scope = useScope();
const session = useSession();
const mayDecide = computed(() => session.hasPower('decideEntry'));
const mayOpen = computed(() => session.hasPower('openCourses'));
const w = words.waysIn.asking;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['requests', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('requests', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
  enabled: mayDecide,
});
type Asked = JoinRequest & { id: string };
const requests = computed((): Asked[] => (data.value?.requests ?? []).map((request) => ({ ...request, id: request.ids.join() })));
const selection = useSelection(requests, { isWhole: true });
const chosen = computed(() => requests.value.filter(({ id }) => selection.has(id)));
const columns: ListColumn[] = [
  { key: 'who', title: w.who },
  { key: 'asks', title: w.asks },
  { key: 'gave', title: w.gave },
  { key: 'acts', title: w.answer, hasHiddenTitle: true },
];
const courseRequests = ref(0);
const aboutCourses = ref<{ requests: readonly CourseRequest[]; decision: 'open' | 'turn away' } | null>(null);
function decideCourses(list: readonly CourseRequest[], decision: 'open' | 'turn away'): void {
  deciding.value = null;
  aboutCourses.value = { requests: list, decision };
}

interface Decision {
  /** People of the list who may have an account already, and who would get a second one. */
  likely: Asked[];
  ids: number[];
  people: number;
  decision: 'let in' | 'turn away';
  asPerson: number | null;
  title: string;
}
const deciding = ref<Decision | null>(null);
const word = ref('');
function begin(list: readonly Asked[], decision: Decision['decision'], as: JoinRequest['matches'][number] | null = null): void {
  word.value = '';
  aboutCourses.value = null;
  const people = new Set(list.map(({ personId }) => personId)).size;
  deciding.value = {
    likely: decision === 'let in' && as === null ? list.filter(({ matches }) => matches.length > 0) : [],
    ids: list.flatMap(({ ids }) => ids),
    people,
    decision,
    asPerson: as?.id ?? null,
    title: as ? w.as(as.name) : decision === 'let in' ? w.letInSome(people) : w.turnAwaySome(people),
  };
}
/** The others are let in; those who may be known stay and are decided one by one. */
function leaveOutLikely(): void {
  const out = new Set(deciding.value?.likely.map(({ id }) => id));
  begin(
    chosen.value.filter(({ id }) => !out.has(id)),
    'let in',
  );
}
const beginChosen = (decision: Decision['decision']): void => {
  begin(chosen.value, decision);
};
const change = computed<Change | null>(() =>
  deciding.value === null
    ? null
    : {
        kind: 'decide-requests',
        requestIds: deciding.value.ids,
        decision: deciding.value.decision,
        asPerson: deciding.value.asPerson,
        word: word.value.trim() || null,
      },
);
const inHand = useChange(change, w.done, { settleMilliseconds: 200 });
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  deciding.value = null;
  selection.clear();
}
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ words.waysIn.parts.asking }}</h1>
      </div>
      <LoadState v-if="mayDecide && !data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="requests.length === 0 && courseRequests === 0" class="soft">{{ w.none }}</p>
      <div class="lists">
        <h2 v-if="requests.length > 0" class="heading">{{ w.toJoin }}</h2>
        <ChosenBar :count="selection.count.value" :yes="w.letIn" @yes="beginChosen('let in')" @no="beginChosen('turn away')" />
        <DataList
          v-if="requests.length > 0"
          :label="w.toJoin"
          :columns="columns"
          :rows="requests"
          :selection="selection"
          :label-of="(request) => (request ? w.choose(request.name) : w.chooseAll)"
          @all="selection.set(requests.map(({ id }) => id))"
        >
          <template #who="{ row: request }">
            <b>{{ request.name }}</b>
            <p class="soft small">
              {{ request.isNew ? w.newAccount : w.knownAccount }}<template v-if="request.email">{{ `, ${request.email}` }}</template>
            </p>
            <p v-for="match in request.matches" :key="match.id" class="small match">
              {{ w.maybe }} <b>{{ match.name }}</b>
              <span class="soft">{{ ` (${w.match[match.why]}${match.group ? `, ${match.group}` : ''}) ` }}</span>
              <button type="button" class="plain-link" @click="begin([request], 'let in', match)">{{ w.as(match.name) }}</button>
            </p>
          </template>
          <template #asks="{ row: request }">
            {{ request.groups.map(({ name }) => name).join(', ') }}
            <p class="soft small" :title="showMoment(request.askedAt)">{{ w.since(showAgo(request.askedAt), request.code) }}</p>
          </template>
          <template #gave="{ row: request }">
            <div class="small">
              <p v-if="request.idNumber">
                {{ words.people.idNumber }} <span class="mono">{{ request.idNumber }}</span>
              </p>
              <p v-for="answer in request.answers" :key="answer.label">
                <span class="soft">{{ answer.label }}</span> {{ answer.answer }}
              </p>
            </div>
          </template>
          <template #acts="{ row: request }">
            <div class="acts">
              <v-btn size="small" @click="begin([request], 'let in')">{{ w.letIn }}</v-btn>
              <v-btn size="small" variant="text" class="late" @click="begin([request], 'turn away')">{{ w.turnAway }}</v-btn>
            </div>
          </template>
        </DataList>
        <p v-if="(data?.more ?? 0) > 0" class="soft more">{{ w.more(data?.more ?? 0) }}</p>
        <CourseRequests v-if="mayOpen" @decide="decideCourses" @known="courseRequests = $event" />
      </div>
    </main>
    <aside v-if="deciding" class="panel">
      <section class="form">
        <h2>{{ deciding.title }}</h2>
        <div v-if="deciding.likely.length > 0" class="likely" role="alert">
          <p>{{ w.likely(deciding.likely.length) }}</p>
          <ul class="plain-list">
            <li v-for="request in deciding.likely" :key="request.id">
              {{ request.name }} <span class="soft">{{ `${w.maybe} ${request.matches.map(({ name }) => name).join(', ')}` }}</span>
            </li>
          </ul>
          <button v-if="deciding.people > deciding.likely.length" type="button" class="plain-link" @click="leaveOutLikely">
            {{ w.leaveOut(deciding.likely.length) }}
          </button>
        </div>
        <v-textarea v-model="word" rows="2" auto-grow :label="w.word" :hint="w.wordHint" />
        <LookPanel
          :in-hand="inHand"
          :change="change"
          :apply-label="deciding.decision === 'let in' ? w.letIn : w.turnAway"
          @apply="apply"
          @discard="deciding = null"
        />
      </section>
    </aside>
    <aside v-else-if="aboutCourses" class="panel">
      <DecideCourses :key="aboutCourses.requests.map(({ id }) => id).join()" v-bind="aboutCourses" @close="aboutCourses = null" />
    </aside>
  </div>
</template>

<style scoped src="./asking.css"></style>
<style scoped>
.match {
  margin-top: 2px;
}
.likely {
  display: grid;
  gap: 6px;
  padding: 10px 14px;
  border: 1px solid var(--rule);
  border-left: 4px solid var(--brass);
  border-radius: 6px;
  background: var(--sheet);
}
</style>
