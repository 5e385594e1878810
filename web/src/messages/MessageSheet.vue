<script setup lang="ts">
import type { Change, MessageAnswer, readerLists } from '@gate-roster/contract';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import LoadState from '../ui/LoadState.vue';
import ProgressBar from '../ui/ProgressBar.vue';
import { showAgo, showDay, showMoment, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import MessageThread from './MessageThread.vue';
import WrittenText from './WrittenText.vue';

/** One message: its words, its answers, and beside them whom it has reached, each number open to its people. */
const { messageId } = defineProps<{ messageId: number }>();
const emit = defineEmits<{ writeTo: [people: number[]] }>();
const w = words.messages;
const queries = useQueryClient();
const {
  data: message,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['messages', 'one', computed(() => messageId)],
  queryFn: ({ signal }) => call('message', { params: { messageId } }, signal),
});
type List = (typeof readerLists)[number];
const shown = ref<{ list: List; choice?: number } | null>(null);
const isWithdrawing = ref(false);
watch(
  () => messageId,
  () => {
    shown.value = null;
    isWithdrawing.value = false;
  },
);
const { data: readers } = useQuery({
  queryKey: ['messages', 'readers', computed(() => messageId), shown],
  queryFn: ({ signal }) => call('messageReaders', { params: { messageId }, query: shown.value ?? { list: 'seen' } }, signal),
  enabled: computed(() => shown.value !== null),
});
const open = (list: List, choice?: number): void => {
  const next = choice === undefined ? { list } : { list, choice };
  shown.value = JSON.stringify(shown.value) === JSON.stringify(next) ? null : next;
};
const main = computed(() => {
  if (!message.value) return null;
  const { kind, reached } = message.value;
  return kind === 'task'
    ? { count: reached.done, text: w.doneOf(reached.people), left: 'not done' as const, missing: reached.people - reached.done }
    : { count: reached.seen, text: w.seenOf(reached.people), left: 'not seen' as const, missing: reached.people - reached.seen };
});
async function writeToThem(list: List): Promise<void> {
  const { people } = await call('messageReaders', { params: { messageId }, query: { list } });
  emit(
    'writeTo',
    people.map(({ id }) => id),
  );
}
const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: ['messages'] });
async function answer(said: string, toPersonId: number | null, requestId: string): Promise<void> {
  await call('writeAnswer', { params: { messageId }, body: { words: said, toPersonId, requestId } });
  await refresh();
}
async function hide({ id, isHidden }: MessageAnswer): Promise<void> {
  await call('hideAnswer', { params: { messageId, answerId: id }, body: { hidden: !isHidden } });
  await refresh();
}
async function close(closed: boolean): Promise<void> {
  await call('closeThread', { params: { messageId }, body: { closed } });
  await refresh();
}
const withdrawal = computed<Change | null>(() => (isWithdrawing.value ? { kind: 'withdraw-message', messageId } : null));
const inHand = useChange(withdrawal, w.withdrawn);
async function withdraw(): Promise<void> {
  if (await inHand.apply()) await refresh();
}
</script>

