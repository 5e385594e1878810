<script setup lang="ts">
import type { ActivityContent } from '@gate-roster/contract';
import { bestOf, type FinishedBy, type HandIn } from '@gate-roster/core';
import { mdiClose } from '@mdi/js';
import { computed } from 'vue';
import * as words from '../words.ts';
import ActivityContentFields from './ActivityContentFields.vue';

/** Who finishes an activity, and what is to be handed in where someone marks it. */
const {
  name,
  skills,
  isOwn = false,
} = defineProps<{
  name: string;
  skills: readonly { id: number; name: string }[];
  /** A branch's own course: no outside player shows it. */
  isOwn?: boolean;
}>();
const finishedBy = defineModel<FinishedBy>('finishedBy', { required: true });
const handIn = defineModel<HandIn | null>('handIn', { required: true });
const content = defineModel<ActivityContent | null>('content', { required: true });
const w = words.handInForm;
const usual = (): HandIn => ({
  asked: '',
  words: 'must',
  link: 'no',
  files: 'may',
  bestScore: 10,
  passScore: 6,
  skillIds: [],
  tries: null,
  lateCounts: true,
  rubric: [],
});
const chosen = computed({
  get: () => finishedBy.value,
  set(value: FinishedBy) {
    finishedBy.value = value;
    handIn.value = value === 'marker' ? (handIn.value ?? usual()) : null;
    if (value === 'player') content.value = null;
  },
});
const finishers = computed(() =>
  (['player', 'marker', 'learner'] as const)
    .filter((value) => !(isOwn && value === 'player'))
    .map((value) => ({ value, title: w.finishedByOf[value] })),
);
const askedChoices = (['no', 'may', 'must'] as const).map((value) => ({ value, title: w.askedOf[value] }));
/** Changes some values and keeps the order of the fields, so that an unchanged form compares equal. */
function say(values: Partial<HandIn>): void {
  if (!handIn.value) return;
  const then = { ...handIn.value, ...values };
  handIn.value = { ...then, bestScore: bestOf(then) };
}
/** Empty: none. */
const numberOf = (typed: unknown): number | null => (typed === '' || typed === null ? null : Math.max(0, Math.round(Number(typed)) || 0));
const setLine = (at: number, line: Partial<HandIn['rubric'][number]>): void => {
  say({ rubric: (handIn.value?.rubric ?? []).map((each, place) => (place === at ? { ...each, ...line } : each)) });
};
const mostLines = 8;
</script>

<template>
  <div class="finish">
    <v-select v-model="chosen" :items="finishers" :label="w.finishedBy" :aria-label="`${w.finishedBy}: ${name}`" />
    <ActivityContentFields v-if="finishedBy !== 'player'" v-model="content" :name="name" />
    <template v-if="handIn">
      <v-textarea
        :model-value="handIn.asked"
        :label="w.asked"
        rows="2"
        auto-grow
        maxlength="2000"
        @update:model-value="say({ asked: $event })"
      />
      <div class="three">
        <v-select :model-value="handIn.words" :items="askedChoices" :label="w.words" @update:model-value="say({ words: $event })" />
        <v-select :model-value="handIn.link" :items="askedChoices" :label="w.link" @update:model-value="say({ link: $event })" />
        <v-select :model-value="handIn.files" :items="askedChoices" :label="w.files" @update:model-value="say({ files: $event })" />
      </div>
      <div class="three">
        <v-text-field
          :model-value="handIn.bestScore"
          type="number"
          min="1"
          max="1000"
          :disabled="handIn.rubric.length > 0"
          :label="w.bestScore"
          @update:model-value="say({ bestScore: numberOf($event) ?? 1 })"
        />
        <v-text-field
          :model-value="handIn.passScore"
          type="number"
          min="0"
          :max="handIn.bestScore"
          :label="w.passScore"
          :hint="w.passScoreHint"
          @update:model-value="say({ passScore: numberOf($event) })"
        />
        <v-text-field
          :model-value="handIn.tries"
          type="number"
          min="1"
          max="50"
          :label="w.tries"
          :hint="w.triesHint"
          @update:model-value="say({ tries: numberOf($event) })"
        />
      </div>
      <v-checkbox :model-value="handIn.lateCounts" :label="w.lateCounts" @update:model-value="say({ lateCounts: $event === true })" />
      <v-select
        v-if="skills.length > 0"
        :model-value="handIn.skillIds"
        :items="skills"
        item-value="id"
        item-title="name"
        multiple
        chips
        :label="w.skills"
        @update:model-value="say({ skillIds: [...$event] })"
      />
      <fieldset class="lines">
        <legend>{{ w.rubric }}</legend>
        <div v-for="(line, at) in handIn.rubric" :key="at" class="line">
          <v-text-field :model-value="line.name" :label="w.line" maxlength="200" @update:model-value="setLine(at, { name: $event })" />
          <v-text-field
            :model-value="line.best"
            type="number"
            min="1"
            max="100"
            class="best"
            :label="w.lineBest"
            @update:model-value="setLine(at, { best: numberOf($event) ?? 1 })"
          />
          <v-btn
            :icon="mdiClose"
            variant="text"
            density="compact"
            :aria-label="w.removeLine(line.name)"
            @click="say({ rubric: handIn.rubric.filter((_, place) => place !== at) })"
          />
        </div>
        <button
          v-if="handIn.rubric.length < mostLines"
          type="button"
          class="plain-link"
          @click="say({ rubric: [...handIn.rubric, { name: '', best: 5 }] })"
        >
          {{ w.addLine }}
        </button>
        <p v-if="handIn.rubric.length > 0" class="soft small">{{ w.sum(handIn.bestScore) }}</p>
      </fieldset>
    </template>
  </div>
</template>

<style scoped>
.finish {
  display: grid;
  gap: 8px;
  padding: 0 0 8px;
}
.three {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  align-items: start;
  gap: 8px;
}
.lines {
  border: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.lines legend {
  font-weight: 600;
  font-size: 14px;
  padding: 0 0 4px;
}
.line {
  display: flex;
  gap: 6px;
  align-items: center;
}
.best {
  max-width: 90px;
}
.plain-link {
  justify-self: start;
  min-height: 24px;
}
.small {
  font-size: 13.5px;
}
</style>
