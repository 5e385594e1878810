<script setup lang="ts">
import { computed } from 'vue';
import { showScore } from '../ui/format.ts';
import * as words from '../words.ts';

/** What one learner has done in one activity. */
const { result, isOpen, isHere, name } = defineProps<{
  result: { finished: boolean; score: number | null } | undefined;
  isOpen: boolean;
  /** Where they are: the first one that is not finished. */
  isHere: boolean;
  name: string;
}>();
const state = computed(() => (result?.finished ? 'done' : !isOpen ? 'closed' : isHere ? 'here' : result ? 'begun' : 'none'));
const says = computed(() => words.progress.inside.states[state.value]);
const score = computed(() => (result?.score === null || result?.score === undefined ? null : showScore(result.score)));
</script>

<template>
  <span
    class="mark"
    :class="state"
    role="img"
    :aria-label="words.progress.inside.mark(name, says, score)"
    :title="words.progress.inside.mark(name, says, score)"
    >{{ state === 'done' ? (score ?? '✓') : state === 'closed' ? '–' : '' }}</span
  >
</template>

<style scoped>
.mark {
  display: inline-block;
  width: 29px;
  height: 21px;
  border-radius: 3px;
  font-size: 12px;
  line-height: 21px;
  text-align: center;
  vertical-align: middle;
}
.done {
  background: var(--kelp2);
  color: var(--kelp-ink);
  font-weight: 700;
}
.here,
.begun {
  background: repeating-linear-gradient(135deg, var(--slate) 0 3px, color-mix(in srgb, var(--slate) 45%, var(--sheet)) 3px 6px);
}
.begun {
  opacity: 0.6;
}
.none {
  border: 1px solid var(--ink2);
}
.closed {
  color: var(--ink2);
}
</style>
