<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { defineAsyncComponent } from 'vue';
import { call } from '../api/call.ts';
import { words } from '../words.ts';

/** One of the reader's own lists, as a filter wherever people are listed; hidden while there are none. */
const list = defineModel<number | null>({ required: true });
const CountedSelect = defineAsyncComponent(() => import('../ui/CountedSelect.vue'));
const { data } = useQuery({ queryKey: ['lists'], queryFn: ({ signal }) => call('lists', {}, signal) });
</script>

<template>
  <CountedSelect
    v-if="data && data.lists.length > 0"
    class="lists"
    :model-value="list"
    :items="data.lists"
    :label="words.people.lists"
    @update:model-value="list = $event as number | null"
  />
</template>

<style scoped>
.lists {
  max-width: 170px;
}
</style>
