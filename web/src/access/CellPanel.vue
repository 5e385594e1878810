<script setup lang="ts">
import type { AccessGrid, Statement } from '@gate-roster/contract';
import { computed, onMounted, useTemplateRef, watch } from 'vue';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';
import WhyHere from './WhyHere.vue';
import type { AccessDraft } from './use-access-draft.ts';

/** What applies at one cell: its statements with all they say, each to be changed or ended, and what can be drafted anew. */
const { grid, draft, groupId, courseId } = defineProps<{ grid: AccessGrid; draft: AccessDraft; groupId: number; courseId: number }>();
defineEmits<{ close: [] }>();
const w = words.access;
const row = computed(() => grid.rows.find(({ id }) => id === groupId));
const course = computed(() => grid.courses.find(({ id }) => id === courseId));
const cell = computed(() => row.value?.cells[grid.courses.findIndex(({ id }) => id === courseId)]);
const title = useTemplateRef<HTMLElement>('title');
const focus = (): void => title.value?.focus();
onMounted(focus);
watch(() => `${groupId}/${courseId}`, focus, { flush: 'post' });

const facts = (said: Statement): string[] =>
  w.facts(said, {
    units: said.units === null ? null : (course.value?.units ?? []).filter(({ id }) => said.units?.includes(id)).map(({ name }) => name),
    licences: grid.licences.filter(({ id }) => said.payers?.licences.includes(id)).map(({ name }) => name),
    hasBelow: grid.rows.some(({ parentId }) => parentId === groupId),
  });
function change({ id, effect, withSubgroups, firm, firstDay, lastDay, units, due, payers, note }: Statement): void {
  draft.put(groupId, courseId, { effect, ends: [id], more: { withSubgroups, firm, firstDay, lastDay, units, due, payers, note } });
}
</script>

<template>
  <section v-if="row && course && cell" class="cell-panel" :aria-label="w.atCell(course.name, row.name)">
    <h2 ref="title" tabindex="-1">{{ course.name }}</h2>
    <p>
      {{ row.name }}: <b>{{ w.cellState(cell, course.units.length) }}</b>{{
        cell.decidedAt && cell.decidedAt.id !== groupId ? w.decidedAt(cell.decidedAt.name) : ''
      }}
    </p>
    <WhyHere :group-id="groupId" :course-id="courseId" />
    <article v-for="said in cell.grants" :key="said.id" class="said">
      <p>
        <b>{{ w.effects[said.effect] }}</b>
        <span v-if="said.set" class="soft"> {{ w.bySet(said.set) }}</span>
      </p>
      <ul class="plain-list">
        <li v-for="fact in facts(said)" :key="fact">{{ fact }}</li>
      </ul>
      <p v-if="said.note" class="note">{{ said.note }}</p>
      <p class="soft small">{{ w.madeBy(said.by, showDay(said.madeOn)) }}</p>
      <div v-if="said.mayEnd" class="acts">
        <v-btn v-if="!said.set" size="small" @click="change(said)">{{ w.changeIt }}</v-btn>
        <v-btn size="small" variant="text" @click="draft.put(groupId, courseId, { effect: 'end', ends: [said.id] })">{{ w.endIt }}</v-btn>
      </div>
      <p v-else-if="!grid.isPast" class="soft small">{{ w.fromAboveYou }}</p>
    </article>
    <div v-if="row.mayOpen" class="acts">
      <v-btn size="small" @click="draft.put(groupId, courseId, { effect: 'open', ends: [] })">{{ w.openHere }}</v-btn>
      <v-btn size="small" @click="draft.put(groupId, courseId, { effect: 'block', ends: [] })">{{ w.blockHere }}</v-btn>
      <v-btn size="small" variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
    </div>
    <v-btn v-else size="small" variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
  </section>
</template>

<style scoped>
.cell-panel {
  border-bottom: 1px solid var(--rule);
  padding-bottom: 14px;
  margin-bottom: 14px;
  display: grid;
  gap: 8px;
}
.said {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 10px 12px;
  display: grid;
  gap: 4px;
}
.note {
  border-left: 3px solid var(--fog);
  padding-left: 8px;
}
.acts {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
.small {
  font-size: 13.5px;
}
</style>
