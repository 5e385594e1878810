<script setup lang="ts">
import type { Answer, GroupSheet, PeopleFilter, Routes } from '@gate-roster/contract';
import { useInfiniteQuery, keepPreviousData } from '@tanstack/vue-query';
import { computed, defineAsyncComponent } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import ProgressBar from '../ui/ProgressBar.vue';
import { personName, showAgo, showDay, showMoment, showNumber } from '../ui/format.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import { useSelection } from '../ui/selection.ts';
import * as words from '../words.ts';
import { useSession } from '../shell/session.ts';
import { useChosen } from './chosen.ts';
import PeopleTools from './PeopleTools.vue';
import { usePeopleFilter } from './use-people-filter.ts';
const ChosenPeople = defineAsyncComponent(() => import('./ChosenPeople.vue'));

const { group, notCounted, personId } = defineProps<{
  group: GroupSheet;
  notCounted: GroupSheet['people']['notCounted'];
  personId: number | null;
}>();
const counted = defineModel<PeopleFilter['counted']>('counted', { required: true });
const emit = defineEmits<{ person: [id: number | null] }>();
const scope = useScope();
const { parts, search, fits, sort, listId, isNarrowed, query: filter } = usePeopleFilter(counted);
const session = useSession();
const pageSize = 100;

const { data, error, isPending, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['people', scope.groupId, filter],
  queryFn: ({ pageParam, signal }) =>
    call(
      'groupPeople',
      { params: { groupId: scope.groupId.value }, query: { ...filter.value, limit: pageSize, ...(pageParam ? { after: pageParam } : {}) } },
      signal,
    ),
  initialPageParam: '',
  getNextPageParam: (last) => last.next,
  placeholderData: keepPreviousData,
});
const people = computed(() => data.value?.pages.flatMap((page) => page.people) ?? []);
const matching = computed(() => data.value?.pages[0]?.matching ?? 0);
const total = computed(() => data.value?.pages[0]?.total ?? 0);

const pages = { hasNextPage, isFetchingNextPage, fetchNextPage };
const listed = computed(() => ({
  groupId: scope.groupId.value,
  subgroups: filter.value.subgroups,
  counted: filter.value.counted,
  countedOnly: false,
  filter: parts.value,
  fits: filter.value.fits,
}));
const selection = useSelection(people, { total: () => matching.value, of: () => listed.value });
const chosen = useChosen(selection, () => listed.value);

const isAtTop = computed(() => session.isAdministrator && group.path.length === 1);

const notCountedPeople = computed(() => notCounted.reduce((sum, { people: each }) => sum + each, 0));
const exportLink = computed(() => addressOf('groupPeopleFile', { params: { groupId: scope.groupId.value }, query: filter.value }));
type Listed = Answer<Routes['groupPeople']>['people'][number];
const groupsOf = (person: Listed): string =>
  person.groups
    .filter(({ id }) => id !== scope.groupId.value)
    .map(({ name }) => name)
    .join(', ');
const columns = computed((): ListColumn[] => [
  { key: 'name', title: words.people.name, sorts: ['name', '-name'] },
  group.below > 0
    ? { key: 'group', title: words.people.subgroup, roomFrom: 600 }
    : { key: 'email', title: words.people.email, roomFrom: 600 },
  { key: 'tags', title: words.people.tags, roomFrom: 760 },
  counted.value === 'no'
    ? { key: 'whyNot', title: words.people.whyNot, roomFrom: 960 }
    : { key: 'cameBy', title: words.people.cameInBy, roomFrom: 960 },
  { key: 'progress', title: words.areas.progress },
  { key: 'active', title: words.people.lastActive, sorts: ['-active', 'active'], roomFrom: 640 },
]);
</script>

