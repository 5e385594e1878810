<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query';
import { useIdle, useMediaQuery } from '@vueuse/core';
import { computed, defineAsyncComponent, onBeforeUnmount, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useTheme } from 'vuetify';
import { followLive } from '../api/live.ts';
import { notice } from '../ui/notice.ts';
import * as words from '../words.ts';
import ConnectionBanner from './ConnectionBanner.vue';
import { useSession } from './session.ts';
import { themeChoice } from './settings.ts';
import TopBand from './TopBand.vue';

// Learners' places and the band of whoever looks as somebody else: most never see them.
const LearnerNav = defineAsyncComponent(() => import('./LearnerNav.vue'));
const SeenAsBand = defineAsyncComponent(() => import('./SeenAsBand.vue'));
const session = useSession();
const route = useRoute();
const router = useRouter();
const queries = useQueryClient();
const theme = useTheme();
watch(
  themeChoice,
  (choice) => {
    void theme.change(choice);
  },
  { immediate: true },
);

let stopLive: (() => void) | null = null;
watch(
  () => session.me?.personId,
  (person, before) => {
    stopLive?.();
    stopLive = null;
    if (before !== undefined && before !== person) queries.clear();
    if (person !== undefined) stopLive = followLive(queries, () => void session.refresh());
  },
);
onBeforeUnmount(() => stopLive?.());
// Whoever came by a lasting card and walks away is signed out.
watch(
  () => session.me?.card,
  (card) => {
    if (!card) return;
    const { idle: away } = useIdle(card.idleMinutes * 60_000);
    watch(away, (isAway) => {
      if (isAway && session.me?.card) void session.signOut().then(() => router.push({ name: 'sign-in' }));
    });
  },
  { immediate: true },
);
const isInside = computed(() => session.me && (!route.meta.open || route.name === 'join'));
const learnersPlaces = ['my-courses', 'my-groups', 'my-messages', 'join'];
const isLearning = computed(() => isInside.value && (!session.isLeader || learnersPlaces.includes(String(route.name))));
const isWide = useMediaQuery('(min-width: 861px)');
</script>

<template>
  <v-app>
    <a v-if="isInside" class="skip" href="#content">{{ words.shell.skip }}</a>
    <TopBand v-if="isInside" />
    <SeenAsBand v-if="isInside && session.me?.seenBy" />
    <ConnectionBanner />
    <LearnerNav v-if="isLearning && isWide" />
    <div id="content" class="content" tabindex="-1">
      <!-- Somebody else's screens begin anew: nothing of what was shown before stays in sight.
           Pages open to anybody go on: registering is one of their steps. -->
      <router-view :key="route.meta.open ? 'open' : (session.me?.personId ?? 0)" />
    </div>
    <LearnerNav v-if="isLearning && !isWide" />
    <v-snackbar
      :key="notice.count"
      v-model="notice.isShown"
      :timeout="notice.action ? 10000 : 6000"
      color="ink"
      location="bottom"
      role="status"
    >
      <span class="notice">{{ notice.text }}</span>
      <template v-if="notice.action" #actions>
        <v-btn variant="text" color="paper" @click="notice.act()">{{ notice.action.label }}</v-btn>
      </template>
    </v-snackbar>
  </v-app>
</template>

<style>
.v-application__wrap {
  height: 100dvh;
  min-height: 0;
}
.content {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  background: var(--paper);
  outline: none;
}
.skip {
  position: absolute;
  left: -999px;
  background: var(--sheet);
  color: var(--tide);
  padding: 8px 16px;
  z-index: 3000;
}
.skip:focus {
  left: 8px;
  top: 8px;
}
.notice {
  color: var(--paper);
}
</style>
