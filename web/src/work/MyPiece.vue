<script setup lang="ts">
import type { MyActivity } from '@gate-roster/contract';
import { computed } from 'vue';
import { useLeaveGuard } from '../ui/leave-guard.ts';
import * as words from '../words.ts';
import ActivityContentShown from './ActivityContentShown.vue';
import { useMyPiece } from './use-my-piece.ts';

/** One activity for which something is handed in: the draft, what waits, and what came back. */
const { activity, skills } = defineProps<{ activity: MyActivity; skills: readonly { id: number; name: string }[] }>();
const w = words.myWork;
const asks = computed(() => activity.asks);
const { text, link, skillIds, draft, past, waiting, triesLeft, isTyped, busy, problem, toggle, save, addFiles, removeFile, takeBack } =
  useMyPiece(() => activity);
useLeaveGuard(
  () => activity.canHandIn && isTyped.value,
  () => words.changes.leaveIt,
);
const offered = computed(() => skills.filter(({ id }) => asks.value?.skillIds.includes(id)));
const label = (name: string, how: 'no' | 'may' | 'must'): string => (how === 'must' ? `${name} (${w.needed})` : name);
const namesOf = (ids: readonly number[]): string[] => skills.filter(({ id }) => ids.includes(id)).map(({ name }) => name);
async function pick(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement;
  await addFiles([...(field.files ?? [])]);
  field.value = '';
}
</script>

<template>
  <article class="card">
    <p class="soft small">{{ activity.unit }}</p>
    <h2>{{ activity.name }}</h2>
    <ActivityContentShown v-if="activity.content" :activity-id="activity.id" :content="activity.content" />
    <p v-if="asks?.asked">{{ asks.asked }}</p>
    <section v-for="version in past" :key="version.id" class="version">
      <p>
        <b :class="{ good: version.mark?.passed, late: version.state === 'sent back' }">{{ w.state(version) }}</b>
        <span v-if="w.scored(activity, version)">{{ `, ${w.scored(activity, version)}` }}</span>
        <span v-if="version.handedInAt" class="soft">{{ ` · ${w.day(version.handedInAt)}` }}</span>
      </p>
      <p v-if="version.mark && version.mark.comment">{{ w.comment(version.mark.by, version.mark.comment) }}</p>
      <p v-if="version.mark && version.mark.skillIds.length > 0" class="good small">{{ w.confirmed(namesOf(version.mark.skillIds)) }}</p>
      <p v-if="version.state !== 'sent back'" class="soft quoted">{{ version.words }}</p>
    </section>
    <p v-if="waiting && !waiting.isTaken">
      <v-btn variant="outlined" height="44" @click="takeBack">{{ w.takeBack }}</v-btn>
    </p>
    <template v-if="activity.canHandIn && asks">
      <v-textarea v-if="asks.words !== 'no'" v-model="text" :label="label(w.words, asks.words)" rows="4" auto-grow maxlength="20000" />
      <v-text-field
        v-if="asks.link !== 'no'"
        v-model="link"
        type="url"
        :label="label(w.link, asks.link)"
        :hint="w.linkHint"
        maxlength="2000"
      />
      <template v-if="asks.files !== 'no'">
        <ul v-if="draft && draft.files.length > 0" class="plain-list files">
          <li v-for="file in draft.files" :key="file.id">
            <span>{{ words.work.file(file.fileName, words.work.size(file.size)) }}</span>
            <button type="button" class="plain-link" :aria-label="w.removeFile(file.fileName)" @click="removeFile(file.id)">
              {{ w.remove }}
            </button>
          </li>
        </ul>
        <label class="add">
          <span>{{ busy === 'file' ? w.adding : label(w.addFile, asks.files) }}</span>
          <input type="file" multiple :disabled="busy === 'file'" @change="pick" />
        </label>
        <p class="soft small">{{ w.filesHint }}</p>
      </template>
      <fieldset v-if="offered.length > 0" class="skills">
        <legend>{{ w.skills }}</legend>
        <button
          v-for="skill in offered"
          :key="skill.id"
          type="button"
          class="pick"
          :class="{ on: skillIds.includes(skill.id) }"
          :aria-pressed="skillIds.includes(skill.id)"
          @click="toggle(skill.id)"
        >
          {{ skillIds.includes(skill.id) ? '✓ ' : '' }}{{ skill.name }}
        </button>
      </fieldset>
      <p class="soft small">{{ triesLeft === null ? '' : w.left(triesLeft) }} {{ asks.lateCounts ? w.lateCounts : w.lateDoesNotCount }}</p>
      <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
      <div class="acts">
        <v-btn variant="flat" height="44" :loading="busy === 'handing in'" @click="save(true)">{{
          past.length > 0 ? w.handInAgain : w.handIn
        }}</v-btn>
        <v-btn variant="text" height="44" :loading="busy === 'saving'" :disabled="!isTyped" @click="save(false)">{{ w.saveDraft }}</v-btn>
      </div>
    </template>
    <p v-else-if="problem" class="stop" role="alert">{{ problem }}</p>
  </article>
</template>

<style scoped>
.card {
  display: grid;
  gap: 10px;
}
.card h2 {
  font-size: 18px;
}
.version {
  border-left: 3px solid var(--rule);
  padding-left: 12px;
  display: grid;
  gap: 4px;
}
.quoted {
  white-space: pre-wrap;
}
.small {
  font-size: 13.5px;
}
.late {
  color: var(--flare-ink);
}
.files li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  min-height: 44px;
}
.add {
  position: relative;
  justify-self: start;
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  padding: 0 16px;
  border: 1px solid var(--tide);
  border-radius: 4px;
  color: var(--tide);
  font-weight: 600;
  font-size: 14px;
  cursor: pointer;
}
.add:focus-within {
  outline: 2px solid var(--tide);
  outline-offset: 2px;
}
.add input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
.skills {
  border: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.skills legend {
  font-weight: 600;
  padding: 0 0 6px;
}
.skills .pick {
  padding: 8px 14px;
  min-height: 44px;
  font-size: 15px;
}
.acts {
  display: flex;
  gap: 10px;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 10px 14px;
  border-radius: 8px;
}
</style>
