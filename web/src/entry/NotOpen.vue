<script setup lang="ts">
import * as words from '../words.ts';

/** What a passed-on link shows to somebody who is not in: nothing of what is behind it, and the way to get in. */
</script>

<template>
  <main class="nowhere">
    <h1>{{ words.join.nowhereTitle }}</h1>
    <p>{{ words.join.nowhere }}</p>
    <div class="acts">
      <v-btn variant="flat" height="44" :to="{ name: 'join' }">{{ words.areas.enterCode }}</v-btn>
      <v-btn height="44" :to="{ name: 'home' }">{{ words.shell.toStart }}</v-btn>
    </div>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 48px 26px;
  display: grid;
  gap: 14px;
  justify-items: start;
  max-width: 60ch;
}
.acts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
</style>
