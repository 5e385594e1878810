<script setup lang="ts">
import type { Change, LicenceSheet } from '@gate-roster/contract';
import { showMoney } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';

/** Orders more seats of a licence for a group, or the months by which it is renewed. */
const { licence, group, what } = defineProps<{
  licence: LicenceSheet;
  group: { id: number; name: string };
  what: 'seats' | 'months';
}>();
const emit = defineEmits<{ close: [] }>();
const w = words.orders;
const session = useSession();
const scope = useScope();
const router = useRouter();
const seats = ref<number | null>(10);
const word = ref('');
const count = computed(() => (what === 'months' ? (licence.seats ?? 0) : Number(seats.value)));
const isCount = computed(() => Number.isInteger(count.value) && count.value >= 1 && count.value <= 100_000);
const change = computed<Change | null>(() => {
  const note = word.value.trim() || null;
  if (what === 'months') return { kind: 'order-renewal', licenceId: licence.id, word: note };
  return isCount.value ? { kind: 'order-seats', licenceId: licence.id, groupId: group.id, seats: count.value, word: note } : null;
});
const { data: price } = useQuery({
  queryKey: ['seats', computed(() => group.id), computed(() => licence.id), 'price', count],
  queryFn: ({ signal }) =>
    call('orderPrice', { params: { groupId: group.id }, query: { licence: licence.id, seats: count.value } }, signal),
  enabled: isCount,
  placeholderData: (before) => before,
});
const isDecidedFirst = computed(() => (price.value?.needsApproval ?? false) && session.me?.role !== 'administrator');
const money = (amount: number): string => showMoney(amount, price.value?.currency ?? licence.currency);
const inHand = useChange(change, () => (isDecidedFirst.value ? w.asked : w.ordered), { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  emit('close');
  await router.push({ name: 'seats', params: { groupId: scope.groupId.value }, query: { view: 'orders' } });
}
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="what === 'seats' ? w.order : w.renew" @apply="apply" @discard="emit('close')">
    <h2>{{ what === 'seats' ? w.orderTitle(licence.name) : w.renewTitle(licence.name) }}</h2>
    <p v-if="what === 'months' && licence.lastDay" class="soft">
      {{ w.renewWhat(licence.seats ?? 0, licence.renewMonths ?? 0, licence.lastDay) }}
    </p>
    <template v-else>
      <v-text-field v-model.number="seats" type="number" min="1" max="100000" :label="w.howMany" />
      <p class="soft">{{ w.forGroup(group.name) }}</p>
    </template>
    <v-textarea v-model="word" rows="2" auto-grow maxlength="500" :label="w.word" :hint="w.wordHint" />
    <template v-if="price">
      <p>
        <strong>{{ w.price(money(price.net), money(price.vat), money(price.total)) }}</strong>
      </p>
      <p v-if="what === 'seats' && price.served > 0">{{ w.served(price.served) }}</p>
      <p v-if="isDecidedFirst" class="soft">{{ w.decidedFirst }}</p>
    </template>
  </LookPanel>
</template>
