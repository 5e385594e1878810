<script setup lang="ts">
import { routes } from 'virtual:route-table';
import { useIntervalFn } from '@vueuse/core';
import { useRoute, useRouter } from 'vue-router';
import AccountCard from '../accounts/AccountCard.vue';
import * as words from '../words.ts';
import { nextOf } from './router.ts';

const checkMilliseconds = 2000;
const route = useRoute();
const router = useRouter();
useIntervalFn(() => {
  void fetch(routes.health.path).then(
    ({ ok }) => {
      if (ok) void router.replace(nextOf(route.query['next']));
    },
    () => undefined,
  );
}, checkMilliseconds);
</script>

<template>
  <AccountCard :title="words.failures.awayTitle"
    ><p class="away" role="alert">{{ words.failures.away }}</p></AccountCard
  >
</template>

<style scoped>
.away {
  padding: 0 24px;
}
</style>
