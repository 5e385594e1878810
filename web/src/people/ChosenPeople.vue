<script setup lang="ts">
import { type GroupSheet, mostCards, mostLetters, mostNamedPeople } from '@gate-roster/contract';
import { useQueryClient } from '@tanstack/vue-query';
import { defineAsyncComponent, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { useFilter } from '../filters/use-filter.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { type Chosen, numbersOf } from './chosen.ts';
import type { PeopleAct } from './person-acts.ts';

/** What can be done to people who are chosen in a list. */
const {
  group,
  chosen,
  listId = null,
  areMembers,
  courseId = null,
} = defineProps<{
  group: GroupSheet;
  chosen: Chosen;
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
const session = useSession();
const act = ref<PeopleAct | null>(null);
const filter = useFilter();
/** Does something with the people by number. */
async function withNumbers(act: (ids: number[]) => unknown): Promise<void> {
  try {
    await act(await numbersOf(chosen));
  } catch (failure) {
    tell(failureWords(failure));
  }
}
const showOnly = (): Promise<void> =>
  withNumbers((ids) => {
    filter.value = [...filter.value.filter(({ part }) => part !== 'people'), { part: 'people', how: 'only', ids }];
    emit('done');
  });
const makeCards = (): Promise<void> => withNumbers((personIds) => router.push({ name: 'cards', state: { personIds } }));
const write = (): void => {
  void router.push({ name: 'messages', params: { groupId: group.id }, query: { write: 'yes' }, state: { chosen: { ...chosen } } });
};

/** A letter with a one-time sign-in to each who has an address. */
const sendLetters = (): Promise<void> =>
  withNumbers(async (personIds) => {
    const answers: { sent: number; notSent: number }[] = [];
    for (let at = 0; at < personIds.length; at += mostLetters)
      answers.push(await call('sendSignIns', { body: { personIds: personIds.slice(at, at + mostLetters) } }));
    const sum = (key: 'sent' | 'notSent'): number => answers.reduce((all, each) => all + each[key], 0);
    tell(words.people.lettersSent(sum('sent'), sum('notSent')));
    emit('done');
  });
async function takeOffList(): Promise<void> {
  if (listId === null) return;
  await call('leaveList', { params: { listId }, body: { personIds: chosen.people } });
  emit('done');
  await queries.invalidateQueries({ predicate: ({ queryKey }) => ['people', 'lists', 'filter-names'].includes(String(queryKey[0])) });
}
</script>

<template>
  <div class="chosen" role="region" :aria-label="words.people.chosenLabel">
    <b>{{ words.people.chosen(chosen.count) }}</b>
    <template v-if="group.may.managePeople">
      <v-btn variant="text" @click="act = 'tag'">{{ words.people.tag }}</v-btn>
      <v-btn variant="text" @click="act = 'put'">{{ words.people.putInGroup }}</v-btn>
      <template v-if="areMembers">
        <v-btn variant="text" @click="act = 'move'">{{ words.people.moveTo }}</v-btn>
        <v-btn variant="text" class="late" @click="act = 'remove'">{{ words.people.removeFrom(group.name) }}</v-btn>
      </template>
      <v-btn variant="text" @click="act = 'state'">{{ words.people.stateAct }}</v-btn>
      <v-btn v-if="chosen.count <= mostCards" variant="text" @click="makeCards">{{ words.cards.act }}</v-btn>
    </template>
    <v-btn v-if="group.may.openCourses" variant="text" @click="act = 'except'">{{ words.exceptions.act }}</v-btn>
    <v-btn v-if="session.hasPower('writeMessages')" variant="text" @click="write">{{ words.messages.write }}</v-btn>
    <v-btn v-if="group.may.helpSignIn" variant="text" @click="sendLetters">{{ words.people.sendLetters }}</v-btn>
    <KeepAsList :people="chosen.people" @kept="emit('done')" />
    <v-btn v-if="chosen.count <= mostNamedPeople" variant="text" @click="showOnly">{{ words.people.showOnly }}</v-btn>
    <v-btn v-if="listId !== null" variant="text" @click="takeOffList">{{ words.people.takeOffList }}</v-btn>
    <v-btn variant="text" @click="emit('done')">{{ words.people.chooseNone }}</v-btn>
    <ExceptPeople
      v-if="act === 'except'"
      :group-id="group.id"
      :chosen="chosen"
      :course-id="courseId"
      @close="act = null"
      @saved="emit('done')"
    />
    <ActOnPeople v-else-if="act" v-model="act" :group="group" :chosen="chosen" @moved="emit('done')" />
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
