<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { type GroupColour, groupColours } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';

/** All tags of a branch: rename, colour, merge. */
const { groupId } = defineProps<{ groupId: number }>();
defineEmits<{ close: [] }>();
const { data } = useQuery({
  queryKey: ['tags', computed(() => groupId)],
  queryFn: ({ signal }) => call('branchTags', { params: { groupId } }, signal),
});
const edited = ref<number | null>(null);
const name = ref('');
const colour = ref<GroupColour | null>(null);
const into = ref<number | null>(null);
function edit(tag: { id: number; name: string; colour: string | null }): void {
  edited.value = edited.value === tag.id ? null : tag.id;
  name.value = tag.name;
  colour.value = groupColours.find((each) => each === tag.colour) ?? null;
  into.value = null;
}
const change = computed<Change | null>(() => {
  if (edited.value === null) return null;
  if (into.value !== null) return { kind: 'merge-tags', tagId: into.value, gone: [edited.value] };
  return name.value.trim() === '' ? null : { kind: 'edit-tag', tagId: edited.value, name: name.value, colour: colour.value };
});
const inHand = useChange(
  change,
  computed(() => (into.value === null ? words.people.tagSaved : words.people.merged)),
  { settleMilliseconds: 300 },
);
async function apply(): Promise<void> {
  if (await inHand.apply()) edited.value = null;
}
const colours = groupColours.map((value) => ({ value, title: words.groups.colours[value] }));
const own = computed(() => data.value?.tags.filter(({ isOwn }) => isOwn) ?? []);
</script>

<template>
  <v-dialog model-value max-width="480" scrollable :aria-label="words.people.manageTags" @update:model-value="$emit('close')">
    <v-card>
      <div class="tags">
        <h2>{{ words.people.manageTags }}</h2>
        <ul class="plain-list">
          <li v-for="tag in data?.tags ?? []" :key="tag.id">
            <div class="line">
              <span><i v-if="tag.colour" class="dot" :class="tag.colour" aria-hidden="true" />{{ tag.name }}</span>
              <span class="soft">{{ words.people.tagPeople(tag.people) }}</span>
              <v-btn v-if="tag.isOwn" variant="text" size="small" :aria-expanded="edited === tag.id" @click="edit(tag)">{{
                words.leaders.change
              }}</v-btn>
            </div>
            <div v-if="edited === tag.id" class="edit">
              <v-text-field v-model="name" :label="words.people.name" maxlength="60" :disabled="into !== null" />
              <v-select v-model="colour" clearable :items="colours" :label="words.people.tagColour" :disabled="into !== null" />
              <v-select
                v-model="into"
                clearable
                :items="own.filter(({ id }) => id !== tag.id)"
                item-value="id"
                item-title="name"
                :label="words.people.mergeInto"
              />
              <LookPanel
                :in-hand="inHand"
                :change="change"
                :apply-label="into === null ? words.common.save : words.people.merge"
                @apply="apply"
                @discard="edited = null"
              />
            </div>
          </li>
        </ul>
        <v-btn class="close" @click="$emit('close')">{{ words.common.close }}</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.tags {
  padding: 20px 24px;
  display: grid;
  gap: 12px;
  overflow: auto;
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 80px;
  gap: 10px;
  align-items: center;
  border-top: 1px solid var(--rule);
  min-height: 40px;
}
.edit {
  display: grid;
  gap: 10px;
  padding: 8px 0 14px;
}
.dot {
  display: inline-block;
  width: 10px;
  height: 10px;
  border-radius: 3px;
  margin-right: 8px;
}
.close {
  justify-self: end;
}
</style>
