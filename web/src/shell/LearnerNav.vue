<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import * as words from '../words.ts';

/** A learner's places, at the foot of a phone and under the band of a wide window. */
const route = useRoute();
const { data } = useQuery({ queryKey: ['my-messages'], queryFn: ({ signal }) => call('myMessages', {}, signal) });
const unseen = computed(() => data.value?.unseen ?? 0);
const places = [
  { name: 'my-courses', title: words.areas.myCourses },
  { name: 'my-groups', title: words.areas.myGroups },
  { name: 'my-messages', title: words.areas.myMessages },
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
      ><span
        >{{ place.title }}
        <b v-if="place.name === 'my-messages' && unseen > 0" class="count" :aria-label="words.myMessages.unseen(unseen)">{{
          unseen
        }}</b></span
      ></router-link
    >
  </nav>
</template>

<style scoped>
.places {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
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
.count {
  background: var(--flare);
  color: #fff;
  border-radius: 10px;
  padding: 1px 8px;
  font-size: 13px;
}
.on {
  border-top-color: var(--tide);
  color: var(--tide);
  font-weight: 700;
}
@media (min-width: 861px) {
  .places {
    grid-template-columns: repeat(4, 150px);
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
