<script setup lang="ts">
import { mostCards } from '@gate-roster/contract';
import * as words from '../words.ts';

/** A file is in: what comes next. */
defineProps<{ newPeople: number }>();
defineEmits<{ cards: []; group: []; another: []; undo: [] }>();
</script>

<template>
  <section class="done" role="status">
    <h1>{{ words.entry.isIn(newPeople) }}</h1>
    <div class="acts">
      <v-btn v-if="newPeople > 0 && newPeople <= mostCards" variant="flat" @click="$emit('cards')">{{
        words.entry.cardsFor(newPeople)
      }}</v-btn>
      <v-btn variant="outlined" @click="$emit('group')">{{ words.entry.toGroup }}</v-btn>
      <v-btn variant="text" @click="$emit('another')">{{ words.entry.another }}</v-btn>
      <v-btn variant="text" @click="$emit('undo')">{{ words.changes.undo }}</v-btn>
    </div>
    <p class="soft">{{ words.changes.canBeUndone }}</p>
  </section>
</template>

<style scoped>
.done {
  display: grid;
  gap: 16px;
  justify-items: start;
  padding-top: 18px;
}
.acts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
</style>
