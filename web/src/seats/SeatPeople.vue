<script setup lang="ts">
import type { Answer, Change, Routes, SeatList } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { showDayOf, showMoment, showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';

/** The people behind a number of seats: who uses one, who is in line, in the order in which they are served, or who gave up their place; and what is done about them. */
const {
  group,
  licence,
  list,
  idle = undefined,
  others = [],
} = defineProps<{
  group: { id: number; name: string };
  licence: { id: number; name: string };
  list: SeatList;
  /** Other licences to which seats of this one can move. */
  others?: readonly { id: number; name: string }[];
  /** Seats that have lain idle for so many days are to be taken back. */
  idle?: number | undefined;
}>();
defineEmits<{ close: [] }>();
const w = words.seats;
type Page = Answer<Routes['seatPeople']>;
const { data, error, isPending, refetch, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: computed(() => ['seats', group.id, licence.id, list]),
  queryFn: ({ signal, pageParam }) =>
    call(
      'seatPeople',
      { params: { groupId: group.id }, query: { list, licence: licence.id, ...(pageParam === null ? {} : { after: pageParam }) } },
      signal,
    ),
  initialPageParam: null as number | null,
  getNextPageParam: (last: Page) => last.next,
});
const people = computed(() => data.value?.pages.flatMap((page) => page.people) ?? []);
const mayHandOut = computed(() => data.value?.pages[0]?.may.handOut ?? false);
const isInUse = computed(() => list === 'in use');
const chosen = ref<number[]>([]);
/** One who waits for the next free seat needs none given. */
const held = computed(() => new Set(people.value.flatMap(({ id, isHeld }) => (isHeld ? [id] : []))));
const mayGive = computed(() => chosen.value.length > 0 && chosen.value.every((id) => held.value.has(id)));
const idleDays = ref<number | null>(idle ?? null);
type Act = 'give' | 'take back' | 'idle' | 'first' | 'swap' | 'give up' | 'move';
const toLicence = ref<number | null>(others[0]?.id ?? null);
const asked = ref<Act | null>(idle === undefined ? null : 'idle');
watch([() => group.id, () => licence.id, () => list], () => {
  chosen.value = [];
  asked.value = null;
  toLicence.value = others[0]?.id ?? null;
});
const change = computed<Change | null>(() => {
  const about = { licenceId: licence.id, groupId: group.id };
  const personIds = [...new Set(chosen.value)];
  if (asked.value === 'idle')
    return (idleDays.value ?? 0) >= 1 ? { kind: 'take-back-seats', ...about, personIds: null, idleDays: Number(idleDays.value) } : null;
  if (personIds.length === 0) return null;
  switch (asked.value) {
    case 'take back':
      return { kind: 'take-back-seats', ...about, personIds, idleDays: null };
    case 'give':
      return { kind: 'give-seats', ...about, personIds };
    case 'give up':
      return { kind: 'give-up-places', ...about, personIds };
    case 'move':
      return toLicence.value === null ? null : { kind: 'move-seats', ...about, toLicenceId: toLicence.value, personIds };
    case 'first':
    case 'swap':
      return { kind: 'arrange-line', ...about, personIds, how: asked.value };
    default:
      return null;
  }
});
const said = computed(() => w.acts[list === 'gave up' && asked.value === 'give' ? 'put back' : (asked.value ?? 'give')]);
const inHand = useChange(change, () => said.value.done, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  chosen.value = [];
  asked.value = null;
}
</script>

<template>
  <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
  <section v-else :aria-label="w.peopleTitle[list]">
    <h2>{{ showNumber(data.pages[0]?.total ?? 0) }} {{ w.peopleTitle[list] }}</h2>
    <p class="soft">{{ group.name }}. {{ w.peopleWhat[list] }}</p>
    <LookPanel v-if="change" :in-hand="inHand" :change="change" @apply="apply" @discard="asked = null">
      <h3>{{ said.title }}</h3>
      <v-select v-if="asked === 'move'" v-model="toLicence" :items="others" item-title="name" item-value="id" :label="w.toLicence" />
      <p v-if="said.hint" class="soft">{{ said.hint }}</p>
    </LookPanel>
    <div v-else-if="mayHandOut" class="acts">
      <template v-if="chosen.length > 0 && isInUse">
        <v-btn variant="flat" @click="asked = 'take back'">{{ w.takeBack(chosen.length) }}</v-btn>
        <v-btn v-if="others.length > 0" @click="asked = 'move'">{{ w.move(chosen.length) }}</v-btn>
      </template>
      <v-btn v-else-if="chosen.length > 0 && list === 'gave up'" variant="flat" @click="asked = 'give'">{{
        w.putBack(chosen.length)
      }}</v-btn>
      <template v-else-if="chosen.length > 0">
        <v-btn v-if="mayGive" variant="flat" @click="asked = 'give'">{{ w.give(chosen.length) }}</v-btn>
        <v-btn @click="asked = 'first'">{{ w.goFirst(chosen.length) }}</v-btn>
        <v-btn v-if="chosen.length === 2" @click="asked = 'swap'">{{ w.swap }}</v-btn>
        <v-btn @click="asked = 'give up'">{{ w.giveUp(chosen.length) }}</v-btn>
      </template>
      <template v-else-if="isInUse">
        <v-text-field v-model.number="idleDays" type="number" min="1" max="3650" class="days" :label="w.idleDays" />
        <v-btn :disabled="!idleDays" @click="asked = 'idle'">{{ w.takeBackIdle }}</v-btn>
      </template>
    </div>
    <component :is="list === 'in line' ? 'ol' : 'ul'" class="line" :class="{ 'plain-list': list !== 'in line' }">
      <li v-for="each in people" :key="each.key">
        <label v-if="mayHandOut" class="tick"
          ><input v-model="chosen" type="checkbox" :value="each.id" :aria-label="w.choose(each.name)"
        /></label>
        <router-link class="plain-link" :to="{ name: 'groups', params: { groupId: group.id }, query: { person: String(each.id) } }">{{
          each.name
        }}</router-link>
        <span class="soft" :title="showMoment(each.since)"> {{ w.since(each.about, showDayOf(each.since)) }}</span>
        <span v-if="each.isHeld && list === 'in line'" class="late">{{ ` ${w.isHeld}` }}</span>
      </li>
    </component>
    <button v-if="hasNextPage" type="button" class="plain-link" @click="fetchNextPage()">{{ words.common.more }}</button>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
ol.line {
  padding-left: 26px;
  font-variant-numeric: tabular-nums;
}
.line li {
  padding: 3px 0;
}
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.days {
  max-width: 150px;
}
.tick {
  display: inline-flex;
  padding: 4px 8px 4px 0;
}
.tick input {
  width: 16px;
  height: 16px;
}
</style>
