<script setup lang="ts">
import type { ChosenPeople } from '@gate-roster/contract';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Keeps chosen people under a name; a list of that name gets them too. */
const { people } = defineProps<{ people: ChosenPeople }>();
const emit = defineEmits<{ kept: [] }>();
const queries = useQueryClient();
const isOpen = ref(false);
const name = ref('');
const { data } = useQuery({ queryKey: ['lists'], queryFn: ({ signal }) => call('lists', {}, signal), enabled: isOpen });
const names = computed(() => data.value?.lists.map((list) => list.name) ?? []);
async function keep(): Promise<void> {
  if (name.value.trim() === '') return;
  try {
    const list = await call('makeList', { body: { name: name.value, personIds: people } });
    tell(words.people.kept(list.name));
    isOpen.value = false;
    name.value = '';
    await Promise.all(['lists', 'filter-names'].map((key) => queries.invalidateQueries({ queryKey: [key] })));
    emit('kept');
  } catch (error) {
    tell(failureWords(error));
  }
}
</script>

<template>
  <v-menu v-model="isOpen" :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" variant="text">{{ words.people.keepAsList }}</v-btn>
    </template>
    <v-card width="280" class="keep">
      <form @submit.prevent="keep">
        <v-combobox v-model="name" autofocus :items="names" :label="words.people.listName" :hint="words.people.listsHint" />
        <v-btn type="submit" variant="flat">{{ words.people.keep }}</v-btn>
      </form>
    </v-card>
  </v-menu>
</template>

<style scoped>
.keep form {
  padding: 14px;
  display: grid;
  gap: 10px;
}
</style>
