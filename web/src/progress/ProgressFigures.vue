<script setup lang="ts">
import type { BranchAbove, ProgressReport, ScoreKind } from '@gate-roster/contract';
import { meanScore, notBegun } from '@gate-roster/core';
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import { showNumber, showScore } from '../ui/format.ts';
import * as words from '../words.ts';

/** The scope in four pictures: how far, how fast, how the scores lie, and how well each group does. */
const {
  report,
  scores: scoreKind,
  above,
  waits = null,
} = defineProps<{
  report: ProgressReport;
  scores: ScoreKind;
  /** The branch above, once it is known. */
  above: BranchAbove;
  /** Work that waits to be marked, where the reader marks. */
  waits?: { pieces: number; oldestDays: number; medianDays: number } | null;
}>();
const route = useRoute();
// Charts come in a chunk of their own.
const DoneByWeek = defineAsyncComponent(() => import('./DoneByWeek.vue'));
const ScoreTens = defineAsyncComponent(() => import('./ScoreTens.vue'));
const mostGroups = 6;
const total = computed(() => report.total);
const width = (part: number): string =>
  `${total.value.all > total.value.exempt ? (part / (total.value.all - total.value.exempt)) * 100 : 0}%`;
const scores = computed(() =>
  report.rows
    .filter(({ depth }) => depth === (report.rows.length > 1 ? 1 : 0))
    .map((row) => ({ id: row.id, name: words.progress.rowName(row), score: row.medians ? row.medians.total : meanScore(row.total) }))
    .filter(({ score }) => score !== null)
    .slice(0, mostGroups),
);
</script>

<template>
  <div class="cards">
    <section class="card">
      <h2>{{ words.progress.enrolments(showNumber(total.all)) }}</h2>
      <div class="whole" role="img" :aria-label="words.figures.bar(total.all - total.exempt, total.done, total.underWay, total.overdue)">
        <i class="done" :style="{ width: width(total.done) }" /><i class="way" :style="{ width: width(total.underWay) }" />
      </div>
      <p class="figures">
        <span class="good"
          ><b>{{ showNumber(total.done) }}</b> {{ words.figures.done }}</span
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
      <DoneByWeek :weeks="report.weeks" :enrolments="total.all - total.exempt" :above="above" />
    </section>
    <section class="card">
      <h2>{{ words.progress.tens }}</h2>
      <p v-if="total.scored === 0" class="soft">{{ words.progress.noScores }}</p>
      <ScoreTens v-else :tens="report.tens" />
    </section>
    <section class="card">
      <h2>{{ words.progress.scoreBy[scoreKind] }}</h2>
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
  grid-template-columns: repeat(4, minmax(0, 1fr));
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
  gap: 0 14px;
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
@media (max-width: 1100px) {
  .cards {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
@media (max-width: 640px) {
  .cards {
    grid-template-columns: 1fr;
  }
}
</style>
