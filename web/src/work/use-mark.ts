import type { Change, WorkSheet } from '@gate-roster/contract';
import { bestOf } from '@gate-roster/core';
import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';
import { type MarkDraft, markDrafts } from './mark-drafts.ts';

export type Verdict = 'marked' | 'sent back';

export interface MarkForm {
  typedScore: Ref<string>;
  /** Of each line of the rubric, as typed. */
  points: Ref<string[]>;
  skillIds: Ref<number[]>;
  comment: Ref<string>;
  best: number;
  hasLines: boolean;
  /** null: not all of it is typed, or something is no number. */
  score: ComputedRef<number | null>;
  /** Is it more than the best score, or wrong in a line? */
  isBeyond: ComputedRef<boolean>;
  /** Are the points of a line of the rubric no whole number, or more than the line gives? */
  isWrongLine: (line: number) => boolean;
  /** Was anything typed that is not saved? */
  isTyped: ComputedRef<boolean>;
  toggle: (skillId: number) => void;
  changeTo: (verdict: Verdict) => Change;
  /** What was typed is saved. */
  forget: () => void;
}

const asText = (value: number | null | undefined): string => (value === null || value === undefined ? '' : String(value));

/** The mark that is typed for a piece; another piece may be looked at in between, and what was typed is there again afterwards. */
export function useMark(work: WorkSheet): MarkForm {
  const given = work.version.mark;
  const fresh: MarkDraft = {
    score: asText(given?.score),
    points: work.asks.rubric.map((_, line) => asText(given?.points?.[line])),
    skillIds: (given?.skillIds ?? work.version.skillIds).filter((id) => work.asks.skillIds.includes(id)),
    comment: given?.comment ?? '',
  };
  const begun = markDrafts.get(work.versionId) ?? fresh;
  const typedScore = ref(begun.score);
  const points = ref([...begun.points]);
  const skillIds = ref([...begun.skillIds]);
  const comment = ref(begun.comment);
  const best = bestOf(work.asks);
  const hasLines = work.asks.rubric.length > 0;

  const score = computed(() => {
    const typed = hasLines ? points.value : [typedScore.value];
    if (typed.some((each) => String(each).trim() === '')) return null;
    const numbers = typed.map(Number);
    return numbers.every((each) => Number.isFinite(each) && each >= 0) ? numbers.reduce((sum, each) => sum + each, 0) : null;
  });
  function isWrongLine(line: number): boolean {
    const typed = Number(points.value[line] ?? 0);
    return !Number.isInteger(typed) || typed > (work.asks.rubric[line]?.best ?? 0);
  }
  const isBeyond = computed(() => (score.value !== null && score.value > best) || points.value.some((_, line) => isWrongLine(line)));

  const draft = computed<MarkDraft>(() => ({
    score: typedScore.value,
    points: points.value,
    skillIds: skillIds.value,
    comment: comment.value,
  }));
  const isTyped = computed(() => JSON.stringify(draft.value) !== JSON.stringify(fresh));
  const forget = (): void => {
    markDrafts.delete(work.versionId);
  };
  watch(draft, () => {
    if (isTyped.value) markDrafts.set(work.versionId, draft.value);
    else forget();
  });

  return {
    typedScore,
    points,
    skillIds,
    comment,
    best,
    hasLines,
    score,
    isBeyond,
    isWrongLine,
    isTyped,
    toggle(id) {
      skillIds.value = skillIds.value.includes(id) ? skillIds.value.filter((each) => each !== id) : [...skillIds.value, id];
    },
    changeTo(verdict) {
      const isMarked = verdict === 'marked';
      const mark = {
        versionId: work.versionId,
        verdict,
        score: isMarked ? score.value : null,
        points: isMarked && hasLines ? points.value.map(Number) : null,
        skillIds: isMarked ? skillIds.value : [],
        comment: comment.value.trim(),
        corrects: given?.id ?? null,
      };
      return { kind: 'mark-work', marks: [mark] };
    },
    forget,
  };
}
