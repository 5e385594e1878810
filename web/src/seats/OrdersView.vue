<script setup lang="ts">
import { type Change, orderLists, type SeatOrder } from '@gate-roster/contract';
import { showMoney } from '@gate-roster/core';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import { failureWords } from '../ui/failure-words.ts';
import { dayOf } from '../ui/format.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';

/** Orders of seats for the scope: what was asked for, decided and paid, and their invoices. */
const w = words.orders;
const scope = useScope();
const session = useSession();
const params = computed(() => ({ groupId: scope.groupId.value }));
const list = useUrlState<(typeof orderLists)[number]>('orders', 'open', oneOf(orderLists));
const { data, error, isPending, refetch, hasNextPage, fetchNextPage } = useInfiniteQuery({
  queryKey: ['seats', scope.groupId, 'orders', list],
  queryFn: ({ pageParam, signal }) =>
    call('orders', { params: params.value, query: { list: list.value, ...(pageParam === null ? {} : { after: pageParam }) } }, signal),
  initialPageParam: null as number | null,
  getNextPageParam: ({ next }) => next,
});
const orders = computed(() => data.value?.pages.flatMap((page) => page.orders) ?? []);
const isServed = computed(() => data.value?.pages[0]?.mayOrder ?? false);

type Act = 'approve' | 'refuse' | 'give up' | 'credit';
const act = ref<{ does: Act; order: SeatOrder } | null>(null);
const word = ref('');
const seats = ref<number | null>(1);
const titles: Record<Act, (id: number) => string> = {
  approve: w.approveTitle,
  refuse: w.refuseTitle,
  'give up': w.giveUpTitle,
  credit: w.creditTitle,
};
const labels: Record<Act, string> = { approve: w.approve, refuse: w.refuse, 'give up': w.giveUp, credit: w.credit };
function begin(does: Act, order: SeatOrder): void {
  word.value = '';
  seats.value = order.seats - order.credited;
  act.value = { does, order };
}
const change = computed<Change | null>(() => {
  if (!act.value) return null;
  const { does, order } = act.value;
  const note = word.value.trim() || null;
  if (does === 'give up') return { kind: 'give-up-order', orderId: order.id };
  if (does !== 'credit') return { kind: 'decide-order', orderId: order.id, approve: does === 'approve', word: note };
  const count = Number(seats.value);
  return Number.isInteger(count) && count >= 1 ? { kind: 'credit-order', orderId: order.id, seats: count, word: note } : null;
});
const inHand = useChange(change, () => (act.value ? w.done[act.value.does] : ''), { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) act.value = null;
}

const paying = ref<number | null>(null);
const problem = ref<string | null>(null);
/** The page of the payment service takes over; it leads back here. */
async function pay(order: SeatOrder): Promise<void> {
  paying.value = order.id;
  problem.value = null;
  try {
    const { page } = await call('payOrder', { params: { orderId: order.id }, body: { requestId: crypto.randomUUID() } });
    window.location.assign(page);
  } catch (failure) {
    problem.value = failureWords(failure);
    paying.value = null;
  }
}
const paper = (order: SeatOrder, number: number): string =>
  addressOf('orderPaper', { params: { orderId: order.id, number }, query: { paper: 'A4' } });
const columns: readonly ListColumn[] = [
  { key: 'what', title: w.head.what },
  { key: 'licence', title: w.head.licence },
  { key: 'group', title: w.head.group, roomFrom: 720 },
  { key: 'by', title: w.head.by, roomFrom: 860 },
  { key: 'total', title: w.head.total, isNumber: true },
  { key: 'state', title: w.head.state },
  { key: 'acts', title: words.common.actions, hasHiddenTitle: true },
];
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ w.title }}</h1>
        <v-btn v-if="session.hasPower('export')" variant="outlined" :href="addressOf('ordersFile', { params })" download>
          {{ w.asCsv }}
        </v-btn>
      </div>
      <div class="which">
        <button
          v-for="name in orderLists"
          :key="name"
          type="button"
          class="pick"
          :class="{ on: name === list }"
          :aria-pressed="name === list"
          @click="list = name"
        >
          {{ w.lists[name] }}
        </button>
      </div>
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="orders.length === 0" class="soft">{{ w.none[list] }}</p>
      <template v-else
        ><DataList :label="w.title" :columns="columns" :rows="orders">
          <template #what="{ row: order }">
            {{ w.what(order) }}
            <p v-if="order.asking" class="soft small">{{ order.asking }}</p>
          </template>
          <template #licence="{ row: order }">
            <router-link :to="{ name: 'seats', params, query: { licence: String(order.licence.id) } }">{{
              order.licence.name
            }}</router-link>
          </template>
          <template #group="{ row: order }">
            {{ order.group.name }}
          </template>
          <template #by="{ row: order }">
            {{ w.by(order.orderedBy, dayOf(order.askedAt)) }}
          </template>
          <template #total="{ row: order }">
            {{ showMoney(order.total, order.currency) }}
          </template>
          <template #state="{ row: order }">
            <span :class="{ late: order.payment === 'refused' && order.state === 'approved', good: order.state === 'paid' }">{{
              w.state(order)
            }}</span>
            <p v-if="order.credited > 0" class="soft small">{{ w.credited(order.credited) }}</p>
            <p v-if="order.papers.length > 0" class="small papers">
              <a v-for="(number, at) in order.papers" :key="number" :href="paper(order, number)" download>{{
                w.paper(number, at === 0)
              }}</a>
            </p>
          </template>
          <template #acts="{ row: order }">
            <div class="acts end">
              <v-btn v-if="order.may.pay && isServed" :loading="paying === order.id" variant="flat" @click="pay(order)">
                {{ order.state === 'paying' || order.payment === 'refused' ? w.payAgain : w.pay }}
              </v-btn>
              <template v-if="order.may.decide">
                <v-btn variant="flat" @click="begin('approve', order)">{{ w.approve }}</v-btn>
                <v-btn @click="begin('refuse', order)">{{ w.refuse }}</v-btn>
              </template>
              <v-btn v-if="order.may.giveUp" variant="text" @click="begin('give up', order)">{{ w.giveUp }}</v-btn>
              <v-btn v-if="order.may.credit" variant="text" @click="begin('credit', order)">{{ w.credit }}</v-btn>
            </div>
          </template>
        </DataList>
        <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ words.common.more }}</v-btn></template
      >
    </main>
    <aside v-if="act" class="panel">
      <LookPanel :in-hand="inHand" :change="change" :apply-label="labels[act.does]" @apply="apply" @discard="act = null">
        <h2>{{ titles[act.does](act.order.id) }}</h2>
        <p class="soft">{{ w.what(act.order) }}, {{ act.order.licence.name }}, {{ act.order.group.name }}</p>
        <p v-if="act.does === 'give up'" class="soft">{{ w.giveUpHint }}</p>
        <template v-if="act.does === 'credit'">
          <p class="soft">{{ w.creditHint }}</p>
          <v-text-field v-model.number="seats" type="number" min="1" :max="act.order.seats - act.order.credited" :label="w.creditSeats" />
        </template>
        <v-textarea v-if="act.does !== 'give up'" v-model="word" rows="2" auto-grow maxlength="500" :label="w.word" />
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped>
.which,
.acts,
.papers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.small {
  font-size: 13.5px;
}
.end {
  justify-content: flex-end;
}
</style>
