<script setup lang="ts">
import type { RowKind, ScoreKind, TakenView } from '@gate-roster/contract';
import type { Filter } from '@gate-roster/core';
import { computed, ref } from 'vue';
import { useFilterWords } from '../filters/filter-words.ts';
import { useSession } from '../shell/session.ts';
import { useScope } from '../shell/scope.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import { saveFile } from '../ui/save-file.ts';
import * as words from '../words.ts';
import type { ReportQuery } from './shown-view.ts';

/** What is shown, as a file: with this filter, which is written in it. */
const { view, query, filter, courseId, groups, sort, rows, scores, unfold } = defineProps<{
  view: TakenView;
  query: ReportQuery;
  filter: Filter;
  courseId: number | null;
  /** Those that stand side by side. */
  groups: readonly number[];
  sort: 'name' | '-name' | '-active';
  rows: RowKind;
  scores: ScoreKind;
  unfold: readonly number[];
}>();
const w = words.progress;
const scope = useScope();
const session = useSession();
const count = useUrlState<'own' | 'common'>('count', 'own', oneOf(['own', 'common']));
const says = useFilterWords(() => filter);
const mostSaid = 2000;
/** What can be taken away; each says how it is fetched, under which ending. */
const files = computed((): { title: string; save: () => Promise<void> }[] => {
  const params = { groupId: scope.groupId.value };
  const asRows = view === 'groups' ? { rows, scores, unfold: unfold.join() } : {};
  const asked = {
    ...query,
    ...asRows,
    view,
    sort,
    ...(view === 'beside' ? { groups: groups.join(), count: count.value } : {}),
    ...(view === 'course' && courseId !== null ? { courseId } : {}),
    ...(filter.length === 0 ? {} : { says: says.value.join('; ').slice(0, mostSaid) }),
  };
  const name = (ending: string): string => `${view}-${params.groupId}-${query.day ?? session.me?.today ?? ''}.${ending}`;
  const course = courseId === null ? {} : { courseId };
  const csv = {
    groups: () => saveFile('progressFile', { params, query: { ...query, ...asRows } }, name('csv')),
    learners: () => saveFile('progressLearnersFile', { params, query: { ...query, sort } }, name('csv')),
    course: () => saveFile('progressInsideFile', { params, query: { ...query, ...course } }, name('csv')),
    beside: null,
  }[view];
  const paper = (size: 'A4' | 'Letter') => () => saveFile('progressPdf', { params, query: { ...asked, paper: size } }, name('pdf'));
  const hasSheets = view !== 'beside' && query.subgroups === 'yes';
  return [
    ...(csv ? [{ title: w.asCsv, save: csv }] : []),
    { title: w.asWorkbook, save: () => saveFile('progressWorkbook', { params, query: asked }, name('xlsx')) },
    ...(hasSheets
      ? [{ title: w.asSheets, save: () => saveFile('progressWorkbook', { params, query: { ...asked, sheets: 'groups' } }, name('xlsx')) }]
      : []),
    { title: w.asPaper.A4, save: paper('A4') },
    { title: w.asPaper.Letter, save: paper('Letter') },
    { title: w.asJson, save: () => saveFile('progressJson', { params, query: asked }, name('json')) },
  ];
});
const isBusy = ref(false);
/** A past day may have to be made first, and a large file takes a while; a file that cannot be made says so here. */
async function take(save: () => Promise<void>): Promise<void> {
  isBusy.value = true;
  try {
    await save();
  } catch (error) {
    tell(failureWords(error));
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <v-menu>
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :loading="isBusy">{{ w.takeAway }}</v-btn>
    </template>
    <v-list>
      <v-list-item v-for="file in files" :key="file.title" :title="file.title" @click="take(file.save)" />
    </v-list>
  </v-menu>
</template>