<template>
  <main class="part">
    <LoadState v-if="!message" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <h1>{{ w.listTitle(message) }}</h1>
      <p class="soft">
        {{ w.writtenBy(message.by, showAgo(message.sentAt)) }}, {{ w.to(message) }}
        <span v-if="message.urgent" class="tag">{{ w.urgent }}</span>
        <span v-for="tag in message.tags" :key="tag" class="tag">{{ tag }}</span>
        <span v-if="message.pinnedUntil" class="tag">{{ w.pinnedUntil(showDay(message.pinnedUntil)) }}</span>
      </p>
      <p v-if="message.isWaiting" class="tag">{{ w.isWaiting(showMoment(message.sentAt)) }}</p>
      <WrittenText v-if="message.body" :text="message.body" />
      <p v-if="message.activity" class="soft">{{ w.doneBy(message.activity) }}</p>
      <ul v-if="message.files.length > 0" class="plain-list files" :aria-label="w.files">
        <li v-for="file in message.files" :key="file.id">
          <a :href="addressOf('messageFile', { params: { messageId, fileId: file.id } })" download>{{ file.name }}</a>
        </li>
      </ul>
      <section v-if="message.answers">
        <h2>{{ w.answers }}</h2>
        <p v-if="message.thread.length === 0" class="soft">{{ w.noAnswers }}</p>
        <MessageThread
          :thread="message.thread"
          :may-answer="message.may.write && !message.isClosed"
          :may-hide="message.may.write"
          :send="answer"
          @hide="hide"
        />
        <p class="soft small">{{ message.isClosed ? w.isClosed : message.isCommon ? w.isCommon : w.isPrivate }}</p>
        <v-btn v-if="message.may.write" variant="text" size="small" @click="close(!message.isClosed)">{{
          message.isClosed ? w.reopen : w.close
        }}</v-btn>
      </section>
      <div v-if="message.may.write">
        <v-btn v-if="!isWithdrawing" variant="text" class="late" @click="isWithdrawing = true">{{ w.withdraw }}</v-btn>
        <LookPanel v-else :in-hand="inHand" :change="withdrawal" @apply="withdraw" @discard="isWithdrawing = false">
          <h2>{{ w.withdrawTitle(message.title) }}</h2>
          <p class="soft">{{ w.withdrawHint }}</p>
        </LookPanel>
      </div>
    </template>
  </main>
  <aside v-if="message && main" class="panel">
    <h2>{{ w.reachedTitle }}</h2>
    <p>
      <b class="big">{{ showNumber(main.count) }}</b> <span class="soft">{{ main.text }}</span>
    </p>
    <ProgressBar :all="message.reached.people" :done="main.count" :under-way="0" />
    <ul class="plain-list facts">
      <li v-for="(choice, place) in message.choices" :key="choice.text">
        <button v-if="message.isNamed" type="button" class="plain-link" @click="open('chose', place)">{{ choice.text }}</button>
        <span v-else>{{ choice.text }}</span>
        <span class="num">{{ showNumber(choice.people) }}</span>
      </li>
      <li v-if="message.kind === 'task'">
        <span>{{ w.lists.seen }}</span> <span class="num">{{ showNumber(message.reached.seen) }}</span>
      </li>
      <li>
        <span>{{ w.byLetter }}</span> <span class="num">{{ showNumber(message.letters.sent) }}</span>
      </li>
      <li v-if="message.letters.waiting > 0">
        <span>{{ w.lettersWaiting }}</span> <span class="num">{{ showNumber(message.letters.waiting) }}</span>
      </li>
      <li v-if="message.letters.cameBack > 0">
        <span>{{ w.cameBack }}</span> <span class="num late">{{ showNumber(message.letters.cameBack) }}</span>
      </li>
      <li v-if="message.letters.noAddress > 0">
        <span>{{ w.noAddress }}</span> <span class="num">{{ showNumber(message.letters.noAddress) }}</span>
      </li>
    </ul>
    <p>
      <button v-if="main.missing > 0" type="button" class="plain-link" @click="open(main.left)">
        {{ `${w.lists[main.left]}: ${showNumber(main.missing)}` }}
      </button>
    </p>
    <v-btn v-if="message.may.write && main.missing > 0 && !message.isWaiting" @click="writeToThem(main.left)">{{
      w.writeToThem(main.missing)
    }}</v-btn>
    <template v-if="shown && readers">
      <h3>{{ shown.choice === undefined ? w.lists[shown.list] : message.choices[shown.choice]?.text }}</h3>
      <ul class="plain-list">
        <li v-for="person in readers.people" :key="person.id">{{ person.name }}</li>
      </ul>
      <p v-if="readers.more > 0" class="soft">{{ w.namesMore(readers.more) }}</p>
    </template>
    <template v-if="message.ownWords && message.ownWords.length > 0">
      <h3>{{ w.ownWordsTitle }}</h3>
      <ul class="plain-list">
        <li v-for="(each, at) in message.ownWords" :key="at">
          <b v-if="each.by">{{ each.by }}</b> {{ each.words }}
        </li>
      </ul>
    </template>
    <p v-if="message.kind === 'question' && !message.isNamed" class="soft small">{{ w.notNamed }}</p>
    <p class="soft small note">{{ w.oneADay }}</p>
  </aside>
</template>

<style scoped>
.files li {
  padding: 2px 0;
}
h2 {
  font-size: 17px;
}
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.panel > * {
  flex: none;
}
.facts li {
  display: flex;
  justify-content: space-between;
  padding: 3px 0;
}
.big {
  font-size: 30px;
}
.small {
  font-size: 13.5px;
}
</style>
