<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import ScopeBar from '../shell/ScopeBar.vue';
import GroupPage from './GroupPage.vue';

/** A group's sheet beside the tree, its splits, or the end of its period. */
const SplitsPage = defineAsyncComponent(() => import('../splits/SplitsPage.vue'));
const PeriodPage = defineAsyncComponent(() => import('../periods/PeriodPage.vue'));
const route = useRoute();
const thing = computed(() => (route.params['thing'] ? Number(route.params['thing']) : null));
</script>

<template>
  <template v-if="route.params['part'] === 'splits'">
    <ScopeBar />
    <SplitsPage :split-id="thing" />
  </template>
  <template v-else-if="route.params['part'] === 'period'">
    <ScopeBar />
    <PeriodPage />
  </template>
  <GroupPage v-else />
</template>
