<script setup lang="ts">
import * as words from '../words.ts';
import { areas } from './areas.ts';
import { singleKeys } from './settings.ts';

const isOpen = defineModel<boolean>({ required: true });
const list = [...areas.map(({ key, name }) => [`g ${key}`, words.keys.goTo(words.areas[name])] as const), ...words.keys.list];
</script>

<template>
  <v-dialog v-model="isOpen" max-width="520" :aria-label="words.keys.title">
    <v-card class="keys">
      <h2>{{ words.keys.title }}</h2>
      <dl>
        <template v-for="[keys, what] in list" :key="keys">
          <dt class="mono">{{ keys }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <v-switch v-model="singleKeys" :label="words.keys.single" />
      <v-btn class="close" @click="isOpen = false">{{ words.common.close }}</v-btn>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.keys {
  padding: 20px 24px;
  display: grid;
  gap: 12px;
}
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 6px 16px;
  margin: 0;
}
dd {
  margin: 0;
}
.close {
  justify-self: end;
}
</style>
