<script setup lang="ts">
import { type ShownView, viewNames } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import FilterChips from '../filters/FilterChips.vue';
import { filterCode, useFilter } from '../filters/use-filter.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import { idCode, idsCode, oneOf, useUrlState } from '../shell/url-state.ts';
import ViewLinks from '../ui/ViewLinks.vue';
import { words } from '../words.ts';
import ByGroup from './ByGroup.vue';
import KeptViews from './KeptViews.vue';
import InsideCourse from './InsideCourse.vue';
import LearnersTable from './LearnersTable.vue';
import ProgressNews from './ProgressNews.vue';
import ReportOf from './ReportOf.vue';
import SideBySide from './SideBySide.vue';

/** Views of how far people are; scope and filter stay when one goes from one to the other. */
const scope = useScope();
const session = useSession();
const filter = useFilter();
const query = computed(() => ({ ...scope.query.value, filter: filterCode.write(filter.value) }));
const forMarkers: readonly string[] = ['handed-in', 'certificates'];
const CertificatesPage = defineAsyncComponent(() => import('../certificates/CertificatesPage.vue'));
const HandedIn = defineAsyncComponent(() => import('../work/HandedIn.vue'));
const SkillsShown = defineAsyncComponent(() => import('../work/SkillsShown.vue'));
const view = useUrlState<(typeof viewNames)[number]>('view', 'groups', oneOf(viewNames));
const courseId = useUrlState('course', null, idCode);
/** Groups that are compared; none: those below the scope. */
const besideIds = useUrlState('beside', [], idsCode);
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
/** Views that are no table have no file. */
const hasFile = computed(() => !forMarkers.includes(view.value) && view.value !== 'skills');
/** What is shown, as a file. */
const file = computed(() => {
  const params = { groupId: scope.groupId.value };
  if (view.value === 'learners') return addressOf('progressLearnersFile', { params, query: query.value });
  if (view.value === 'groups') return addressOf('progressFile', { params, query: query.value });
  return addressOf('progressInsideFile', {
    params,
    query: { ...query.value, ...(courseId.value === null ? {} : { courseId: courseId.value }) },
  });
});
const fileView = computed(() =>
  view.value === 'handed-in' || view.value === 'skills' || view.value === 'certificates' ? ('groups' as const) : view.value,
);
const workbook = computed(() =>
  addressOf('progressWorkbook', {
    params: { groupId: scope.groupId.value },
    query: {
      ...query.value,
      view: fileView.value,
      ...(view.value === 'beside' ? { groups: compared.value.join() } : {}),
      ...(view.value === 'course' && courseId.value !== null ? { courseId: courseId.value } : {}),
    },
  }),
);
/** What is shown, for keeping it under a name. */
const sort = useUrlState<ShownView['sort']>('sort', 'name', oneOf(['name', '-name', '-active']));
const shown = computed<ShownView>(() => ({
  view: view.value,
  subgroups: scope.query.value.subgroups,
  filter: filter.value,
  courseId: courseId.value,
  groups: besideIds.value,
  sort: sort.value,
}));
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
      <KeptViews :shown="shown" class="export" />
      <v-menu v-if="hasFile && session.hasPower('export')">
        <template #activator="{ props: activator }">
          <v-btn v-bind="activator">{{ words.progress.takeAway }}</v-btn>
        </template>
        <v-list>
          <v-list-item v-if="view !== 'beside'" :href="file" download :title="words.progress.asCsv" />
          <v-list-item :href="workbook" download :title="words.progress.asWorkbook" />
        </v-list>
      </v-menu>
    </div>
    <ProgressNews />
    <FilterChips v-model="filter" class="filters" :group-id="scope.groupId.value">
      <ReportOf v-if="speaksOf" :report="speaksOf" :query="query" />
    </FilterChips>
    <LearnersTable v-if="view === 'learners'" :query="query" @speaks-of="speaksOf = $event" />
    <SkillsShown v-else-if="view === 'skills'" :query="query" @speaks-of="speaksOf = $event" />
    <InsideCourse v-else-if="view === 'course'" :query="query" @speaks-of="speaksOf = $event" />
    <SideBySide
      v-else-if="view === 'beside'"
      v-model="besideIds"
      :query="query"
      @groups="compared = $event"
      @speaks-of="speaksOf = $event"
    />
    <ByGroup v-else :query="query" :waits="waits" @speaks-of="speaksOf = $event" />
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
.filters {
  margin: 8px 0 12px;
}
@media (max-width: 960px) {
  .progress {
    padding: 12px 14px;
  }
}
</style>
