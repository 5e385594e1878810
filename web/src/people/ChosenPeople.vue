<script setup lang="ts">
import { type GroupSheet, mostNamedPeople } from '@gate-roster/contract';
import { useQueryClient } from '@tanstack/vue-query';
import { defineAsyncComponent, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { useFilter } from '../filters/use-filter.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import type { PeopleAct } from './person-acts.ts';

/** What can be done to people who are chosen in a list. */
const {
  group,
  personIds,
  listId = null,
  areMembers,
  courseId = null,
} = defineProps<{
  group: GroupSheet;
  personIds: number[];
  /** The reader's own list that is shown. */
  listId?: number | null;
  /** They are in groups, which they can be moved between and taken out of. */
  areMembers: boolean;
  /** The course that the list is about. */
  courseId?: number | null;
}>();
const emit = defineEmits<{ done: [] }>();
const ActOnPeople = defineAsyncComponent(() => import('./ActOnPeople.vue'));
const ExceptPeople = defineAsyncComponent(() => import('../access/ExceptPeople.vue'));
const KeepAsList = defineAsyncComponent(() => import('./KeepAsList.vue'));
const queries = useQueryClient();
const router = useRouter();
const lettersAtOnce = 500;
const session = useSession();
const act = ref<PeopleAct | null>(null);
const filter = useFilter();
function showOnly(): void {
  filter.value = [...filter.value.filter(({ part }) => part !== 'people'), { part: 'people', how: 'only', ids: personIds }];
  emit('done');
}
const write = (): void => {
  void router.push({ name: 'messages', params: { groupId: group.id }, query: { write: 'yes' }, state: { personIds } });
};

/** A letter with a one-time sign-in to each who has an address. */
async function sendLetters(): Promise<void> {
  try {
    const answers: { sent: number; notSent: number }[] = [];
    for (let at = 0; at < personIds.length; at += lettersAtOnce)
      answers.push(await call('sendSignIns', { body: { personIds: personIds.slice(at, at + lettersAtOnce) } }));
    const sum = (key: 'sent' | 'notSent'): number => answers.reduce((all, each) => all + each[key], 0);
    tell(words.people.lettersSent(sum('sent'), sum('notSent')));
    emit('done');
  } catch (failure) {
    tell(failureWords(failure));
  }
}
async function takeOffList(): Promise<void> {
  if (listId === null) return;
  await call('leaveList', { params: { listId }, body: { personIds } });
  emit('done');
  await queries.invalidateQueries({ predicate: ({ queryKey }) => ['people', 'lists', 'filter-names'].includes(String(queryKey[0])) });
}
</script>

<template>
  <div class="chosen" role="region" :aria-label="words.people.chosenLabel">
    <b>{{ words.people.chosen(personIds.length) }}</b>
    <template v-if="group.may.managePeople">
      <v-btn variant="text" @click="act = 'tag'">{{ words.people.tag }}</v-btn>
      <v-btn variant="text" @click="act = 'put'">{{ words.people.putInGroup }}</v-btn>
      <template v-if="areMembers">
        <v-btn variant="text" @click="act = 'move'">{{ words.people.moveTo }}</v-btn>
        <v-btn variant="text" class="late" @click="act = 'remove'">{{ words.people.removeFrom(group.name) }}</v-btn>
      </template>
      <v-btn variant="text" @click="act = 'state'">{{ words.people.stateAct }}</v-btn>
      <v-btn variant="text" @click="router.push({ name: 'cards', state: { personIds } })">{{ words.cards.act }}</v-btn>
    </template>
    <v-btn v-if="group.may.openCourses" variant="text" @click="act = 'except'">{{ words.exceptions.act }}</v-btn>
    <v-btn v-if="session.hasPower('writeMessages')" variant="text" @click="write">{{ words.messages.write }}</v-btn>
    <v-btn v-if="group.may.helpSignIn" variant="text" @click="sendLetters">{{ words.people.sendLetters }}</v-btn>
    <KeepAsList :person-ids="personIds" @kept="emit('done')" />
    <v-btn v-if="personIds.length <= mostNamedPeople" variant="text" @click="showOnly">{{ words.people.showOnly }}</v-btn>
    <v-btn v-if="listId !== null" variant="text" @click="takeOffList">{{ words.people.takeOffList }}</v-btn>
    <v-btn variant="text" @click="emit('done')">{{ words.people.chooseNone }}</v-btn>
    <ExceptPeople
      v-if="act === 'except'"
      :group-id="group.id"
      :person-ids="personIds"
      :course-id="courseId"
      @close="act = null"
      @saved="emit('done')"
    />
    <ActOnPeople v-else-if="act" v-model="act" :group="group" :person-ids="personIds" @moved="emit('done')" />
  </div>
</template>

<style scoped>
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  padding: 8px 14px;
  border-bottom: 1px solid var(--rule);
  background: var(--tide2);
}
</style>
