<script setup lang="ts">
import { courseSorts, courseStates } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { idCode, oneOf, textCode, useUrlState } from '../shell/url-state.ts';
import { showNumber } from '../ui/format.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import { useRoute } from 'vue-router';

/** All courses, found and sorted, with how they stand in the scope; the course sets above them. */
const AddCourses = defineAsyncComponent(() => import('./AddCourses.vue'));
const TakeFeed = defineAsyncComponent(() => import('./TakeFeed.vue'));
const MakeCourseSet = defineAsyncComponent(() => import('./MakeCourseSet.vue'));
const w = words.catalogue;
const scope = useScope();
const session = useSession();
const route = useRoute();
const typed = useUrlState('words', '', textCode);
const subject = useUrlState('subject', '', textCode);
const tag = useUrlState('tag', '', textCode);
const setId = useUrlState('set', null, idCode);
const state = useUrlState<(typeof courseStates)[number]>('state', 'active', oneOf(courseStates));
const sort = useUrlState<(typeof courseSorts)[number]>('sort', 'name', oneOf(courseSorts));
const panel = ref<'courses' | 'set' | 'feed' | null>(null);
const question = computed(() => ({
  ...scope.query.value,
  words: typed.value,
  state: state.value,
  sort: sort.value,
  ...(subject.value === '' ? {} : { subject: subject.value }),
  ...(tag.value === '' ? {} : { tag: tag.value }),
  ...(setId.value === null ? {} : { setId: setId.value }),
}));
const params = computed(() => ({ groupId: scope.groupId.value }));
const { data, error, isPending, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['access', scope.groupId, 'courses', question],
  queryFn: ({ pageParam, signal }) => call('courses', { params: params.value, query: { ...question.value, after: pageParam } }, signal),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
  placeholderData: keepPreviousData,
});
const first = computed(() => data.value?.pages[0]);
const courses = computed(() => data.value?.pages.flatMap((page) => page.courses) ?? []);
const pages = { hasNextPage, isFetchingNextPage, fetchNextPage };

