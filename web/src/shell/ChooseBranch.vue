<script setup lang="ts">
import { presetOf } from '@gate-roster/core';
import * as words from '../words.ts';
import { useSession } from './session.ts';

/** A leader of several branches chooses where to begin. */
const session = useSession();
</script>

<template>
  <main class="choose">
    <h1>{{ words.enter.branches }}</h1>
    <ul class="plain-list">
      <li v-for="led in session.me?.leaderships ?? []" :key="led.groupId">
        <router-link class="branch" :to="{ name: 'groups', params: { groupId: led.groupId } }"
          ><b>{{ led.name }}</b> <span class="soft">{{ words.leaders.held(presetOf(led.powers), led.powers) }}</span></router-link
        >
      </li>
    </ul>
  </main>
</template>

<style scoped>
.choose {
  padding: 26px;
  display: grid;
  gap: 16px;
  align-content: start;
  background: var(--sheet);
  flex: 1;
  overflow: auto;
}
ul {
  display: grid;
  gap: 10px;
  max-width: 560px;
}
.branch {
  display: grid;
  gap: 2px;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--paper);
  padding: 14px 18px;
  color: inherit;
  text-decoration: none;
}
.branch:hover {
  background: var(--tide2);
}
.branch b {
  font: 600 17px var(--heading);
}
</style>
