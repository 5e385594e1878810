<script setup lang="ts">
import type { AccessGrid, GrantDraft } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';
import GrantFields from './GrantFields.vue';
import { type AccessDraft, ofKey, sameInAll } from './use-access-draft.ts';

/** The statements of the draft, each with its days, units, due day and reach; what all of them say can be set once. */
const { grid, draft } = defineProps<{ grid: AccessGrid; draft: AccessDraft }>();
/** The statement whose fields are open: its key, or all of them together. */
const open = ref<string | null>(null);
const all = 'all';
const list = computed(() =>
  [...draft.cells.value].map(([key, cell]) => {
    const { groupId, courseId } = ofKey(key);
    return {
      key,
      groupId,
      courseId,
      cell,
      group: grid.rows.find(({ id }) => id === groupId)?.name ?? '',
      course: grid.courses.find(({ id }) => id === courseId),
      hasBelow: grid.rows.some(({ parentId }) => parentId === groupId),
      more: cell.more ?? {},
    };
  }),
);
type Item = (typeof list.value)[number];
/** Statements that begin: those that only end something say nothing else. */
const beginning = computed(() => list.value.flatMap((item) => (item.cell.effect === 'end' ? [] : [{ ...item, effect: item.cell.effect }])));

const session = useSession();
const today = computed(() => session.me?.today ?? '');
const top = computed(() => grid.rows.find(({ isAbove }) => !isAbove)?.id ?? 0);
const { data: seats } = useQuery({
  queryKey: ['seats', top],
  queryFn: ({ signal }) => call('seats', { params: { groupId: top.value } }, signal),
});
const licencesOf = (courseIds: readonly number[]) =>
  (seats.value?.licences ?? []).filter(
    ({ courses, lastDay }) => courseIds.some((id) => courses.includes(id)) && (lastDay === null || lastDay >= today.value),
  );

const refine = (item: Item, more: Partial<GrantDraft>): void => draft.refine([item], more);
/** A licence goes to the courses that it covers only. */
function refineAll(more: Partial<GrantDraft>): void {
  const licence = seats.value?.licences.find(({ id }) => id === more.payers?.licences[0]);
  draft.refine(licence ? beginning.value.filter(({ courseId }) => licence.courses.includes(courseId)) : beginning.value, more);
}
</script>

<template>
  <div v-if="beginning.length > 1" class="all">
    <button type="button" class="plain-link" :aria-expanded="open === all" @click="open = open === all ? null : all">
      {{ words.access.refineAll(beginning.length) }}
    </button>
    <GrantFields
      v-if="open === all"
      :more="sameInAll(beginning.map(({ more }) => more))"
      :effects="beginning.map(({ effect }) => effect)"
      :licences="licencesOf(beginning.map(({ courseId }) => courseId))"
      :has-below="beginning.some(({ hasBelow }) => hasBelow)"
      @refine="refineAll"
    />
  </div>
  <ul class="plain-list">
    <li v-for="item in list" :key="item.key" class="item">
      <p>
        {{ words.access.says[item.cell.effect] }} <b>{{ item.course?.name }}</b> {{ words.access.forGroup }} <b>{{ item.group }}</b>{{
          item.hasBelow && item.cell.effect !== 'end'
            ? item.more.withSubgroups === false
              ? words.access.alone
              : words.access.withSubgroups
            : ''
        }}<span v-if="item.cell.effect !== 'end'" class="soft">{{
          words.access.draftFacts(
            item.more,
            item.course?.units.length ?? 0,
            grid.licences.concat(seats?.licences ?? []).find(({ id }) => id === item.more.payers?.licences[0])?.name,
          )
        }}</span>
        <span class="acts">
          <button
            v-if="item.cell.effect !== 'end'"
            type="button"
            class="plain-link"
            :aria-expanded="open === item.key"
            :aria-label="words.access.refineOf(item.course?.name ?? '', item.group)"
            @click="open = open === item.key ? null : item.key"
          >
            {{ words.access.refine }}
          </button>
          <button type="button" class="plain-link" @click="draft.put(item.groupId, item.courseId, null)">{{ words.access.dropIt }}</button>
        </span>
      </p>
      <GrantFields
        v-if="open === item.key && item.cell.effect !== 'end'"
        :more="item.more"
        :effects="[item.cell.effect]"
        :course="item.course"
        :licences="licencesOf([item.courseId])"
        :has-below="item.hasBelow"
        @refine="refine(item, $event)"
      />
    </li>
  </ul>
</template>

<style scoped>
.all {
  padding: 4px 0 8px;
  border-bottom: 1px solid var(--rule);
}
.item {
  padding: 6px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
}
</style>