/** Numbers begin with the largest. */
const columns: readonly ListColumn[] = [
  { key: 'name', title: words.courses.course, sorts: ['name', '-name'] },
  { key: 'code', title: w.code, sorts: ['code', '-code'], roomFrom: 700 },
  { key: 'subject', title: w.subject, sorts: ['subject', '-subject'], roomFrom: 800 },
  { key: 'terms', title: w.terms, roomFrom: 940 },
  { key: 'units', title: w.units, isNumber: true, roomFrom: 860 },
  { key: 'openedAt', title: w.openedAt, isNumber: true, sorts: ['-openedAt', 'openedAt'], roomFrom: 620 },
  { key: 'learners', title: w.learners, isNumber: true, sorts: ['-learners', 'learners'] },
  { key: 'underWay', title: w.underWay, isNumber: true, roomFrom: 520 },
  { key: 'done', title: w.done, isNumber: true },
  { key: 'overdue', title: w.overdue, isNumber: true },
];
const shown = (count: number | undefined): string => (count === undefined ? '' : showNumber(count));
const to = (part: 'courses' | 'sets', thing: number) => ({
  name: 'access',
  params: { groupId: scope.groupId.value, part, thing },
  query: keptQuery(route.query),
});
const subjects = computed(() => [
  { value: '', title: w.anySubject },
  ...(first.value?.subjects ?? []).map((name) => ({ value: name, title: name })),
]);
const tags = computed(() => [{ value: '', title: w.anyTag }, ...(first.value?.tags ?? []).map((name) => ({ value: name, title: name }))]);
const sets = computed(() => [
  { value: null, title: w.anySet },
  ...(first.value?.sets ?? []).map(({ id, name }) => ({ value: id, title: name })),
]);
const states = courseStates.map((value) => ({ value, title: w.states[value] }));
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ w.title }}</h1>
        <div class="acts">
          <a v-if="session.hasPower('export')" class="plain-link" :href="addressOf('coursesFile', { params, query: question })" download>{{
            words.common.exportCsv
          }}</a>
          <v-btn v-if="first?.mayEdit" @click="panel = 'feed'">{{ words.courseFeed.open }}</v-btn>
          <v-btn v-if="first?.mayEdit" @click="panel = 'set'">{{ w.makeSet }}</v-btn>
          <v-btn v-if="first?.mayEdit || first?.ownHome" variant="flat" @click="panel = 'courses'">{{
            first.mayEdit ? words.makeCourses.title : w.makeOwn(first.ownHome?.name ?? '')
          }}</v-btn>
        </div>
      </div>
      <div v-if="first && first.sets.length > 0" class="sets">
        <span class="soft">{{ w.sets }}</span>
        <router-link v-for="set in first.sets" :key="set.id" class="set" :to="to('sets', set.id)" :aria-label="w.openSet(set.name)">
          {{ set.name }} <span class="num soft">{{ set.courses }}</span>
        </router-link>
      </div>
      <div class="filters">
        <v-text-field v-model="typed" class="find" type="search" :label="w.search" clearable @click:clear="typed = ''" />
        <v-select v-model="subject" class="pick" :items="subjects" :label="w.subject" />
        <v-select v-if="tag !== '' || tags.length > 1" v-model="tag" class="pick" :items="tags" :label="w.tags" />
        <v-select v-model="setId" class="pick" :items="sets" :label="w.set" />
        <v-select v-model="state" class="pick" :items="states" :label="w.state" />
        <span v-if="first" class="soft" role="status">{{ w.counts(first.fit, first.all) }}</span>
      </div>
      <LoadState v-if="!first" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="courses.length === 0" class="soft">{{ first.all === 0 ? w.noneYet : w.none }}</p>
      <DataList
        v-else
        v-model:sort="sort"
        :label="w.title"
        :columns="columns"
        :rows="courses"
        :count="first.fit"
        :row-pixels="37"
        :pages="pages"
      >
        <template #name="{ row: course }">
          <router-link class="name" :to="to('courses', course.id)">{{ course.name }}</router-link>
          <span v-for="each in course.tags" :key="each" class="tag">{{ each }}</span>
          <span v-if="course.home" class="soft">{{ ` ${w.ownOf(course.home.name)}` }}</span>
          <span v-if="course.archived" class="soft">{{ ` ${w.archived}` }}</span>
        </template>
        <template #code="{ row: course }"
          ><span class="code">{{ course.code }}</span></template
        >
        <template #subject="{ row: course }">{{ course.subject }}</template>
        <template #terms="{ row: course }"
          ><span class="soft">{{ w.termsOf[course.terms] }}</span></template
        >
        <template #units="{ row: course }">{{ course.units }}</template>
        <template #openedAt="{ row: course }">{{ course.openedAt }}</template>
        <template #learners="{ row: course }">{{ shown(course.standing?.all) }}</template>
        <template #underWay="{ row: course }">{{ shown(course.standing?.underWay) }}</template>
        <template #done="{ row: course }"
          ><span class="good">{{ shown(course.standing?.done) }}</span></template
        >
        <template #overdue="{ row: course }"
          ><span :class="{ late: (course.standing?.overdue ?? 0) > 0 }">{{ shown(course.standing?.overdue) }}</span></template
        >
      </DataList>
    </main>
    <aside v-if="panel" class="panel">
      <AddCourses v-if="panel === 'courses' && first" :home="first.ownHome" :may-for-all="first.mayEdit" @close="panel = null" />
      <TakeFeed v-else-if="panel === 'feed'" @close="panel = null" />
      <MakeCourseSet v-else @close="panel = null" />
    </aside>
  </div>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 14px;
  align-items: center;
}
.sets {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  align-items: center;
}
.set {
  border: 1px solid var(--rule);
  border-radius: 999px;
  padding: 4px 12px;
  background: var(--sheet);
  color: var(--tide);
  text-decoration: none;
}
.filters {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.find {
  flex: 0 1 260px;
  min-width: 160px;
}
.pick {
  flex: 0 1 200px;
  min-width: 140px;
}
.name {
  color: var(--tide);
  font-weight: 600;
}
.code {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
  font-size: 13.5px;
}
</style>
