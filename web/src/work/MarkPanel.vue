<script setup lang="ts">
import type { WorkSheet } from '@gate-roster/contract';
import { isPassed } from '@gate-roster/core';
import { useEventListener } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useLeaveGuard } from '../ui/leave-guard.ts';
import { singleKeys } from '../shell/settings.ts';
import { showDay, showTime } from '../ui/format.ts';
import * as words from '../words.ts';
import { useMark, type Verdict } from './use-mark.ts';

/** The score, the skills and a word; marks a piece, sends it back, or corrects its mark. */
const { work, claim, problem } = defineProps<{
  work: WorkSheet;
  claim: { until: string | null; takenBy: string | null };
  problem: string | null;
}>();
const emit = defineEmits<{ done: [] }>();
const w = words.work;
const given = work.version.mark;
const { typedScore, points, skillIds, comment, best, hasLines, score, isBeyond, isWrongLine, isTyped, toggle, changeTo, forget } =
  useMark(work);
const isSaving = ref(false);
const lacksWord = ref(false);
const isDone = ref(false);
const scoreField = useTemplateRef<{ focus: () => void }>('scoreField');
const lineFields = useTemplateRef<{ focus: () => void }[]>('lineFields');
const commentField = useTemplateRef<{ focus: () => void }>('commentField');
const isTaken = computed(() => claim.takenBy !== null);
const canMark = computed(() => work.mayMark && !isTaken.value && !isSaving.value);
useLeaveGuard(
  () => !isDone.value && canMark.value && isTyped.value,
  () => words.changes.leaveIt,
);
const skills = computed(() => work.skills.filter(({ id }) => work.asks.skillIds.includes(id)));

async function apply(verdict: Verdict): Promise<void> {
  if (!canMark.value) return;
  isSaving.value = true;
  isDone.value = true;
  const done = await applyAtOnce(changeTo(verdict), verdict === 'marked' ? w.marked : w.sentBack);
  isSaving.value = false;
  isDone.value = done;
  if (!done) return;
  forget();
  emit('done');
}
async function mark(): Promise<void> {
  if (score.value === null || isBeyond.value) (hasLines ? lineFields.value?.[0] : scoreField.value)?.focus();
  else await apply('marked');
}
async function sendBack(): Promise<void> {
  lacksWord.value = comment.value.trim() === '';
  if (lacksWord.value) commentField.value?.focus();
  else await apply('sent back');
}
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (!canMark.value) return;
  if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    void mark();
    return;
  }
  if (!singleKeys.value || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role="dialog"]')) return;
  if (event.key.toLowerCase() === 'b') {
    event.preventDefault();
    void sendBack();
  } else if (/^\d$/u.test(event.key) && !hasLines) {
    event.preventDefault();
    typedScore.value = event.key;
    void nextTick(() => scoreField.value?.focus());
  }
});
</script>

<template>
  <aside class="mark" :aria-label="w.score">
    <h2>{{ `${work.person.familyName}, ${work.person.givenName}` }}</h2>
    <p class="soft small">{{ w.about(work.groups, work.finished, work.needed, work.due ? showDay(work.due) : null) }}</p>
    <p v-if="!work.mayMark" class="soft">{{ w.ownWork }}</p>
    <p v-else-if="claim.takenBy !== null" class="stop" role="status">
      {{ w.takenByOther(claim.takenBy, showTime(claim.until ?? '')) }}
    </p>
    <template v-else>
      <fieldset class="score">
        <legend>
          <b>{{ w.score }}</b> <span class="soft">{{ w.range(work.asks) }}</span>
        </legend>
        <template v-if="hasLines">
          <v-text-field
            v-for="(line, at) in work.asks.rubric"
            :key="at"
            ref="lineFields"
            v-model="points[at]"
            type="number"
            min="0"
            :max="line.best"
            :label="w.line(line.name, line.best)"
            :error="isWrongLine(at)"
          />
          <output class="sum">{{ score ?? '–' }}</output>
        </template>
        <v-text-field
          v-else
          ref="scoreField"
          v-model="typedScore"
          class="one"
          type="number"
          min="0"
          :max="best"
          step="any"
          :aria-label="w.score"
          :error="isBeyond"
        />
        <p
          v-if="score !== null && !isBeyond && work.asks.passScore !== null"
          class="small"
          :class="isPassed(score, work.asks) ? 'good' : 'soft'"
        >
          {{ isPassed(score, work.asks) ? w.passed : w.notPassed }}
        </p>
      </fieldset>
      <template v-if="skills.length > 0">
        <h3>{{ w.shows }}</h3>
        <div class="chips">
          <button
            v-for="skill in skills"
            :key="skill.id"
            type="button"
            class="pick"
            :class="{ on: skillIds.includes(skill.id) }"
            :aria-pressed="skillIds.includes(skill.id)"
            @click="toggle(skill.id)"
          >
            {{ skillIds.includes(skill.id) ? '✓ ' : '' }}{{ skill.name }}
          </button>
        </div>
      </template>
      <v-textarea
        ref="commentField"
        v-model="comment"
        :label="w.comment"
        rows="4"
        auto-grow
        maxlength="4000"
        :error-messages="lacksWord && comment.trim() === '' ? [w.sendBackNeedsWord] : []"
      />
      <div class="acts">
        <v-btn variant="flat" :disabled="score === null || isBeyond" :loading="isSaving" @click="mark">{{
          given ? w.markAgain : w.markNext
        }}</v-btn>
        <v-btn variant="outlined" :disabled="isSaving" @click="sendBack">{{ w.sendBack }}</v-btn>
      </div>
      <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
      <p v-if="claim.until" class="soft small">{{ w.takenUntil(showTime(claim.until)) }}</p>
    </template>
  </aside>
</template>

<style scoped>
.mark > * {
  flex: none;
}
.mark {
  width: 320px;
  flex: none;
  overflow: auto;
  border-left: 1px solid var(--rule);
  background: var(--paper);
  padding: 16px 20px 20px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
h3 {
  font-size: 14.5px;
}
.score {
  border: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.score legend {
  padding: 0 0 6px;
}
.one {
  max-width: 110px;
}
.sum {
  font-size: 22px;
  font-weight: 700;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.acts {
  display: flex;
  gap: 10px;
}
.small {
  font-size: 13.5px;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 8px 12px;
  border-radius: 8px;
}
@media (max-width: 960px) {
  .mark {
    width: 100%;
    border-left: 0;
    border-top: 1px solid var(--rule);
    overflow: visible;
  }
}
</style>
