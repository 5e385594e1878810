<script setup lang="ts">
import type { GroupSheet, PeopleFilter } from '@gate-roster/contract';
import { useInfiniteQuery, keepPreviousData } from '@tanstack/vue-query';
import { computed, useTemplateRef, watch, defineAsyncComponent } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import ProgressBar from '../ui/ProgressBar.vue';
import { personName, showAgo, showDay, showMoment, showNumber } from '../ui/format.ts';
import { usePagedRows } from '../ui/paged-rows.ts';
import * as words from '../words.ts';
import { useSession } from '../shell/session.ts';
import { chooseAll } from './choose-all.ts';
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
const { parts, search, fits, sort, sortBy, listId, isNarrowed, query: filter } = usePeopleFilter(counted);
const session = useSession();
const pageSize = 100;
const rowPixels = 37;

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

const scroller = useTemplateRef<HTMLElement>('scroller');
const { drawn, spaceAbove, spaceBelow, selection, isAllChosen, onKey } = usePagedRows(
  scroller,
  people,
  { hasNextPage, isFetchingNextPage, fetchNextPage },
  rowPixels,
  (id) => {
    emit('person', id);
  },
);
watch([scope.groupId, filter], () => {
  selection.clear();
});

const isAtTop = computed(() => session.isAdministrator && group.path.length === 1);

const notCountedPeople = computed(() => notCounted.reduce((sum, { people: each }) => sum + each, 0));
const exportLink = computed(() => addressOf('groupPeopleFile', { params: { groupId: scope.groupId.value }, query: filter.value }));
const groupName = (id: number, name: string): string => (id === scope.groupId.value ? '' : name);
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
      :person-ids="[...selection.chosen.value]"
      :list-id="listId"
      :are-members="counted !== 'nowhere'"
      @done="selection.clear()"
    />
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <div v-else ref="scroller" class="scroller" tabindex="0" role="region" :aria-label="words.people.title">
      <table :aria-rowcount="matching + 1">
        <thead>
          <tr>
            <th class="box">
              <v-checkbox-btn
                density="compact"
                :model-value="isAllChosen"
                :indeterminate="!isAllChosen && selection.count.value > 0"
                :aria-label="words.people.chooseAll(matching)"
                @update:model-value="$event ? chooseAll(selection, scope.groupId.value, filter, matching) : selection.clear()"
              />
            </th>
            <th :aria-sort="sort === 'name' ? 'ascending' : sort === '-name' ? 'descending' : 'none'">
              <button type="button" @click="sortBy('name')">
                {{ words.people.name }}{{ sort === 'name' ? ' ↑' : sort === '-name' ? ' ↓' : '' }}
              </button>
            </th>
            <th>{{ group.below > 0 ? words.people.subgroup : words.people.email }}</th>
            <th>{{ words.people.tags }}</th>
            <th>{{ counted === 'no' ? words.people.whyNot : words.people.cameInBy }}</th>
            <th>{{ words.areas.progress }}</th>
            <th :aria-sort="sort === '-active' ? 'descending' : 'none'">
              <button type="button" @click="sortBy('active')">{{ words.people.lastActive }}{{ sort === '-active' ? ' ↓' : '' }}</button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="spaceAbove > 0" aria-hidden="true">
            <td colspan="7" :style="{ height: `${spaceAbove}px`, padding: 0 }" />
          </tr>
          <tr
            v-for="{ row: person, index } in drawn"
            :key="person.id"
            :data-row="index"
            :aria-rowindex="index + 2"
            :class="{ sel: selection.has(person.id), open: person.id === personId }"
            :tabindex="index === 0 ? 0 : -1"
            @keydown="onKey($event, index)"
          >
            <td class="box" @click="selection.click(index, $event.shiftKey)">
              <v-checkbox-btn
                density="compact"
                readonly
                :model-value="selection.has(person.id)"
                :aria-label="words.people.choose(personName(person))"
                @keydown.space.prevent.stop="selection.click(index, $event.shiftKey)"
              />
            </td>
            <td>
              <button type="button" class="name" @click="emit('person', person.id)">
                {{ personName(person) }}
              </button>
            </td>
            <td>
              {{
                group.below > 0
                  ? person.groups
                      .map(({ id, name }) => groupName(id, name))
                      .filter(Boolean)
                      .join(', ')
                  : (person.email ?? '')
              }}
            </td>
            <td>
              <span v-for="each in person.tags.slice(0, 2)" :key="each.id" class="tag"
                ><i v-if="each.colour" class="dot" :class="each.colour" aria-hidden="true" />{{ each.name }}</span
              ><span v-if="person.tags.length > 2" class="soft">{{ `+${person.tags.length - 2}` }}</span>
            </td>
            <td v-if="counted !== 'no'" :title="person.since ? showDay(person.since!) : undefined">
              {{ words.people.came(person.cameBy, person.since ? showDay(person.since!) : '') }}
            </td>
            <td v-else>{{ person.notCounted ? words.people.reasons[person.notCounted] : '' }}</td>
            <td>
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
            </td>
            <td class="soft" :title="person.activeAt ? showMoment(person.activeAt!) : undefined">
              {{ person.activeAt ? showAgo(person.activeAt!) : words.people.neverActive }}
            </td>
          </tr>
          <tr v-if="spaceBelow > 0" aria-hidden="true">
            <td colspan="7" :style="{ height: `${spaceBelow}px`, padding: 0 }" />
          </tr>
        </tbody>
      </table>
      <p v-if="people.length === 0" class="empty">
        {{ isNarrowed ? words.people.noneMatch : counted === 'nowhere' ? words.people.noneNowhere : words.people.none }}
      </p>
    </div>
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
.scroller {
  overflow: auto;
  flex: 1;
  min-height: 0;
}
.scroller:focus-visible {
  outline-offset: -2px;
}
/* Where there is less room, columns leave one after the other instead of being cut: came in by, tags, last active, group. */
.scroller {
  container-type: inline-size;
}
@container (max-width: 960px) {
  :is(th, td):nth-child(5) {
    display: none;
  }
}
@container (max-width: 760px) {
  :is(th, td):nth-child(4) {
    display: none;
  }
}
@container (max-width: 640px) {
  :is(th, td):nth-child(7) {
    display: none;
  }
}
@container (max-width: 600px) {
  :is(th, td):nth-child(3) {
    display: none;
  }
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 14.5px;
}
th {
  text-align: left;
  font-weight: 600;
  color: var(--ink2);
  font-size: 13px;
  padding: 6px 8px;
  border-bottom: 1px solid var(--rule);
  background: var(--sheet);
  position: sticky;
  top: 0;
  z-index: 1;
  white-space: nowrap;
}
th button,
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
td {
  padding: 0 8px;
  height: 37px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 60%, transparent);
  white-space: nowrap;
}
.box {
  width: 40px;
  padding: 0 0 0 8px;
}
tr.sel td {
  background: var(--tide2);
}
tr.open td {
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
td .bar {
  width: 76px;
}
.box + td,
.box + th {
  padding-left: 2px;
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
