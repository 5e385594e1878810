<script setup lang="ts">
import { courseSorts, courseStates } from '@gate-roster/contract';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref, useTemplateRef, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { idCode, oneOf, textCode, useUrlState } from '../shell/url-state.ts';
import { showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { useVirtualRows } from '../ui/virtual-rows.ts';
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
const scroller = useTemplateRef<HTMLElement>('scroller');
const { items, spaceAbove, spaceBelow } = useVirtualRows(scroller, () => courses.value.length, 37);
watch(items, (list) => {
  const last = list.at(-1);
  if (last && last.index >= courses.value.length - 20 && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage();
});
const drawn = computed(() => items.value.flatMap(({ index }) => courses.value[index] ?? []));

type Column = { key: 'name' | 'code' | 'subject' | 'learners' | 'openedAt'; title: string; isNumber?: boolean };
const columns: readonly Column[] = [
  { key: 'name', title: words.courses.course },
  { key: 'code', title: w.code },
  { key: 'subject', title: w.subject },
];
const numbers: readonly Column[] = [
  { key: 'openedAt', title: w.openedAt, isNumber: true },
  { key: 'learners', title: w.learners, isNumber: true },
];
const mark = (key: Column['key']): string => (sort.value === key ? ' ↑' : sort.value === `-${key}` ? ' ↓' : '');
const isSorted = (key: Column['key']) => (sort.value === key ? 'ascending' : sort.value === `-${key}` ? 'descending' : 'none');
/** Numbers begin with the largest. */
function sortBy({ key, isNumber = false }: Column): void {
  sort.value = isNumber ? (sort.value === `-${key}` ? key : `-${key}`) : sort.value === key ? `-${key}` : key;
}
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
      <div v-else ref="scroller" class="scroll" tabindex="0" role="region" :aria-label="w.title">
        <table class="rows" :aria-rowcount="first.fit + 1">
          <thead>
            <tr>
              <th v-for="column in columns" :key="column.key" :aria-sort="isSorted(column.key)">
                <button type="button" class="sorter" @click="sortBy(column)">{{ column.title }}{{ mark(column.key) }}</button>
              </th>
              <th>{{ w.terms }}</th>
              <th class="num">{{ w.units }}</th>
              <th v-for="column in numbers" :key="column.key" class="num" :aria-sort="isSorted(column.key)">
                <button type="button" class="sorter" @click="sortBy(column)">{{ column.title }}{{ mark(column.key) }}</button>
              </th>
              <th class="num">{{ w.underWay }}</th>
              <th class="num">{{ w.done }}</th>
              <th class="num">{{ w.overdue }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-if="spaceAbove > 0" aria-hidden="true">
              <td colspan="10" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
            </tr>
            <tr v-for="course in drawn" :key="course.id">
              <td class="name">
                <router-link :to="to('courses', course.id)">{{ course.name }}</router-link>
                <span v-for="each in course.tags" :key="each" class="tag">{{ each }}</span>
                <span v-if="course.home" class="soft">{{ ` ${w.ownOf(course.home.name)}` }}</span>
                <span v-if="course.archived" class="soft">{{ ` ${w.archived}` }}</span>
              </td>
              <td class="code">{{ course.code }}</td>
              <td>{{ course.subject }}</td>
              <td class="soft">{{ w.termsOf[course.terms] }}</td>
              <td class="num">{{ course.units }}</td>
              <td class="num">{{ course.openedAt }}</td>
              <template v-if="course.standing">
                <td class="num">{{ showNumber(course.standing.all) }}</td>
                <td class="num">{{ showNumber(course.standing.underWay) }}</td>
                <td class="num good">{{ showNumber(course.standing.done) }}</td>
                <td class="num" :class="{ late: course.standing.overdue > 0 }">{{ showNumber(course.standing.overdue) }}</td>
              </template>
              <td v-else colspan="4" />
            </tr>
            <tr v-if="spaceBelow > 0" aria-hidden="true">
              <td colspan="10" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
            </tr>
          </tbody>
        </table>
      </div>
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
.rows td {
  height: 37px;
  padding-block: 0;
  white-space: nowrap;
}
.name a {
  color: var(--tide);
  font-weight: 600;
}
.code {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
  font-size: 13.5px;
}
.sorter {
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
</style>
