<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, defineAsyncComponent } from 'vue';
import { call } from '../api/call.ts';
import { words } from '../words.ts';
import type { TagsAsked } from './person-acts.ts';
// The fields come when the menu is opened.
const CountedSelect = defineAsyncComponent(() => import('../ui/CountedSelect.vue'));
const TagsDialog = defineAsyncComponent(() => import('./TagsDialog.vue'));

/** Tags of which somebody has any, all, or none; and the way to all tags. */
const { groupId, mayManage } = defineProps<{ groupId: number; mayManage: boolean }>();
const asked = defineModel<TagsAsked>({ required: true });
const isManaging = ref(false);
const { data } = useQuery({
  queryKey: ['tags', computed(() => groupId)],
  queryFn: ({ signal }) => call('branchTags', { params: { groupId } }, signal),
});
const parts = ['anyTag', 'allTags', 'noTag'] as const;
const count = computed(() => parts.reduce((sum, part) => sum + asked.value[part].length, 0));
</script>

<template>
  <v-menu :close-on-content-click="false">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :variant="count > 0 ? 'flat' : 'outlined'" height="40">{{ words.people.tagsOn(count) }}</v-btn>
    </template>
    <v-card width="320" class="menu">
      <CountedSelect
        v-for="part in parts"
        :key="part"
        multiple
        :model-value="asked[part]"
        :items="data?.tags ?? []"
        :label="words.people[part]"
        @update:model-value="asked = { ...asked, [part]: $event as number[] }"
      />
      <v-btn v-if="mayManage" variant="text" @click="isManaging = true">{{ words.people.manageTags }}</v-btn>
    </v-card>
  </v-menu>
  <TagsDialog v-if="isManaging" :group-id="groupId" @close="isManaging = false" />
</template>

<style scoped>
.menu {
  padding: 14px;
  display: grid;
  gap: 10px;
}
</style>
