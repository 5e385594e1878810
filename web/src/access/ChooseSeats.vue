<script setup lang="ts">
import type { Answer, Change, Routes } from '@gate-roster/contract';
import { ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Who of those who would need a seat comes first. */
const { change } = defineProps<{ change: Change }>();
const chosen = defineModel<number[]>({ required: true });
type Page = Answer<Routes['lookPeople']>;
const people = ref<Page['people'] | null>(null);
const next = ref<number | null>(null);

async function show(after: number | null): Promise<void> {
  try {
    const page = await call('lookPeople', { body: { change, list: 'seatsNeeded', courseId: null, groupId: null, after } });
    people.value = [...(after === null ? [] : (people.value ?? [])), ...page.people];
    next.value = page.next;
  } catch (error) {
    tell(failureWords(error));
  }
}
</script>

<template>
  <div class="choose">
    <button type="button" class="plain-link" :aria-expanded="people !== null" @click="people === null ? show(null) : (people = null)">
      {{ words.changes.chooseWho }}
    </button>
    <span v-if="chosen.length > 0">{{ ` ${words.changes.chosenFirst(chosen.length)}` }}</span>
    <template v-if="people">
      <p class="soft">{{ words.changes.chooseHint }}</p>
      <ul class="plain-list list">
        <li v-for="each in people" :key="each.id">
          <label
            ><input v-model="chosen" type="checkbox" :value="each.id" />
            {{ each.group ? `${each.name} (${each.group})` : each.name }}</label
          >
        </li>
      </ul>
      <button v-if="next !== null" type="button" class="plain-link" @click="show(next)">{{ words.common.more }}</button>
    </template>
  </div>
</template>

<style scoped>
.choose {
  margin-top: 6px;
  font-size: 14px;
}
.list {
  max-height: 220px;
  overflow: auto;
}
.list li {
  padding: 3px 0;
}
</style>
