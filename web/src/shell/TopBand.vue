<script setup lang="ts">
import { mdiMagnify } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import { personName } from '../ui/format.ts';
import * as words from '../words.ts';
import GateMark from './GateMark.vue';
import { useKeys } from './keys.ts';
import { type Area, areas } from './areas.ts';
import { keptQuery } from './scope.ts';
import { useSession } from './session.ts';

// What opens at a click comes with the click: the first load stays small.
const FindAnything = defineAsyncComponent(() => import('./FindAnything.vue'));
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'));
const session = useSession();
const route = useRoute();
const router = useRouter();
const isFinding = ref(false);
const isShowingKeys = ref(false);

// The scope goes along from area to area; before there is one, the own home.
const groupId = computed(() => Number(route.params['groupId'] ?? lastGroup.value));
const lastGroup = ref(session.me?.homeGroupId ?? 0);
router.afterEach((to) => {
  if (to.params['groupId']) lastGroup.value = Number(to.params['groupId']);
});
const link = (area: Area) => ({
  name: area,
  params: { groupId: groupId.value },
  query: keptQuery(route.query),
});
const shownAreas = computed<Area[]>(() =>
  session.isLeader
    ? areas.filter(({ needs }) => needs.length === 0 || needs.some((power) => session.hasPower(power))).map(({ name }) => name)
    : [],
);
const { data: asking } = useQuery({
  queryKey: ['waiting'],
  queryFn: ({ signal }) => call('waiting', {}, signal),
  enabled: () => session.hasPower('decideEntry') || session.hasPower('openCourses'),
});
const waiting = computed(() => asking.value?.people ?? 0);
const go = (area: Area) => () => {
  if (shownAreas.value.includes(area)) void router.push(link(area));
};

async function signOut(): Promise<void> {
  await session.signOut();
  await router.push({ name: 'sign-in' });
}

useKeys(
  {
    '/': () => {
      if (session.isLeader) isFinding.value = true;
    },
    '?': () => {
      isShowingKeys.value = true;
    },
  },
  {
    ...Object.fromEntries(areas.map(({ key, name }) => [key, go(name)])),
    l: () => {
      if (session.isLeader) void router.push({ name: 'log' });
    },
  },
);
</script>

<template>
  <header class="band">
    <router-link class="logo" :to="{ name: 'home' }"
      ><GateMark /><span class="logo-name">{{ words.product }}</span></router-link
    >
    <nav :aria-label="words.shell.areas">
      <router-link
        v-for="area in shownAreas"
        :key="area"
        :to="link(area)"
        :class="{ on: route.name === area }"
        :aria-current="route.name === area ? 'page' : undefined"
      >
        {{ words.areas[area] }}
        <span v-if="area === 'ways-in' && waiting > 0" class="count" :title="words.areas.waiting(waiting)">{{ waiting }}</span>
      </router-link>
    </nav>
    <div class="right">
      <button v-if="session.isLeader" class="find" type="button" @click="isFinding = true">
        <v-icon :icon="mdiMagnify" size="18" /><span class="find-text">{{ words.find.title }}</span
        ><kbd aria-hidden="true">{{ '/' }}</kbd>
      </button>
      <router-link v-if="session.isLeader" :to="{ name: 'log' }">{{ words.areas.log }}</router-link>
      <v-menu>
        <template #activator="{ props: activator }">
          <button v-bind="activator" type="button" class="me">{{ session.me ? personName(session.me) : '' }}</button>
        </template>
        <v-list>
          <v-list-item v-if="session.isLeader" class="in-menu" :to="{ name: 'log' }" :title="words.areas.log" />
          <v-list-item v-if="session.isLeader" :to="{ name: 'my-courses' }" :title="words.areas.myCourses" />
          <v-list-item :to="{ name: 'settings' }" :title="words.settings.title" />
          <v-list-item :title="words.keys.title" @click="isShowingKeys = true" />
          <v-list-item :title="words.common.signOut" @click="signOut" />
        </v-list>
      </v-menu>
    </div>
    <FindAnything v-if="isFinding" v-model="isFinding" />
    <KeysDialog v-if="isShowingKeys" v-model="isShowingKeys" />
  </header>
</template>

<style scoped>
.band {
  background: var(--band);
  color: #fff;
  display: flex;
  align-items: center;
  height: 52px;
  padding: 0 18px;
  gap: 26px;
  flex: none;
}
.band a,
.me,
.find {
  color: #cfe2df;
  text-decoration: none;
}
.me,
.find {
  font: inherit;
  background: none;
  border: 0;
  cursor: pointer;
}
.logo {
  display: flex;
  gap: 10px;
  align-items: center;
}
.logo-name {
  font: 700 19px var(--heading);
  color: #fff;
  white-space: nowrap;
}
nav {
  display: flex;
  gap: 2px;
  height: 100%;
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 14px;
  font-weight: 500;
  border-block: 3px solid transparent;
  white-space: nowrap;
}
nav .count {
  margin-left: 8px;
  min-width: 22px;
  padding: 0 6px;
  border-radius: 11px;
  background: #b8481a;
  color: #fff;
  font-size: 13px;
  text-align: center;
}
nav a:hover {
  color: #fff;
}
.band nav a.on {
  color: #fff;
  border-bottom-color: #f0b44c;
  background: var(--band2);
}
.right {
  margin-left: auto;
  display: flex;
  gap: 16px;
  align-items: center;
  font-size: 14px;
  white-space: nowrap;
}
.find {
  background: var(--band2);
  border-radius: 6px;
  padding: 6px 10px;
  min-width: 196px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.find-text {
  flex: 1;
  text-align: left;
}
kbd {
  font:
    12px 'Atkinson Hyperlegible Mono Variable',
    monospace;
  border: 1px solid #3d7b80;
  border-radius: 4px;
  padding: 0 5px;
}
.me {
  min-height: 44px;
}
.right a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
/* Menus live beside the application, so the rule reaches beyond this component's own elements. */
@media (min-width: 861px) {
  :global(.in-menu) {
    display: none;
  }
}
@media (max-width: 860px) {
  .band {
    gap: 10px;
    padding: 0 12px;
    overflow-x: auto;
  }
  .logo-name,
  .find-text,
  kbd {
    display: none;
  }
  .find {
    min-width: 44px;
    min-height: 44px;
    justify-content: center;
  }
  nav:empty ~ .right {
    margin-left: auto;
  }
  .band:has(nav:empty) .logo-name {
    display: inline;
  }
  .right {
    gap: 8px;
  }
  .right > a {
    display: none;
  }
  nav a {
    padding: 0 9px;
  }
  .me {
    max-width: 96px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
}
</style>