<template>
  <section class="people" :aria-label="words.people.title">
    <PeopleTools
      v-model:search="search"
      v-model:parts="parts"
      v-model:fits="fits"
      v-model:counted="counted"
      :group="group"
      :list-id="listId"
      :matching="matching"
      :total="total"
      :export-link="exportLink"
    />
    <ChosenPeople
      v-if="selection.count.value > 0"
      :group="group"
      :chosen="chosen"
      :list-id="listId"
      :are-members="counted !== 'nowhere'"
      @done="selection.clear()"
    />
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <DataList
        v-model:sort="sort"
        class="list"
        :label="words.people.title"
        :columns="columns"
        :rows="people"
        :count="matching"
        :row-pixels="37"
        :pages="pages"
        :selection="selection"
        :label-of="(person) => (person ? words.people.choose(personName(person)) : words.people.chooseAll(matching))"
        :look-of="(person) => ({ open: person.id === personId })"
        can-open
        @open="emit('person', $event)"
        @all="selection.setAll()"
      >
        <template #name="{ row: person }">
          <button type="button" class="name" @click="emit('person', person.id)">{{ personName(person) }}</button>
        </template>
        <template #group="{ row: person }">{{ groupsOf(person) }}</template>
        <template #email="{ row: person }">{{ person.email ?? '' }}</template>
        <template #tags="{ row: person }">
          <span v-for="each in person.tags.slice(0, 2)" :key="each.id" class="tag"
            ><i v-if="each.colour" class="dot" :class="each.colour" aria-hidden="true" />{{ each.name }}</span
          ><span v-if="person.tags.length > 2" class="soft">{{ `+${person.tags.length - 2}` }}</span>
        </template>
        <template #cameBy="{ row: person }">
          <span :title="person.since ? showDay(person.since!) : undefined">{{
            words.people.came(person.cameBy, person.since ? showDay(person.since!) : '')
          }}</span>
        </template>
        <template #whyNot="{ row: person }">{{ person.notCounted ? words.people.reasons[person.notCounted] : '' }}</template>
        <template #progress="{ row: person }">
          <template v-if="person.all > 0">
            <ProgressBar :all="person.all" :done="person.done" :under-way="person.underWay" :overdue="person.overdue" />
            <span class="of"
              >{{ words.figures.ofAll(person.done, person.all)
              }}<template v-if="person.overdue > 0"
                >{{ ', ' }}<span class="late">{{ words.figures.overdue(person.overdue) }}</span></template
              ></span
            >
          </template>
          <span v-else class="soft">{{ words.figures.noCourses }}</span>
        </template>
        <template #active="{ row: person }">
          <span class="soft" :title="person.activeAt ? showMoment(person.activeAt!) : undefined">
            {{ person.activeAt ? showAgo(person.activeAt!) : words.people.neverActive }}
          </span>
        </template>
      </DataList>
      <p v-if="people.length === 0" class="empty">
        {{ isNarrowed ? words.people.noneMatch : counted === 'nowhere' ? words.people.noneNowhere : words.people.none }}
      </p>
    </template>
    <p class="foot soft">
      {{ words.people.footer(showNumber(matching), group.name) }}
      <button v-if="notCountedPeople > 0 && counted === 'yes'" type="button" class="plain-link" @click="counted = 'no'">
        {{ words.people.notCounted(notCounted) }}
      </button>
      <button v-if="isAtTop && counted === 'yes'" type="button" class="plain-link nowhere" @click="counted = 'nowhere'">
        {{ words.people.nowhere }}
      </button>
      <span v-if="counted === 'nowhere'">{{ words.people.nowhereWhat }}</span>
    </p>
  </section>
</template>

<style scoped>
.people {
  border: 1px solid var(--rule);
  border-top: 0;
  flex: 1;
  display: flex;
  flex-direction: column;
  min-height: 260px;
}
.nowhere {
  margin-left: 12px;
}
.dot {
  display: inline-block;
  width: 8px;
  height: 8px;
  border-radius: 2px;
  margin-right: 5px;
}
.list {
  flex: 1;
  border: 0;
  border-radius: 0;
}
.name {
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  padding: 0;
  text-align: left;
}
.name:hover {
  text-decoration: underline;
  color: var(--tide);
}
:deep(tr.open td) {
  box-shadow: inset 0 0 0 9999px color-mix(in srgb, var(--tide) 7%, transparent);
}
.tag {
  font-size: 12.5px;
  border-radius: 4px;
  padding: 1px 7px;
  background: var(--paper2);
  margin-right: 4px;
}
.of {
  margin-left: 8px;
}
.list .bar {
  width: 76px;
}
.empty {
  padding: 24px 14px;
}
.foot {
  padding: 8px 14px;
  font-size: 14px;
  border-top: 1px solid var(--rule);
}
</style>
