<script setup lang="ts">
import type { LicenceSheet, SeatList } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { idCode, useUrlState } from '../shell/url-state.ts';
import { showDay } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import LicenceRows from './LicenceRows.vue';
import SeatGroups from './SeatGroups.vue';
import SeatPeople from './SeatPeople.vue';
import { soonestTroubleFirst } from './soonest-trouble.ts';
import { useLimits } from './use-limits.ts';

/** Licences that pay in the scope: all of them, or one with its groups, its people and where it is heading. */
const LicenceForm = defineAsyncComponent(() => import('./LicenceForm.vue'));
const OrderForm = defineAsyncComponent(() => import('./OrderForm.vue'));
const SeatsOverTime = defineAsyncComponent(() => import('./SeatsOverTime.vue'));
const scope = useScope();
const session = useSession();
const w = words.seats;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: { groupId: scope.groupId.value } }, signal),
});
const chosen = useUrlState('licence', null, idCode);
const all = computed(() => soonestTroubleFirst(data.value?.licences ?? []));
const licence = computed(() => all.value.find(({ id }) => id === chosen.value) ?? all.value[0]);
const panel = ref<'make' | 'edit' | 'order' | 'renew' | null>(null);
/** The number that is opened to its people. */
const opened = ref<{ group: { id: number; name: string }; list: SeatList; idle?: number } | null>(null);
watch([scope.groupId, () => licence.value?.id], () => {
  panel.value = null;
  opened.value = null;
});
const limits = useLimits(licence);
const inHand = useChange(limits.change, w.limited, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) limits.clear();
}
const top = computed(() => licence.value?.groups[0]);
const story = useQuery({
  queryKey: ['seats', scope.groupId, computed(() => licence.value?.id ?? 0), 'story'],
  queryFn: ({ signal }) => call('seatStory', { params: { groupId: scope.groupId.value, licenceId: licence.value?.id ?? 0 } }, signal),
  enabled: computed(() => licence.value !== undefined),
});
const idle = computed(() => story.data.value?.idle ?? { days: 0, people: 0 });
/** Seats are ordered for the scope, or for the home where the scope lies above it. */
const orderGroup = computed(() => (top.value ? { id: top.value.id, name: top.value.name } : null));
const mayOrder = computed(() => session.hasPower('orderSeats') && licence.value?.price != null && orderGroup.value !== null);
const mayRenew = computed(() => mayOrder.value && licence.value?.renewMonths != null && licence.value.seats !== null);
/** Licences that pay here for one of the same courses. */
const others = computed(() =>
  all.value.filter(
    ({ id, courses, inForce }) => id !== licence.value?.id && inForce && courses.some((each) => licence.value?.courses.includes(each)),
  ),
);
const openIdle = (): void => {
  if (top.value) opened.value = { group: top.value, list: 'in use', idle: idle.value.days };
};
const about = (one: LicenceSheet): string =>
  [
    w.about(one.about.name, one.seats, one.lastDay && showDay(one.lastDay), one.inForce),
    w.onLeaving[one.onLeaving],
    one.byHand ? w.byHand : '',
    one.idleDays === null ? '' : w.idleRuleOf(one.idleDays),
    words.orders.priceOf(one.price, one.currency),
  ].join(' ');
</script>

<template>
  <div class="split">
    <main class="part">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <div class="head">
          <div v-if="licence">
            <h1>{{ licence.name }}</h1>
            <p class="soft">{{ about(licence) }}</p>
          </div>
          <h1 v-else>{{ words.areas.seats }}</h1>
          <div class="acts">
            <v-btn v-if="data.mayMake" variant="outlined" @click="panel = 'make'">{{ w.make }}</v-btn>
            <v-btn v-if="licence?.mayEdit" variant="outlined" @click="panel = 'edit'">{{ w.edit }}</v-btn>
            <v-btn v-if="mayRenew" variant="outlined" @click="panel = 'renew'">{{ words.orders.renew }}</v-btn>
            <v-btn v-if="mayOrder" variant="flat" @click="panel = 'order'">{{ words.orders.order }}</v-btn>
          </div>
        </div>
        <p v-if="all.length === 0" class="empty soft">{{ data.mayMake ? w.noneYet : w.none }}</p>
        <LicenceRows v-if="all.length > 1" :licences="all" :chosen-id="licence?.id ?? null" @choose="chosen = $event" />
        <SeatGroups v-if="licence" :licence="licence" :limits="limits" @open="opened = $event" />
      </template>
    </main>
    <aside v-if="panel === 'make' || (panel === 'edit' && licence)" class="panel">
      <LicenceForm
        :key="panel"
        :licence="panel === 'edit' ? (licence ?? null) : null"
        :home-id="scope.groupId.value"
        :course-sets="data?.courseSets ?? []"
        @close="panel = null"
      />
    </aside>
    <aside v-else-if="(panel === 'order' || panel === 'renew') && licence && orderGroup" class="panel">
      <OrderForm :key="panel" :licence="licence" :group="orderGroup" :what="panel === 'order' ? 'seats' : 'months'" @close="panel = null" />
    </aside>
    <aside v-else-if="limits.change.value" class="panel">
      <LookPanel :in-hand="inHand" :change="limits.change.value" @apply="apply" @discard="limits.clear()">
        <h2>{{ words.changes.whatItWouldDo }}</h2>
      </LookPanel>
    </aside>
    <aside v-else-if="licence && top" class="panel beside">
      <SeatPeople v-if="opened" :key="String(opened.idle)" v-bind="opened" :licence="licence" :others="others" @close="opened = null" />
      <template v-else>
        <section v-if="story.data.value" :aria-label="w.overTime">
          <h2>{{ w.overTime }}</h2>
          <SeatsOverTime :points="story.data.value.points" :forecast="top.forecast" :free="top.free" />
        </section>
        <section v-if="idle.people > 0" class="note">
          <p>{{ w.idle(idle.people, idle.days) }} {{ w.idleServes(Math.min(idle.people, top.inLine), top.inLine) }}</p>
          <v-btn v-if="session.hasPower('handOutSeats')" @click="openIdle">{{ w.takeBackUnused }}</v-btn>
        </section>
        <section v-if="(story.data.value?.gaveUp ?? 0) > 0" class="note">
          <p>{{ w.gaveUp(story.data.value?.gaveUp ?? 0) }}</p>
          <v-btn @click="opened = { group: top, list: 'gave up' }">{{ w.showThem }}</v-btn>
        </section>
        <SeatPeople v-if="top.inLine > 0" :group="top" list="in line" :licence="licence" />
      </template>
    </aside>
  </div>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.beside {
  display: grid;
  gap: 18px;
  align-content: start;
}
.note {
  background: var(--brass2);
  border: 1px solid var(--brass);
  border-radius: 8px;
  padding: 12px 14px;
  display: grid;
  gap: 8px;
  justify-items: start;
}
@media (max-width: 1100px) {
  .beside {
    position: static;
    width: auto;
    box-shadow: none;
  }
  .split:has(.beside) {
    flex-direction: column;
    overflow: auto;
  }
  .split:has(.beside) .part {
    flex: none;
    min-height: 320px;
  }
}
</style>
