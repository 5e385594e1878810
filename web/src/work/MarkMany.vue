<script setup lang="ts">
import { type Change, mostMarksAtOnce, type WorkRow } from '@gate-roster/contract';
import { computed, ref, shallowRef } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { listName } from '../ui/format.ts';
import { saveCsv } from '../ui/save-csv.ts';
import * as words from '../words.ts';
import { readScores, type ScoreLine } from './read-scores.ts';

/** The same mark for many pieces, or a score for each from a file. */
const { pieces, all } = defineProps<{ pieces: readonly WorkRow[]; all: readonly WorkRow[] }>();
const emit = defineEmits<{ close: [] }>();
const w = words.work;
const score = ref('');
const comment = ref('');
const fromFile = shallowRef<ScoreLine[] | null>(null);
const said = ref('');
const markOf = (versionId: number, given: number, word: string) => ({
  versionId,
  verdict: 'marked' as const,
  score: given,
  points: null,
  skillIds: [],
  comment: word,
  corrects: null,
});
const change = computed<Change | null>(() => {
  const typed = String(score.value).trim();
  const marks = fromFile.value
    ? fromFile.value.map((line) => markOf(line.versionId, line.score, line.comment))
    : typed === '' || !(Number(typed) >= 0)
      ? []
      : pieces.map(({ versionId }) => markOf(versionId, Number(typed), comment.value.trim()));
  return marks.length > 0 && marks.length <= mostMarksAtOnce ? { kind: 'mark-work', marks } : null;
});
const inHand = useChange(change, w.marked, { settleMilliseconds: 400 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
async function read(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement;
  const file = field.files?.[0];
  if (!file) return;
  const lines = await readScores(await file.text());
  const known = new Set(all.map(({ versionId }) => versionId));
  const fits = lines?.filter(({ versionId }) => known.has(versionId)) ?? [];
  fromFile.value = fits.length > 0 ? fits : null;
  said.value = fits.length === 0 ? w.scoresNone : w.scoresFound(fits.length, (lines?.length ?? 0) - fits.length);
  field.value = '';
}
const save = (): Promise<void> =>
  saveCsv(
    w.scoresFileName,
    w.scoresHead,
    (pieces.length > 0 ? pieces : all).map((piece) => [String(piece.versionId), listName(piece), piece.activity, '', '']),
  );
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="w.markThem" @apply="apply" @discard="emit('close')">
    <h2>{{ w.chosen(pieces.length) }}</h2>
    <template v-if="!fromFile">
      <p class="soft">{{ w.sameMark }}</p>
      <v-text-field v-model="score" type="number" min="0" step="any" :label="w.score" />
      <v-textarea v-model="comment" :label="w.comment" rows="3" auto-grow maxlength="4000" />
    </template>
    <h3>{{ w.scoresFile }}</h3>
    <p class="soft small">{{ w.scoresHint }}</p>
    <div class="acts">
      <v-btn variant="outlined" @click="save">{{ w.saveScoresFile }}</v-btn>
      <label class="file">
        <span>{{ w.readScoresFile }}</span>
        <input type="file" accept=".csv,text/csv" @change="read" />
      </label>
    </div>
    <p v-if="said" role="status">{{ said }}</p>
  </LookPanel>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.file {
  display: grid;
  gap: 4px;
  font-size: 14px;
}
.small {
  font-size: 13.5px;
}
</style>
