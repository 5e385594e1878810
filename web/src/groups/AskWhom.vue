<script setup lang="ts">
import * as words from '../words.ts';

/** Whom a learner asks about a group, with a way to reach them. */
defineProps<{ people: { name: string; email: string | null }[] }>();
</script>

<template>
  <p v-if="people.length > 0" class="ask">
    <span class="soft">{{ words.learner.ask }}</span>
    <template v-for="(person, index) in people" :key="index">
      <a v-if="person.email" :href="`mailto:${person.email}`">{{ person.name }}</a>
      <span v-else>{{ person.name }}</span>
    </template>
  </p>
</template>

<style scoped>
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}
a {
  color: var(--tide);
  min-height: 26px;
}
</style>
