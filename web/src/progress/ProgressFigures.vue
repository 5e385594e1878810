<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { meanScore, notBegun } from '@gate-roster/core';
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import { showNumber, showScore } from '../ui/format.ts';
import { words } from '../words.ts';

/** The scope in three pictures: how far, how fast, how well. */
const { report, waits = null } = defineProps<{
  report: ProgressReport;
  /** Work that waits to be marked, where the reader marks. */
  waits?: { pieces: number; oldestDays: number; medianDays: number } | null;
}>();
const route = useRoute();
// Charts come in a chunk of their own.
const DoneByWeek = defineAsyncComponent(() => import('./DoneByWeek.vue'));
const mostGroups = 6;
const total = computed(() => report.total);
const width = (part: number): string =>
  `${total.value.all > total.value.exempt ? (part / (total.value.all - total.value.exempt)) * 100 : 0}%`;
const scores = computed(() =>
  report.rows
    .filter(({ depth }) => depth === (report.rows.length > 1 ? 1 : 0))
    .map((row) => ({ id: row.id, name: row.name, score: meanScore(row.total) }))
    .filter(({ score }) => score !== null)
    .slice(0, mostGroups),
);
</script>

<template>
  <div class="cards">
    <section class="card">
      <h2>{{ words.progress.enrolments(showNumber(total.all)) }}</h2>
      <div class="whole" role="img" :aria-label="words.progress.bar(total.all - total.exempt, total.done, total.underWay, total.overdue)">
        <i class="done" :style="{ width: width(total.done) }" /><i class="way" :style="{ width: width(total.underWay) }" />
      </div>
      <p class="figures">
        <span class="good"
          ><b>{{ showNumber(total.done) }}</b> {{ words.progress.done }}</span
        >
        <span class="way-text"
          ><b>{{ showNumber(total.underWay) }}</b> {{ words.progress.underWayWord }}</span
        >
        <span
          ><b>{{ showNumber(notBegun(total)) }}</b> {{ words.progress.notBegun }}</span
        >
      </p>
      <p class="figures">
        <span v-if="total.overdue > 0" class="late"
          ><b>{{ showNumber(total.overdue) }}</b> {{ words.progress.overdueWord }}</span
        >
        <span v-if="total.exempt > 0" class="soft">{{ words.progress.exempt(total.exempt) }}</span>
      </p>
      <p v-if="waits && waits.pieces > 0" class="figures">
        <router-link :to="{ query: { ...route.query, view: 'handed-in' } }">{{
          words.work.waitingFigure(waits.pieces, waits.oldestDays, waits.medianDays)
        }}</router-link>
      </p>
    </section>
    <section class="card">
      <h2>{{ words.progress.perWeek }}</h2>
      <DoneByWeek :weeks="report.weeks" />
    </section>
    <section class="card">
      <h2>{{ words.progress.meanScore }}</h2>
      <p v-if="scores.length === 0" class="soft">{{ words.progress.noScores }}</p>
      <div v-for="each in scores" :key="each.id" class="score">
        <span class="score-name">{{ each.name }}</span><span class="track"><i :style="{ width: `${each.score}%` }" /></span
        ><b class="num">{{ showScore(each.score ?? 0) }}</b>
      </div>
    </section>
  </div>
</template>

<style scoped>
.cards {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
  margin: 12px 0 14px;
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px 16px;
  min-width: 0;
}
.card h2 {
  font:
    600 14px 'Atkinson Hyperlegible Next Variable',
    sans-serif;
  color: var(--ink2);
  margin-bottom: 8px;
}
.whole {
  display: flex;
  height: 22px;
  border-radius: 4px;
  overflow: hidden;
  background: var(--fog);
  margin-bottom: 8px;
}
.whole i {
  flex: none;
  border-right: 2px solid var(--sheet);
}
.whole .done {
  background: var(--kelp);
}
.whole .way {
  background: var(--hatch);
}
.figures {
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
.way-text {
  color: var(--slate-ink);
}
.score {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 50% 34px;
  gap: 10px;
  align-items: center;
  height: 22px;
}
.score-name {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.track {
  height: 8px;
  border-radius: 4px;
  background: color-mix(in srgb, var(--fog) 55%, var(--sheet));
  overflow: hidden;
}
.track i {
  display: block;
  height: 100%;
  background: var(--tide);
}
@media (max-width: 960px) {
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
