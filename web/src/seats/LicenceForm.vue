<script setup lang="ts">
import type { Change, LicenceSheet } from '@gate-roster/contract';
import { onLeavings } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';
import { usePrice } from './use-price.ts';
import DayField from '../ui/DayField.vue';

/** A licence, new or changed: how many seats, for what, from when until when. */
const { licence, homeId, courseSets } = defineProps<{
  licence: LicenceSheet | null;
  homeId: number;
  courseSets: readonly { id: number; name: string }[];
}>();
const emit = defineEmits<{ close: [] }>();
const w = words.seats;
const values = ref({
  name: licence?.name ?? '',
  seats: licence?.seats ?? 20,
  firstDay: licence?.firstDay ?? null,
  lastDay: licence?.lastDay ?? null,
  byHand: licence?.byHand ?? false,
  onLeaving: licence?.onLeaving ?? ('comes back if not begun' as const),
  needsApproval: licence?.needsApproval ?? false,
  duringSplits: licence?.duringSplits ?? false,
  idNumber: licence?.idNumber ?? '',
  renewMonths: licence?.renewMonths ?? null,
  idleDays: licence?.idleDays ?? null,
});
const { data: billing } = useQuery({ queryKey: ['billing'], queryFn: ({ signal }) => call('billing', {}, signal) });
const currency = computed(() => licence?.currency ?? billing.value?.currency ?? 'EUR');
const { typed: price, price: inMinor, isPrice } = usePrice(currency, licence?.price ?? null);
const about = ref<string | null>(null);
const { data: grid } = useQuery({
  queryKey: ['access', computed(() => homeId)],
  queryFn: ({ signal }) => call('accessGrid', { params: { groupId: homeId } }, signal),
  enabled: () => licence === null,
});
const choices = computed(() => [
  ...courseSets.map(({ id, name }) => ({ value: `courseSet/${id}`, title: w.aSet(name) })),
  ...(grid.value?.courses ?? []).map(({ id, name }) => ({ value: `course/${id}`, title: name })),
]);
const change = computed<Change | null>(() => {
  const terms = {
    ...values.value,
    name: values.value.name.trim(),
    seats: Number(values.value.seats),
    price: inMinor.value,
    renewMonths: values.value.renewMonths ? Number(values.value.renewMonths) : null,
    idNumber: values.value.idNumber.trim() || null,
    idleDays: values.value.idleDays ? Number(values.value.idleDays) : null,
  };
  if (!isPrice.value) return null;
  if (terms.name === '' || !Number.isInteger(terms.seats) || terms.seats < 0) return null;
  if (licence) return { kind: 'edit-licence', licenceId: licence.id, values: terms };
  const [kind, id] = about.value?.split('/') ?? [];
  if (!id) return null;
  return {
    kind: 'make-licence',
    values: { ...terms, homeId, about: kind === 'course' ? { course: Number(id) } : { courseSet: Number(id) } },
  };
});
const inHand = useChange(change, w.saved, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const leaving = onLeavings.map((value) => ({ value, title: w.onLeaving[value] }));
const dayOf = (typed: string | null | undefined): string | null => typed || null;
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="licence ? words.common.save : w.make" @apply="apply" @discard="emit('close')">
    <h2>{{ licence ? w.editTitle : w.make }}</h2>
    <v-text-field v-model="values.name" :label="w.name" />
    <v-autocomplete v-if="!licence" v-model="about" :items="choices" :label="w.paysFor" />
    <v-text-field v-model="values.seats" type="number" min="0" :label="w.seats" :hint="licence ? w.fewer : w.seatsHint" />
    <DayField :label="w.firstDay" :model-value="values.firstDay ?? ''" @update:model-value="values.firstDay = dayOf($event)" />
    <DayField :label="w.lastDay" :model-value="values.lastDay ?? ''" @update:model-value="values.lastDay = dayOf($event)" />
    <v-select v-model="values.onLeaving" :items="leaving" :label="w.whenLeaving" />
    <v-text-field v-model.number="values.idleDays" type="number" min="1" max="3650" :label="w.idleRule" :hint="w.idleRuleHint" />
    <v-checkbox v-model="values.byHand" :label="w.byHandField" />
    <v-checkbox v-model="values.duringSplits" :label="w.duringSplits" />
    <v-text-field v-model="values.idNumber" maxlength="60" :label="w.idNumber" />
    <v-text-field v-model="price" type="number" min="0" step="any" :label="w.price" :hint="w.priceHint(currency)" />
    <v-checkbox v-if="price !== ''" v-model="values.needsApproval" :label="w.needsApproval" />
    <v-text-field
      v-if="price !== '' && values.lastDay"
      v-model.number="values.renewMonths"
      type="number"
      min="1"
      max="120"
      :label="w.renewMonths"
      :hint="w.renewHint"
    />
    <p v-if="!licence" class="soft">{{ w.thenOpen }}</p>
  </LookPanel>
</template>
