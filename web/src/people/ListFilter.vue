<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { call } from '../api/call.ts';
import { words } from '../words.ts';

/** One of the reader's own lists, as a filter wherever people are listed; hidden while there are none. */
const list = defineModel<number | null>({ required: true });
const { data } = useQuery({ queryKey: ['lists'], queryFn: ({ signal }) => call('lists', {}, signal) });
</script>

<template>
  <v-select
    v-if="(data?.lists.length ?? 0) > 0"
    v-model="list"
    class="lists"
    clearable
    :items="data?.lists ?? []"
    item-value="id"
    item-title="name"
    :label="words.people.lists"
  >
    <template #item="{ props: item, item: each }"
      ><v-list-item v-bind="item"
        ><template #append
          ><span class="num soft">{{ (each as { people?: number }).people ?? '' }}</span></template
        ></v-list-item
      ></template
    >
  </v-select>
</template>

<style scoped>
.lists {
  max-width: 170px;
}
</style>
