<script setup lang="ts">
import GateMark from '../shell/GateMark.vue';
import * as words from '../words.ts';

/** The frame of the screens before one is signed in. */
defineProps<{ title: string }>();
</script>

<template>
  <main class="outside">
    <div class="card">
      <p class="brand"><GateMark /> {{ words.product }}</p>
      <h1>{{ title }}</h1>
      <slot />
    </div>
  </main>
</template>

<style scoped>
.outside {
  flex: 1;
  display: grid;
  place-items: start center;
  padding: 10dvh 16px 32px;
  background: var(--paper);
  overflow: auto;
}
.card {
  width: 100%;
  max-width: 420px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 10px;
  overflow: hidden;
  padding-bottom: 24px;
}
.brand {
  display: flex;
  gap: 10px;
  align-items: center;
  font: 700 19px var(--heading);
  background: var(--band);
  color: #fff;
  padding: 12px 24px;
}
h1 {
  padding: 20px 24px 12px;
}
:slotted(form) {
  display: grid;
  gap: 14px;
  padding: 0 24px;
}
</style>
