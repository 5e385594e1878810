<script setup lang="ts">
import { mdiMagnify } from '@mdi/js';
import type { GroupSheet, PeopleFilter } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { useInfiniteQuery, useQueryClient, keepPreviousData } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch, defineAsyncComponent } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import FilterChips from '../filters/FilterChips.vue';
import { filterCode, useFilter } from '../filters/use-filter.ts';
import LoadState from '../ui/LoadState.vue';
import ProgressBar from '../ui/ProgressBar.vue';
import { personName, showAgo, showDay, showMoment, showNumber } from '../ui/format.ts';
import { usePagedRows } from '../ui/paged-rows.ts';
import * as words from '../words.ts';
import { useSession } from '../shell/session.ts';
import { tell } from '../ui/notice.ts';
import { chooseAll } from './choose-all.ts';
const TagsDialog = defineAsyncComponent(() => import('./TagsDialog.vue'));
const ChosenPeople = defineAsyncComponent(() => import('./ChosenPeople.vue'));

const { group, notCounted, personId } = defineProps<{
  group: GroupSheet;
  notCounted: GroupSheet['people']['notCounted'];
  personId: number | null;
}>();
const counted = defineModel<PeopleFilter['counted']>('counted', { required: true });
const emit = defineEmits<{ person: [id: number | null] }>();
const scope = useScope();
const queries = useQueryClient();
const parts = useFilter();
/** What is typed in the search field is a part of the filter like the others. */
const search = ref(parts.value.find((part) => part.part === 'words')?.text ?? '');
const settled = refDebounced(search, 200);
watch(settled, (typed) => {
  const text = (typed ?? '').trim();
  const others = parts.value.filter(({ part }) => part !== 'words');
  parts.value = text === '' ? others : [...others, { part: 'words', text }];
});
const fits = useUrlState<PeopleFilter['fits']>('fits', 'yes', oneOf(['yes', 'no']));
const sort = useUrlState<PeopleFilter['sort']>('sort', 'name', oneOf(['name', '-name', '-active']));
/** One of the reader's own lists, when the filter names it: people can be taken off it. */
const list = computed(
  () => parts.value.find((part): part is Extract<FilterPart, { part: 'list' }> => part.part === 'list' && part.how === 'in')?.id ?? null,
);
const isManagingTags = ref(false);
const session = useSession();
const pageSize = 100;
const rowPixels = 37;

const filter = computed(() => ({
  ...scope.query.value,
  counted: counted.value,
  sort: sort.value,
  filter: filterCode.write(parts.value),
  fits: parts.value.length === 0 ? ('yes' as const) : fits.value,
}));
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

async function dropList(): Promise<void> {
  if (list.value === null) return;
  await call('dropList', { params: { listId: list.value } });
  parts.value = parts.value.filter((part) => part.part !== 'list' || part.id !== list.value);
  tell(words.people.listDropped);
  await Promise.all(['lists', 'filter-names'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
}
const isNarrowed = computed(() => parts.value.length > 0);
/** Of how many the list speaks. */
const sentence = computed(() =>
  isNarrowed.value && fits.value === 'no'
    ? words.filters.others(matching.value, total.value)
    : words.filters.sentence(matching.value, total.value, counted.value === 'yes' ? 'learner' : 'person'),
);
const isAtTop = computed(() => session.isAdministrator && group.path.length === 1);

function sortBy(column: 'name' | 'active'): void {
  sort.value = column === 'active' ? '-active' : sort.value === 'name' ? '-name' : 'name';
}
const notCountedPeople = computed(() => notCounted.reduce((sum, { people: each }) => sum + each, 0));
const exportLink = computed(() => addressOf('groupPeopleFile', { params: { groupId: scope.groupId.value }, query: filter.value }));
const groupName = (id: number, name: string): string => (id === scope.groupId.value ? '' : name);
</script>

<template>
  <section class="people" :aria-label="words.people.title">
    <div class="tools">
      <v-text-field v-model="search" class="search" :label="words.people.search" :prepend-inner-icon="mdiMagnify" clearable />
      <FilterChips v-model="parts" :group-id="group.id" />
      <v-btn v-if="list !== null" variant="text" @click="dropList">{{ words.people.dropList }}</v-btn>
      <v-btn v-if="group.may.managePeople" variant="text" @click="isManagingTags = true">{{ words.filters.manageTags }}</v-btn>
      <v-chip v-if="counted !== 'yes'" closable :close-label="words.people.backToCounted" color="primary" @click:close="counted = 'yes'">{{
        counted === 'no' ? words.people.notCountedChip : words.people.nowhere
      }}</v-chip>
      <span class="shown soft"
        >{{ sentence }}
        <button v-if="isNarrowed && fits === 'no'" type="button" class="plain-link" @click="fits = 'yes'">
          {{ words.filters.backToFitting }}
        </button>
        <button v-else-if="matching < total" type="button" class="plain-link" @click="fits = 'no'">{{ words.filters.who }}</button>
      </span>
      <a v-if="group.may.export" class="export" :href="exportLink" download>{{ words.common.export }}</a>
    </div>
    <ChosenPeople
      v-if="selection.count.value > 0"
      :group="group"
      :person-ids="[...selection.chosen.value]"
      :list-id="list"
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
    <TagsDialog v-if="isManagingTags" :group-id="group.id" @close="isManagingTags = false" />
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
.tools {
  display: flex;
  gap: 12px;
  padding: 10px 14px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  min-height: 60px;
  flex-wrap: wrap;
}
.search {
  max-width: 280px;
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
.shown {
  margin-left: auto;
  font-size: 14px;
}
.export {
  color: var(--tide);
  font-weight: 600;
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
