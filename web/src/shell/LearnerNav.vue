<script setup lang="ts">
import { useRoute } from 'vue-router';
import { words } from '../words.ts';

/** A learner's three places, at the foot of a phone and under the band of a wide window. */
const route = useRoute();
const places = [
  { name: 'my-courses', title: words.areas.myCourses },
  { name: 'my-groups', title: words.areas.myGroups },
  { name: 'join', title: words.areas.enterCode },
] as const;
</script>

<template>
  <nav class="places" :aria-label="words.shell.areas">
    <router-link
      v-for="place in places"
      :key="place.name"
      :to="{ name: place.name }"
      :class="{ on: route.name === place.name }"
      :aria-current="route.name === place.name ? 'page' : undefined"
      >{{ place.title }}</router-link
    >
  </nav>
</template>

<style scoped>
.places {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  flex: none;
  background: var(--sheet);
  border-block: 1px solid var(--rule);
}
a {
  display: grid;
  place-items: center;
  min-height: 56px;
  color: inherit;
  text-decoration: none;
  border-top: 3px solid transparent;
}
.on {
  border-top-color: var(--tide);
  color: var(--tide);
  font-weight: 700;
}
@media (min-width: 861px) {
  .places {
    grid-template-columns: repeat(3, 160px);
    justify-content: center;
  }
  a {
    min-height: 44px;
    border-top: 0;
    border-bottom: 3px solid transparent;
  }
  .on {
    border-bottom-color: var(--tide);
  }
}
</style>
