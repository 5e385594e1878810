<script setup lang="ts">
import type { Change, CourseSheet } from '@gate-roster/contract';
import { mdiArrowDown, mdiArrowUp, mdiClose } from '@mdi/js';
import { computed } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';
import ActivityFinish from '../work/ActivityFinish.vue';
import { useCourseDraft } from './use-course-draft.ts';

/** A course as it should be: what it says of itself, its units and activities. */
const { course } = defineProps<{ course: CourseSheet }>();
const emit = defineEmits<{ close: [] }>();
const w = words.catalogue;
const draft = useCourseDraft(course);
const { values, units, doneBy, forAll } = draft;
const session = useSession();
const change = computed<Change | null>(() => draft.change.value);
const inHand = useChange(change, w.saved, { settleMilliseconds: 400 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const terms = (['everyone', 'group', 'request'] as const).map((value) => ({ value, title: w.termsOf[value] }));
const doneByChoices = [
  { value: 'all', title: w.doneByAll },
  { value: 'some', title: w.doneBySome },
];
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="words.common.save" @apply="apply" @discard="emit('close')">
    <h2>{{ w.edit }}</h2>
    <v-text-field v-model="values.name" :label="w.name" maxlength="200" />
    <div class="pair">
      <v-text-field v-model="values.code" :label="w.code" maxlength="40" />
      <v-text-field v-model="values.subject" :label="w.subject" maxlength="120" />
    </div>
    <v-combobox v-model="values.tags" multiple chips closable-chips maxlength="60" :label="w.tags" />
    <v-textarea v-model="values.description" :label="w.description" rows="2" auto-grow maxlength="2000" />
    <template v-if="course.home">
      <p class="soft small">{{ w.ownNote(course.home.name) }}</p>
      <v-checkbox v-if="session.isAdministrator" v-model="forAll" :label="w.giveToAll(course.home.name)" />
    </template>
    <v-select v-else v-model="values.terms" :items="terms" :label="w.terms" />
    <v-text-field v-model="values.passScore" type="number" min="0" max="100" :label="w.passScore" :hint="w.passScoreHint" />
    <div class="pair">
      <v-text-field v-model="values.validMonths" type="number" min="1" max="600" :label="w.validMonths" :hint="w.validHint" />
      <v-text-field
        v-model="values.reopensDays"
        type="number"
        min="0"
        max="3650"
        :disabled="values.validMonths === ''"
        :label="w.reopensDays"
        :hint="values.validMonths === '' ? '' : w.reopensHint"
      />
    </div>
    <v-select v-model="doneBy" :items="doneByChoices" :label="w.doneBy" />
    <fieldset v-for="(unit, place) in units" :key="unit.key" class="unit">
      <legend>{{ w.unit(place + 1) }}</legend>
      <div class="row">
        <v-text-field v-model="unit.name" :label="w.name" maxlength="200" />
        <v-btn
          :icon="mdiArrowUp"
          variant="text"
          density="compact"
          :disabled="place === 0"
          :aria-label="w.up(unit.name)"
          @click="draft.move(place, -1)"
        />
        <v-btn
          :icon="mdiArrowDown"
          variant="text"
          density="compact"
          :disabled="place === units.length - 1"
          :aria-label="w.down(unit.name)"
          @click="draft.move(place, 1)"
        />
        <v-btn
          :icon="mdiClose"
          variant="text"
          density="compact"
          :disabled="units.length === 1"
          :aria-label="w.takeOut(unit.name)"
          @click="draft.removeUnit(place)"
        />
      </div>
      <div v-for="(activity, at) in unit.activities" :key="activity.key" class="activity">
        <div class="row">
          <v-checkbox-btn
            v-if="doneBy === 'some' && activity.id !== null"
            density="compact"
            :model-value="draft.named.value.includes(activity.id)"
            :aria-label="`${w.countsForDone}: ${activity.name}`"
            @update:model-value="draft.name(activity.id)"
          />
          <v-text-field v-model="activity.name" :label="w.activity" maxlength="200" />
          <v-checkbox v-model="activity.scored" class="scored" :label="w.scored" :aria-label="`${w.isScored}: ${activity.name}`" />
          <v-btn
            :icon="mdiClose"
            variant="text"
            density="compact"
            :disabled="unit.activities.length === 1"
            :aria-label="w.takeOut(activity.name)"
            @click="draft.removeActivity(place, at)"
          />
        </div>
        <ActivityFinish
          v-model:finished-by="activity.finishedBy"
          v-model:hand-in="activity.handIn"
          v-model:content="activity.content"
          :is-own="course.home !== null && !forAll"
          :name="activity.name"
          :skills="course.skills"
        />
      </div>
      <button type="button" class="plain-link" @click="draft.addActivity(place)">{{ w.addActivity }}</button>
    </fieldset>
    <button type="button" class="plain-link" @click="draft.addUnit()">{{ w.addUnit }}</button>
    <p class="soft small">{{ w.kept }}</p>
  </LookPanel>
</template>

<style scoped>
.unit {
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 8px 10px 10px;
  display: grid;
  gap: 8px;
  background: var(--sheet);
}
.unit legend {
  font-weight: 600;
  padding: 0 4px;
}
.row {
  display: flex;
  gap: 4px;
  align-items: center;
}
.activity {
  padding-left: 10px;
  display: grid;
  gap: 6px;
}
.activity .v-checkbox-btn,
.scored {
  flex: none;
}
.plain-link {
  justify-self: start;
  min-height: 24px;
}
.small {
  font-size: 13.5px;
}
</style>
