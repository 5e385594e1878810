<script setup lang="ts">
import type { Answer, Change, Routes } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { showDay, showMoment, showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { words } from '../words.ts';

/** The people behind a number of seats: who uses one, or who is in line, in the order in which they are served; and giving and taking back. */
const {
  group,
  licence,
  list,
  idle = undefined,
} = defineProps<{
  group: { id: number; name: string };
  licence: { id: number; name: string };
  list: 'in use' | 'in line';
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
const asked = ref<'chosen' | 'idle' | 'first' | 'swap' | null>(idle === undefined ? null : 'idle');
watch([() => group.id, () => licence.id, () => list], () => {
  chosen.value = [];
  asked.value = null;
});
const change = computed<Change | null>(() => {
  const about = { licenceId: licence.id, groupId: group.id };
  if (asked.value === 'idle' && (idleDays.value ?? 0) >= 1)
    return { kind: 'take-back-seats', ...about, personIds: null, idleDays: Number(idleDays.value) };
  const personIds = [...new Set(chosen.value)];
  if (personIds.length === 0 || asked.value === null || asked.value === 'idle') return null;
  if (asked.value !== 'chosen') return { kind: 'arrange-line', ...about, personIds, how: asked.value };
  return isInUse.value ? { kind: 'take-back-seats', ...about, personIds, idleDays: null } : { kind: 'give-seats', ...about, personIds };
});
const isArranging = computed(() => asked.value === 'first' || asked.value === 'swap');
const inHand = useChange(change, () => (isArranging.value ? w.arranged : isInUse.value ? w.takenBack : w.given), {
  settleMilliseconds: 250,
});
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
      <h3>{{ isArranging ? w.arrangeTitle : isInUse ? w.takeBackTitle : w.giveTitle }}</h3>
      <p v-if="isArranging" class="soft">{{ w.arrangeHint }}</p>
      <p v-if="isInUse" class="soft">{{ w.takeBackHint }}</p>
    </LookPanel>
    <div v-else-if="mayHandOut" class="acts">
      <v-btn v-if="chosen.length > 0 && isInUse" variant="flat" @click="asked = 'chosen'">{{ w.takeBack(chosen.length) }}</v-btn>
      <template v-else-if="chosen.length > 0">
        <v-btn v-if="mayGive" variant="flat" @click="asked = 'chosen'">{{ w.give(chosen.length) }}</v-btn>
        <v-btn @click="asked = 'first'">{{ w.goFirst(chosen.length) }}</v-btn>
        <v-btn v-if="chosen.length === 2" @click="asked = 'swap'">{{ w.swap }}</v-btn>
      </template>
      <template v-else-if="isInUse">
        <v-text-field v-model.number="idleDays" type="number" min="1" max="3650" class="days" :label="w.idleDays" />
        <v-btn :disabled="!idleDays" @click="asked = 'idle'">{{ w.takeBackIdle }}</v-btn>
      </template>
    </div>
    <component :is="list === 'in line' ? 'ol' : 'ul'" class="line" :class="{ 'plain-list': list === 'in use' }">
      <li v-for="each in people" :key="each.key">
        <label v-if="mayHandOut" class="tick"
          ><input v-model="chosen" type="checkbox" :value="each.id" :aria-label="w.choose(each.name)"
        /></label>
        <router-link class="plain-link" :to="{ name: 'groups', params: { groupId: group.id }, query: { person: String(each.id) } }">{{
          each.name
        }}</router-link>
        <span class="soft" :title="showMoment(each.since)"> {{ w.since(each.about, showDay(each.since.slice(0, 10))) }}</span>
        <span v-if="each.isHeld" class="late">{{ ` ${w.isHeld}` }}</span>
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
