<script setup lang="ts">
import { viewNames } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { addDays, type FilterPart } from '@gate-roster/core';
import AsOfBand from '../access/AsOfBand.vue';
import AsOfField from '../access/AsOfField.vue';
import { call } from '../api/call.ts';
import FilterChips from '../filters/FilterChips.vue';
import { filterCode } from '../filters/use-filter.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import ViewLinks from '../ui/ViewLinks.vue';
import DayField from '../ui/DayField.vue';
import * as words from '../words.ts';
import ByGroup from './ByGroup.vue';
import ChangedBetween from './ChangedBetween.vue';
import KeptViews from './KeptViews.vue';
import InsideCourse from './InsideCourse.vue';
import LearnersTable from './LearnersTable.vue';
import ProgressNews from './ProgressNews.vue';
import ReportOf from './ReportOf.vue';
import type { ReportQuery } from './shown-view.ts';
import SideBySide from './SideBySide.vue';
import TakeAway from './TakeAway.vue';
import { useShownView } from './use-shown-view.ts';

/** Views of how far people are; scope and filter stay when one goes from one to the other. */
const scope = useScope();
const session = useSession();
const { view, takenView, filter, rows, groups: besideIds, day, from, shown } = useShownView();
const query = computed(() => ({ ...scope.query.value, filter: filterCode.write(filter.value) }));
const forMarkers: readonly string[] = ['handed-in', 'certificates'];
const CertificatesPage = defineAsyncComponent(() => import('../certificates/CertificatesPage.vue'));
const HandedIn = defineAsyncComponent(() => import('../work/HandedIn.vue'));
const SkillsShown = defineAsyncComponent(() => import('../work/SkillsShown.vue'));
const compared = ref<number[]>([]);
const mayMark = computed(() => session.hasPower('markWork'));
/** How much waits to be marked, for the name of the view. */
const waiting = useQuery({
  queryKey: ['handed-in', scope.groupId, scope.query, 'number'],
  queryFn: ({ signal }) =>
    call('handedIn', { params: { groupId: scope.groupId.value }, query: { ...scope.query.value, limit: 1 } }, signal),
  enabled: mayMark,
});
const waits = computed(() => {
  const now = waiting.data.value;
  return now ? { pieces: now.counts.waiting, oldestDays: now.oldestDays ?? 0, medianDays: now.medianDays ?? 0 } : null;
});
const views = computed(() =>
  viewNames
    .filter((name) => !forMarkers.includes(name) || mayMark.value)
    .map((name) => ({
      name,
      title: name === 'handed-in' ? words.progress.handedIn(waiting.data.value?.counts.waiting ?? null) : words.progress.views[name],
    })),
);
/** Views that are no table have no file, and are of today alone, as work that waits, skills and certificates are. */
const hasFile = computed(() => takenView.value !== null);
const dated = computed<ReportQuery>(() => ({ ...query.value, ...(day.value === null || !hasFile.value ? {} : { day: day.value }) }));
const { data: history } = useQuery({
  queryKey: ['history'],
  queryFn: ({ signal }) => call('historySince', {}, signal),
  staleTime: Number.POSITIVE_INFINITY,
});
const usualDays = 30;
function compare(): void {
  const since = history.value?.since ?? '';
  const usual = addDays(dated.value.day ?? session.me?.today ?? '2026-01-01', -usualDays);
  from.value = usual < since ? since : usual;
}
/** From a row that is no group to the groups of those in it: one step in the history of the browser. */
function filterBy(part: FilterPart): void {
  filter.value = [...filter.value.filter((each) => each.part !== part.part), part];
  rows.value = 'groups';
}
/** Of how many learners what is shown speaks; null: not known yet. */
const speaksOf = ref<{ learners: number; ofAll: number; notCounted: number } | null>(null);
</script>

<template>
  <ScopeBar>
    <ViewLinks
      :model-value="view"
      :views="views"
      :label="words.progress.viewsLabel"
      @update:model-value="view = viewNames.find((name) => name === $event) ?? 'groups'"
    />
  </ScopeBar>
  <HandedIn v-if="view === 'handed-in' && mayMark" :query="query" />
  <CertificatesPage v-else-if="view === 'certificates' && mayMark" :query="scope.query.value" />
  <main v-else class="progress">
    <div class="head">
      <h1>{{ words.progress.title }}</h1>
      <AsOfField v-if="hasFile" class="export" :first="history?.since" :last="session.me?.today" />
      <v-btn v-if="hasFile && from === null" variant="text" @click="compare">{{ words.progress.between.open }}</v-btn>
      <DayField
        v-else-if="hasFile"
        :model-value="from"
        inline
        :label="words.progress.between.since"
        :min="history?.since"
        :max="day ?? session.me?.today"
        @update:model-value="from = $event || null"
      />
      <KeptViews :shown="shown" />
      <TakeAway v-if="takenView && session.hasPower('export')" :view="takenView" :query="dated" :shown="shown" :groups="compared" />
    </div>
    <AsOfBand v-if="dated.day" :shown="{ day: dated.day, isPast: true, since: history?.since ?? dated.day }" />
    <p v-if="dated.day" class="soft note">{{ words.progress.past.asToday }} {{ words.progress.past.noActs }}</p>
    <ChangedBetween v-if="from !== null && hasFile" :from="from" :query="dated" @close="from = null" />
    <ProgressNews v-else-if="!dated.day" />
    <FilterChips v-model="filter" class="filters" :group-id="scope.groupId.value">
      <ReportOf v-if="speaksOf" :report="speaksOf" :query="dated" />
    </FilterChips>
    <LearnersTable v-if="view === 'learners'" :query="dated" @speaks-of="speaksOf = $event" />
    <SkillsShown v-else-if="view === 'skills'" :query="query" @speaks-of="speaksOf = $event" />
    <InsideCourse v-else-if="view === 'course'" :query="dated" @speaks-of="speaksOf = $event" />
    <SideBySide
      v-else-if="view === 'beside'"
      v-model="besideIds"
      :query="dated"
      :from="from"
      @groups="compared = $event"
      @speaks-of="speaksOf = $event"
    />
    <ByGroup v-else :query="dated" :waits="dated.day ? null : waits" @speaks-of="speaksOf = $event" @filter-by="filterBy" />
  </main>
</template>

<style scoped>
.progress {
  flex: 1;
  min-height: 0;
  overflow: auto;
  display: flex;
  flex-direction: column;
  padding: 12px 26px 20px;
  background: var(--paper);
}
.progress > :not(.learners) {
  flex: none;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 18px;
  flex-wrap: wrap;
}
.export {
  margin-left: auto;
}
.note {
  margin: 0 0 6px;
}
.filters {
  margin: 8px 0 12px;
}
@media (max-width: 960px) {
  .progress {
    padding: 12px 14px;
  }
}
</style>
