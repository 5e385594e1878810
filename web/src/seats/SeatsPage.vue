<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import ScopeBar from '../shell/ScopeBar.vue';
import { useSession } from '../shell/session.ts';
import { oneOf, useUrlState } from '../shell/url-state.ts';
import ViewLinks from '../ui/ViewLinks.vue';
import * as words from '../words.ts';
import LicencesView from './LicencesView.vue';

/** Seats of the scope: where they go, how more are bought, and everything that altered them. */
const OrdersView = defineAsyncComponent(() => import('./OrdersView.vue'));
const LedgerView = defineAsyncComponent(() => import('./LedgerView.vue'));
const session = useSession();
const names = ['licences', 'orders', 'ledger'] as const;
type View = (typeof names)[number];
const view = useUrlState<View>('view', 'licences', oneOf(names));
const may: Record<View, () => boolean> = {
  licences: () => true,
  orders: () => session.hasPower('orderSeats'),
  ledger: () => session.hasPower('handOutSeats'),
};
const views = computed(() => names.filter((name) => may[name]()).map((name) => ({ name, title: words.orders.views[name] })));
</script>

<template>
  <ScopeBar>
    <ViewLinks
      :model-value="view"
      :views="views"
      :label="words.orders.viewsLabel"
      @update:model-value="view = names.find((name) => name === $event) ?? 'licences'"
    />
  </ScopeBar>
  <OrdersView v-if="view === 'orders' && may.orders()" />
  <LedgerView v-else-if="view === 'ledger' && may.ledger()" />
  <LicencesView v-else />
</template>
