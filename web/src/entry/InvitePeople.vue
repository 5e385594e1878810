<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { fillLetter, readAddresses } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { useTree } from '../groups/tree-query.ts';
import { useSession } from '../shell/session.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';

/** Addresses in any form, a few words, and each gets a link of their own. */
const { groupId } = defineProps<{ groupId: number }>();
const emit = defineEmits<{ close: [] }>();
const w = words.waysIn.invitations;
const session = useSession();
const tree = useTree();
const typed = ref('');
const own = ref('');
const groupIds = ref([groupId]);
const another = ref<number | null>(null);
watch(another, (id) => {
  if (id !== null && !groupIds.value.includes(id)) groupIds.value = [...groupIds.value, id];
  another.value = null;
});
const nameOf = (id: number): string => tree.value?.row(id)?.name ?? '';
const read = computed(() => readAddresses(typed.value));
const change = computed<Change | null>(() =>
  read.value.people.length === 0 || groupIds.value.length === 0
    ? null
    : { kind: 'invite-people', groupIds: groupIds.value, people: read.value.people, words: own.value.trim() || null },
);
const inHand = useChange(change, w.done, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const { data: letters } = useQuery({
  queryKey: ['letters', groupId],
  queryFn: ({ signal }) => call('letters', { params: { groupId } }, signal),
});
const preview = computed(() => {
  const text = letters.value?.letters.find(({ kind }) => kind === 'invitation');
  const values = { ...words.waysIn.letters.sample, name: read.value.people[0]?.givenName ?? '', words: own.value };
  return (
    text &&
    fillLetter(text, { ...values, group: groupIds.value.map(nameOf).join(', '), organisation: session.me?.organisation ?? '', leader: '' })
  );
});
</script>

<template>
  <section class="form">
    <h2>{{ w.title }}</h2>
    <div class="chips">
      <v-chip
        v-for="id in groupIds"
        :key="id"
        :closable="groupIds.length > 1"
        :close-label="words.people.leaveOut(nameOf(id))"
        @click:close="groupIds = groupIds.filter((each) => each !== id)"
        >{{ nameOf(id) }}</v-chip
      >
    </div>
    <GroupPicker v-model="another" :label="words.waysIn.codes.also" :autofocus="false" />
    <v-textarea v-model="typed" v-focus-first rows="5" auto-grow max-rows="14" :label="w.addresses" :hint="w.addressesHint" />
    <p v-if="read.people.length > 0" class="soft">{{ w.found(read.people.length, read.repeated) }}</p>
    <p v-if="read.problems.length > 0" class="wrong">{{ w.notAddresses(read.problems.map(({ text }) => text)) }}</p>
    <v-textarea v-model="own" rows="2" auto-grow :label="w.words" />
    <details v-if="preview" class="preview">
      <summary>{{ w.preview }}</summary>
      <p>
        <b>{{ preview.subject }}</b>
      </p>
      <pre>{{ preview.body }}</pre>
    </details>
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="w.inviteSome(inHand.look.value?.letters ?? read.people.length)"
      @apply="apply"
      @discard="emit('close')"
    />
  </section>
</template>

<style scoped>
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.preview .preview pre {
  white-space: pre-wrap;
  font: inherit;
  font-size: 14px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 10px 12px;
}
</style>
