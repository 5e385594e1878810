import { mostSeatPrice } from '@gate-roster/contract';
import { minorDigits } from '@gate-roster/core';
import { computed, ref, type Ref, watch } from 'vue';

/**
 * A price that is typed in whole units of a currency and kept in its minor ones.
 * @returns What was typed; the price (null: none), and whether it is one.
 */
export function usePrice(currency: Ref<string>, before: number | null) {
  const typed = ref('');
  const unit = computed(() => 10 ** minorDigits(currency.value));
  watch(unit, (digits) => (typed.value = before === null ? '' : String(before / digits)), { immediate: true });
  const price = computed(() => (typed.value === '' ? null : Math.round(Number(typed.value) * unit.value)));
  const isPrice = computed(() => price.value === null || (price.value >= 0 && price.value <= mostSeatPrice));
  return { typed, price, isPrice };
}
