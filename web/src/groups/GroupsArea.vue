<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import ScopeBar from '../shell/ScopeBar.vue';
import GroupPage from './GroupPage.vue';

/** A group's sheet beside the tree, or its splits. */
const SplitsPage = defineAsyncComponent(() => import('../splits/SplitsPage.vue'));
const route = useRoute();
const thing = computed(() => (route.params['thing'] ? Number(route.params['thing']) : null));
</script>

<template>
  <template v-if="route.params['part'] === 'splits'">
    <ScopeBar />
    <SplitsPage :split-id="thing" />
  </template>
  <GroupPage v-else />
</template>
