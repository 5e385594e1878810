<script setup lang="ts">
import * as words from '../words.ts';
</script>

<template>
  <main class="nowhere">
    <h1>{{ words.failures.notHereTitle }}</h1>
    <p>{{ words.failures.notHere }}</p>
    <v-btn :to="{ name: 'home' }" variant="flat">{{ words.shell.toStart }}</v-btn>
  </main>
</template>

<style scoped>
.nowhere {
  padding: 48px 26px;
  display: grid;
  gap: 14px;
  justify-items: start;
}
</style>
