<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query';
import { computed, onBeforeUnmount, watch } from 'vue';
import { useRoute } from 'vue-router';
import { useTheme } from 'vuetify';
import { followLive } from '../api/live.ts';
import { notice } from '../ui/notice.ts';
import { words } from '../words.ts';
import ConnectionBanner from './ConnectionBanner.vue';
import SeenAsBand from './SeenAsBand.vue';
import { useSession } from './session.ts';
import { themeChoice } from './settings.ts';
import TopBand from './TopBand.vue';

const session = useSession();
const route = useRoute();
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
const isInside = computed(() => session.me && !route.meta.open);
</script>

<template>
  <v-app>
    <a v-if="isInside" class="skip" href="#content">{{ words.shell.skip }}</a>
    <TopBand v-if="isInside" />
    <SeenAsBand v-if="isInside" />
    <ConnectionBanner />
    <div id="content" class="content" tabindex="-1">
      <!-- Somebody else's screens begin anew: nothing of what was shown before stays in sight. -->
      <router-view :key="session.me?.personId ?? 0" />
    </div>
    <v-snackbar v-model="notice.isShown" :timeout="notice.action ? 10000 : 6000" color="ink" location="bottom" role="status">
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
