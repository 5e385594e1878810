<script setup lang="ts">
import { letterChoices, type MyMessage } from '@gate-roster/contract';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, reactive, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import LoadState from '../ui/LoadState.vue';
import { failureWords } from '../ui/failure-words.ts';
import { showAgo, showDay, showMoment } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import MessageThread from './MessageThread.vue';
import WrittenText from './WrittenText.vue';

/** What was written to oneself: read it, tick it off, choose, answer. */
const w = words.myMessages;
const queries = useQueryClient();
const session = useSession();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['my-messages'],
  queryFn: ({ signal }) => call('myMessages', {}, signal),
});
const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: ['my-messages'] });
/** What was new when the page was opened stays marked while one reads. */
const fresh = reactive(new Set<number>());
watch(
  data,
  (now) => {
    // Who looks as somebody else leaves no trace.
    if (session.me?.seenBy) return;
    for (const { id, isSeen } of now?.messages ?? []) {
      if (isSeen || fresh.has(id)) continue;
      fresh.add(id);
      void call('readMessage', { params: { messageId: id }, body: {} }).then(refresh, () => undefined);
    }
  },
  { immediate: true },
);
const picked = reactive(new Map<number, number[]>());
const pickOf = ({ id, chosen }: MyMessage): number[] => picked.get(id) ?? chosen;
function pick(message: MyMessage, place: number): void {
  const now = pickOf(message);
  if (!message.several) picked.set(message.id, [place]);
  else picked.set(message.id, now.includes(place) ? now.filter((each) => each !== place) : [...now, place]);
}
const said = reactive(new Map<number, string>());
/** What is chosen and said of a question; null while there is nothing of both. */
function answerOf(message: MyMessage): { choices: number[]; ownWords?: string } | null {
  const choices = pickOf(message);
  if (message.ownWords === null) return choices.length === 0 ? null : { choices };
  const ownWords = (said.get(message.id) ?? message.ownWords).trim();
  return choices.length === 0 && ownWords === '' ? null : { choices, ownWords };
}
async function act(messageId: number, body: { done?: boolean; choices?: number[]; ownWords?: string }): Promise<void> {
  try {
    await call('readMessage', { params: { messageId }, body });
  } catch (failure) {
    tell(failureWords(failure));
  }
  await refresh();
}
const answerTo = (messageId: number) => async (said: string, _to: number | null, requestId: string) => {
  await call('answerMessage', { params: { messageId }, body: { words: said, requestId } });
  await refresh();
};
const letters = computed({
  get: () => data.value?.letters ?? 'at once',
  set: (chosen) => {
    void call('chooseLetters', { body: { letters: chosen } }).then(async () => {
      tell(w.lettersSaved);
      await refresh();
    });
  },
});
const choices = letterChoices.map((value) => ({ value, title: w.letterChoices[value] }));
</script>

<template>
  <main class="mine">
    <div class="column">
      <h1>{{ w.title }}</h1>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <p v-if="data.messages.length === 0" class="soft">{{ w.none }}</p>
        <article v-for="message in data.messages" :key="message.id" class="card" :class="{ fresh: fresh.has(message.id) }">
          <h2>
            {{ message.title }} <span v-if="fresh.has(message.id)" class="mark">{{ w.isNew }}</span>
          </h2>
          <p class="soft" :title="showMoment(message.sentAt)">
            {{ w.from(message.by, message.group, showAgo(message.sentAt)) }}
            <b v-if="message.dueDay && !message.isDone" class="due">{{ w.due(showDay(message.dueDay)) }}</b>
          </p>
          <WrittenText v-if="message.body" :text="message.body" />
          <ul v-if="message.files.length > 0" class="plain-list files" :aria-label="w.files">
            <li v-for="file in message.files" :key="file.id">
              <a :href="addressOf('messageFile', { params: { messageId: message.id, fileId: file.id } })" download>{{ file.name }}</a>
            </li>
          </ul>
          <p v-if="message.kind === 'task'" class="line">
            <span v-if="message.isDone" class="good">{{ w.isDone }}</span>
            <v-btn
              v-if="message.activity"
              height="44"
              :variant="message.isDone ? 'text' : 'flat'"
              :to="{ name: 'my-work', params: { courseId: message.activity.courseId } }"
              >{{ w.handIn(message.activity.name) }}</v-btn
            >
            <span v-else-if="message.isOver" class="soft">{{ w.over }}</span>
            <v-btn v-else height="44" :variant="message.isDone ? 'text' : 'flat'" @click="act(message.id, { done: !message.isDone })">{{
              message.isDone ? w.notDone : w.done
            }}</v-btn>
          </p>
          <fieldset v-if="message.kind === 'question'" class="choices">
            <legend class="sr-only">{{ message.title }}</legend>
            <label v-for="(choice, place) in message.choices" :key="choice" class="choice">
              <input
                :type="message.several ? 'checkbox' : 'radio'"
                :name="`choice-${message.id}`"
                :disabled="message.isOver"
                :checked="pickOf(message).includes(place)"
                @change="pick(message, place)"
              />
              {{ choice }} <span v-if="message.tally" class="soft num">{{ w.tally(message.tally[place] ?? 0) }}</span>
            </label>
            <v-text-field
              v-if="message.ownWords !== null"
              maxlength="300"
              :disabled="message.isOver"
              :label="w.ownWords"
              :model-value="said.get(message.id) ?? message.ownWords"
              @update:model-value="said.set(message.id, $event)"
            />
            <p class="line">
              <span v-if="message.isOver" class="soft">{{ w.over }}</span>
              <v-btn v-else height="44" :disabled="answerOf(message) === null" @click="act(message.id, answerOf(message) ?? {})">{{
                w.choose
              }}</v-btn>
              <span v-if="(message.chosen.length > 0 || message.ownWords) && !message.isOver" class="good">{{ w.chosen }}</span>
            </p>
          </fieldset>
          <MessageThread :thread="message.thread" :may-answer="message.answers" :send="answerTo(message.id)" />
        </article>
        <v-select v-model="letters" class="letters" :items="choices" :label="w.letters" />
      </template>
    </div>
  </main>
</template>

<style scoped>
.card.fresh {
  border-left: 4px solid var(--tide);
}
.card h2 {
  font-size: 18px;
}
.mark {
  font-size: 13px;
  border-radius: 5px;
  padding: 1px 7px;
  background: var(--tide2);
  font-weight: 400;
}
.files a {
  display: inline-block;
  min-height: 26px;
}
.line {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.choices {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 4px;
}
.choice {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 40px;
}
.letters {
  margin-top: 16px;
}
</style>
