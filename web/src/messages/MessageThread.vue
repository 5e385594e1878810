<script setup lang="ts">
import type { MessageAnswer } from '@gate-roster/contract';
import { ref } from 'vue';
import { useRequestId } from '../api/request-id.ts';
import { failureWords } from '../ui/failure-words.ts';
import { showAgo, showMoment } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Answers to a message, and a field for one's own. */
const {
  thread,
  mayAnswer,
  mayHide = false,
  send,
} = defineProps<{
  thread: readonly MessageAnswer[];
  mayAnswer: boolean;
  mayHide?: boolean;
  /** Sends an answer; `to`: the reader it is for, null for all. */
  send: (words: string, to: number | null, requestId: string) => Promise<unknown>;
}>();
const emit = defineEmits<{ hide: [answer: MessageAnswer] }>();
const w = words.messages;
const typed = ref('');
const to = ref<{ id: number; name: string } | null>(null);
const busy = ref(false);
const requestId = useRequestId();
async function answer(): Promise<void> {
  const said = typed.value.trim();
  if (said === '') return;
  busy.value = true;
  try {
    await send(said, to.value?.id ?? null, requestId({ said, to: to.value?.id ?? null, after: thread.length }));
    typed.value = '';
    to.value = null;
  } catch (error) {
    tell(failureWords(error));
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ul v-if="thread.length > 0" class="plain-list thread">
    <li v-for="each in thread" :key="each.id" :class="{ soft: each.isHidden }">
      <p class="who">
        <b>{{ each.by ?? w.somebody }}</b>
        <span v-if="each.to" class="soft">{{ w.toOne(each.to) }}</span>
        <span class="soft" :title="showMoment(each.at)">{{ showAgo(each.at) }}</span>
        <span v-if="each.isHidden" class="soft">{{ w.hidden }}</span>
        <template v-if="mayHide">
          <button
            v-if="!each.isMine && each.personId !== null"
            type="button"
            class="plain-link"
            @click="to = { id: each.personId, name: each.by ?? '' }"
          >
            {{ w.answerTo(each.by ?? '') }}
          </button>
          <button type="button" class="plain-link" @click="emit('hide', each)">{{ each.isHidden ? w.show : w.hide }}</button>
        </template>
      </p>
      <p class="said">{{ each.words }}</p>
    </li>
  </ul>
  <form v-if="mayAnswer" class="answer" @submit.prevent="answer">
    <v-textarea v-model="typed" rows="1" auto-grow maxlength="4000" :label="to ? w.answerTo(to.name) : w.answer" />
    <v-btn type="submit" height="44" :loading="busy" :disabled="typed.trim() === ''">{{ w.send }}</v-btn>
  </form>
</template>

<style scoped>
.thread {
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 6px 14px;
  background: var(--sheet);
}
.thread li {
  padding: 6px 0;
}
.who {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  font-size: 14px;
}
.said {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.answer {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px;
  align-items: start;
  margin-top: 10px;
}
</style>
