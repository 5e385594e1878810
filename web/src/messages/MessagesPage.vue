<script setup lang="ts">
import { type ShownKind, shownKinds } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, shallowRef, watch } from 'vue';
import { call } from '../api/call.ts';
import { type Chosen, chosenByNumber, nobodyChosen } from '../people/chosen.ts';
import { useScope } from '../shell/scope.ts';
import { idCode, oneOf, textCode, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import { showAgo } from '../ui/format.ts';
import * as words from '../words.ts';
import MessageSheet from './MessageSheet.vue';
import WriteMessage from './WriteMessage.vue';

/** What was written to groups of the scope: the list, one message, and writing. */
const w = words.messages;
const scope = useScope();
const chosen = useUrlState('message', null, idCode);
const writing = useUrlState<'no' | 'yes'>('write', 'no', oneOf(['no', 'yes']));
const tag = useUrlState('tag', '', textCode);
const kind = useUrlState<ShownKind | 'all'>('kind', 'all', oneOf([...shownKinds, 'all'] as const));
/** Whom a message is written to: people who were chosen in a list come along from there. */
const audience = shallowRef((history.state as { chosen?: Chosen }).chosen ?? nobodyChosen);
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['messages', scope.groupId, scope.query, tag, kind],
  queryFn: ({ pageParam, signal }) =>
    call(
      'messages',
      {
        params: { groupId: scope.groupId.value },
        query: {
          ...scope.query.value,
          ...(pageParam === null ? {} : { after: pageParam }),
          ...(tag.value === '' ? {} : { tag: tag.value }),
          ...(kind.value === 'all' ? {} : { kind: kind.value }),
        },
      },
      signal,
    ),
  initialPageParam: null as number | null,
  getNextPageParam: ({ next }) => next,
});
const messages = computed(() => data.value?.pages.flatMap((page) => page.messages) ?? []);
const tagItems = computed(() => [
  { value: '', title: w.anyTag },
  ...(data.value?.pages[0]?.tags ?? []).map((each) => ({ value: each, title: each })),
]);
const kindItems = (['all', ...shownKinds] as const).map((value) => ({ value, title: value === 'all' ? w.anyKind : w.kinds[value] }));
const mayWrite = computed(() => data.value?.pages[0]?.may.write ?? false);
const shown = computed(() => chosen.value ?? messages.value[0]?.id ?? null);
watch(messages, (list) => {
  if (chosen.value !== null && list.length > 0 && !list.some(({ id }) => id === chosen.value) && !hasNextPage.value) chosen.value = null;
});
function show(id: number): void {
  writing.value = 'no';
  chosen.value = id;
}
function write(people: readonly number[]): void {
  audience.value = chosenByNumber(people);
  writing.value = 'yes';
}
function written(): void {
  audience.value = nobodyChosen;
  writing.value = 'no';
  chosen.value = null;
}
</script>

<template>
  <div class="split">
    <nav class="list" :aria-label="w.title">
      <div class="acts">
        <v-btn v-if="mayWrite" variant="flat" @click="write([])">{{ w.write }}</v-btn>
        <v-select v-if="tagItems.length > 1" v-model="tag" density="compact" :items="tagItems" :label="w.tag" />
        <v-select v-model="kind" density="compact" :items="kindItems" :label="w.kind" />
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="messages.length === 0" class="soft none">{{ w.none }}</p>
      <ul v-else class="plain-list rows-of-messages" tabindex="0" :aria-label="w.title">
        <li v-for="message in messages" :key="message.id">
          <button
            type="button"
            class="message"
            :class="{ on: message.id === shown && writing === 'no' }"
            :aria-current="message.id === shown && writing === 'no' ? 'true' : undefined"
            @click="show(message.id)"
          >
            <b>{{ w.listTitle(message) }}</b>
            <span>{{ w.to(message) }}</span>
            <span class="soft small">{{ `${showAgo(message.sentAt)}, ${w.what(message)}` }}</span>
          </button>
        </li>
        <li v-if="hasNextPage">
          <v-btn variant="text" @click="fetchNextPage()">{{ w.more }}</v-btn>
        </li>
      </ul>
    </nav>
    <main v-if="writing === 'yes'" class="part"><WriteMessage :chosen="audience" @close="written" /></main>
    <MessageSheet v-else-if="shown !== null" :message-id="shown" @write-to="write" />
    <main v-else class="part">
      <h1>{{ w.title }}</h1>
      <p class="soft">{{ messages.length > 0 ? w.choose : w.none }}</p>
    </main>
  </div>
</template>

<style scoped>
.list {
  width: 330px;
  flex: none;
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-right: 1px solid var(--rule);
  background: var(--paper);
}
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 12px 16px;
}
.none {
  padding: 8px 16px;
}
.rows-of-messages {
  overflow: auto;
  flex: 1;
}
.message {
  display: grid;
  gap: 2px;
  width: 100%;
  text-align: left;
  padding: 10px 16px;
  border: 0;
  border-top: 1px solid var(--rule);
  border-left: 4px solid transparent;
  background: none;
  font: inherit;
  font-size: 14.5px;
  color: inherit;
  cursor: pointer;
}
.message.on {
  background: var(--sheet);
  border-left-color: var(--tide);
}
.small {
  font-size: 13.5px;
}
@media (max-width: 860px) {
  .list {
    width: 100%;
    border-right: 0;
    max-height: 45vh;
  }
}
</style>
