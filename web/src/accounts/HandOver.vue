<script setup lang="ts">
import type { Change, HandOverLine } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, reactive, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import PersonPicker from '../people/PersonPicker.vue';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** One sheet with all that hangs on somebody who leads: to one successor, or line by line; or covered for some days. */
const { person } = defineProps<{ person: { id: number; name: string } }>();
const emit = defineEmits<{ close: [] }>();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['hanging', computed(() => person.id)],
  queryFn: ({ signal }) => call('hangingOn', { params: { personId: person.id } }, signal),
  staleTime: 0,
});
const toAll = ref<number | null>(null);
/** Where a line goes elsewhere than all the others. */
const apart = reactive(new Map<string, number | null>());
const isCover = ref(false);
const firstDay = ref('');
const lastDay = ref('');
const lines = computed<(HandOverLine & { key: string; text: string })[]>(() => [
  ...(data.value?.leads ?? []).map(({ groupId, group, others, asking }) =>
    line('leads', groupId, words.leaders.leads(group, others, asking)),
  ),
  ...(isCover.value ? [] : (data.value?.contact ?? []).map(({ groupId, group }) => line('contact', groupId, words.leaders.contact(group)))),
  ...(isCover.value
    ? []
    : (data.value?.codes ?? []).map(({ groupId, group, codeId, code }) => line('code', groupId, words.leaders.code(code, group), codeId))),
]);
function line(what: HandOverLine['what'], groupId: number, text: string, codeId?: number): HandOverLine & { key: string; text: string } {
  const key = `${what}${codeId ?? groupId}`;
  return { key, text, what, groupId, ...(codeId === undefined ? {} : { codeId }), toId: apart.get(key) ?? toAll.value };
}
const change = computed<Change | null>(() => {
  if (lines.value.length === 0 || (isCover.value && (firstDay.value === '' || lastDay.value === ''))) return null;
  return {
    kind: 'hand-over',
    fromId: person.id,
    lines: lines.value.map(({ what, groupId, codeId, toId }) => ({ what, groupId, ...(codeId === undefined ? {} : { codeId }), toId })),
    cover: isCover.value ? { firstDay: firstDay.value, lastDay: lastDay.value } : null,
  };
});
const inHand = useChange(change, words.leaders.handedOver);
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <section class="hand">
    <h2>{{ words.leaders.handOverOf(person.name) }}</h2>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <p v-else-if="lines.length === 0 && !isCover" class="soft">{{ words.leaders.hangsNothing(person.name) }}</p>
    <template v-else>
      <p class="soft">{{ words.leaders.hangs(person.name) }}</p>
      <PersonPicker v-model="toAll" autofocus leaders :label="words.leaders.toOne" />
      <v-switch v-model="isCover" :label="words.leaders.cover" />
      <template v-if="isCover">
        <p class="soft">{{ words.leaders.coverHint }}</p>
        <div class="two">
          <DayField v-model="firstDay" :label="words.leaders.firstDay" />
          <DayField v-model="lastDay" :label="words.leaders.lastDay" />
        </div>
      </template>
      <ul class="plain-list">
        <li v-for="each in lines" :key="each.key" class="line">
          <span>{{ each.text }}</span>
          <PersonPicker
            leaders
            :model-value="apart.get(each.key) ?? null"
            :label="each.toId === null ? words.leaders.nobody : words.leaders.to"
            @update:model-value="apart.set(each.key, $event)"
          />
        </li>
      </ul>
    </template>
    <LookPanel :in-hand="inHand" :change="change" :apply-label="words.leaders.act" @apply="apply" @discard="emit('close')" />
  </section>
</template>

<style scoped>
.hand {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.two,
.line {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  align-items: center;
}
.line {
  border-top: 1px solid var(--rule);
  padding: 8px 0;
  font-size: 14px;
}
</style>
