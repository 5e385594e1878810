<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '../api/call.ts';
import * as words from '../words.ts';
import { placeOf } from './shown-view.ts';

/** Where the link of a letter leads: on to the view, in the reader’s own branch. */
const route = useRoute();
const router = useRouter();
const isGone = ref(false);
onMounted(async () => {
  try {
    const { group, shown } = await call('openReportLetter', { params: { letterId: Number(route.params['letterId']) } });
    await router.replace(placeOf(group.id, shown));
  } catch {
    isGone.value = true;
  }
});
</script>

<template>
  <main class="page">
    <p v-if="isGone" role="alert">{{ words.views.letter.gone }}</p>
  </main>
</template>

<style scoped>
.page {
  padding: 18px 26px;
}
</style>
