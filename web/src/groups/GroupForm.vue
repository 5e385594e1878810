<script setup lang="ts">
import type { GroupSheet, Change, GroupValues, Some } from '@gate-roster/contract';
import { groupColours, longestGroupName } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, reactive, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { uploadChosen } from '../api/upload.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import PersonPicker from '../people/PersonPicker.vue';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** Everything that can be said of a group; only the name is needed. */
const { group } = defineProps<{ group: GroupSheet }>();
const emit = defineEmits<{ close: [] }>();
const before: GroupValues = {
  name: group.name,
  idNumber: group.idNumber,
  description: group.description,
  colour: group.colour,
  pictureId: group.pictureId,
  contactId: group.contact?.id ?? null,
  firstDay: group.firstDay,
  lastDay: group.lastDay,
  signInPrefix: group.signInPrefix,
  youngLearners: group.youngLearners,
  tags: group.tags.map(({ name }) => name),
  handouts: group.handouts.map(({ title, url, uploadId }) => ({ title, url, uploadId })),
};
const values = reactive<GroupValues>({ ...before, tags: [...before.tags], handouts: [...before.handouts] });
const { data: known } = useQuery({
  queryKey: ['tags', computed(() => group.id)],
  queryFn: ({ signal }) => call('branchTags', { params: { groupId: group.id } }, signal),
});

/** Only what differs is sent; an empty field is none. */
const changed = computed<Some<GroupValues>>(() => {
  const found = Object.entries(values).flatMap(([field, value]) => {
    const now = value === '' || value === undefined ? null : value;
    return JSON.stringify(now) === JSON.stringify(before[field as keyof GroupValues])
      ? []
      : [[field, field === 'name' ? (now ?? '') : now]];
  });
  return Object.fromEntries(found) as Some<GroupValues>;
});
const change = computed<Change | null>(() =>
  Object.keys(changed.value).length === 0 ? null : { kind: 'edit-group', groupId: group.id, values: changed.value },
);
const inHand = useChange(change, words.groups.saved, { settleMilliseconds: 300 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}

const problem = ref<string | null>(null);
async function choosePicture(event: Event): Promise<void> {
  const kept = await uploadChosen(event, problem);
  if (kept?.isPicture) values.pictureId = kept.id;
  else if (kept) problem.value = words.failures['wrong-file'];
}
async function addFile(event: Event): Promise<void> {
  const kept = await uploadChosen(event, problem);
  if (kept) values.handouts.push({ title: link.title.trim() || kept.name, url: null, uploadId: kept.id });
}
const link = reactive({ title: '', url: '' });
function addLink(): void {
  values.handouts.push({ title: link.title.trim() || link.url.trim(), url: link.url.trim(), uploadId: null });
  Object.assign(link, { title: '', url: '' });
}
const colours = groupColours.map((value) => ({ value, title: words.groups.colours[value] }));
</script>

<template>
  <section class="form">
    <h2>{{ words.groups.editOf(group.name) }}</h2>
    <v-text-field v-model="values.name" v-focus-first :label="words.groups.name" :maxlength="longestGroupName" />
    <v-textarea
      v-model="values.description"
      rows="2"
      auto-grow
      :label="words.groups.fields.description"
      :hint="words.groups.hints.description"
    />
    <v-combobox
      v-model="values.tags"
      multiple
      chips
      closable-chips
      :items="known?.tags.map(({ name }) => name) ?? []"
      :label="words.groups.fields.tags"
      :hint="words.groups.hints.tags"
    />
    <PersonPicker
      v-model="values.contactId"
      :known="group.contact"
      :label="words.groups.fields.contact"
      :hint="words.groups.hints.contact"
    />
    <div class="two">
      <DayField v-model="values.firstDay" :label="words.groups.fields.firstDay" />
      <DayField v-model="values.lastDay" :label="words.groups.fields.lastDay" />
    </div>
    <p class="hint soft">{{ words.groups.hints.days }}</p>
    <v-switch v-model="values.youngLearners" :label="words.groups.fields.youngLearners" />
    <p class="hint soft">{{ words.groups.hints.youngLearners }}</p>
    <v-select v-model="values.colour" clearable :items="colours" :label="words.groups.fields.colour">
      <template #item="{ props: item, item: each }"
        ><v-list-item v-bind="item"
          ><template #prepend><i class="dot" :class="(each as { value?: string }).value ?? ''" /></template></v-list-item
      ></template>
    </v-select>
    <div class="two">
      <v-text-field v-model="values.idNumber" :label="words.groups.fields.idNumber" :hint="words.groups.hints.idNumber" maxlength="60" />
      <v-text-field v-model="values.signInPrefix" :label="words.groups.fields.prefix" :hint="words.groups.hints.prefix" maxlength="12" />
    </div>
    <div class="part">
      <b>{{ words.groups.fields.picture }}</b> <span class="soft">{{ words.groups.hints.picture }}</span>
      <div class="row">
        <img
          v-if="values.pictureId !== null && values.pictureId === before.pictureId"
          class="picture"
          :src="addressOf('groupPicture', { params: { groupId: group.id } })"
          :alt="words.groups.fields.picture"
        />
        <label class="choose-file"
          ><span>{{ words.groups.choosePicture }}</span
          ><input type="file" accept="image/png,image/jpeg,image/webp" class="sr-only" @change="choosePicture"
        /></label>
        <v-btn v-if="values.pictureId !== null" variant="text" @click="values.pictureId = null">{{ words.groups.dropPicture }}</v-btn>
      </div>
    </div>
    <div class="part">
      <b>{{ words.groups.fields.handouts }}</b> <span class="soft">{{ words.groups.hints.handouts }}</span>
      <ul class="plain-list">
        <li v-for="(handout, index) in values.handouts" :key="index" class="row">
          <span class="title">{{ handout.title }}</span>
          <v-btn
            variant="text"
            size="small"
            :aria-label="words.groups.dropHandout(handout.title)"
            @click="values.handouts.splice(index, 1)"
            >{{ words.groups.dropPicture }}</v-btn
          >
        </li>
      </ul>
      <v-text-field v-model="link.title" :label="words.groups.handoutTitle" maxlength="200" />
      <v-text-field v-model="link.url" type="url" :label="words.groups.handoutLink" />
      <div class="row">
        <v-btn :disabled="link.url.trim() === ''" @click="addLink">{{ words.groups.addLink }}</v-btn>
        <label class="choose-file"
          ><span>{{ words.groups.addFile }}</span
          ><input type="file" class="sr-only" @change="addFile"
        /></label>
      </div>
    </div>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <LookPanel class="foot" :in-hand="inHand" :change="change" :apply-label="words.common.save" @apply="apply" @discard="emit('close')" />
  </section>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.hint {
  font-size: 12.5px;
  margin-top: -8px;
  padding-left: 14px;
}
.part {
  display: grid;
  gap: 8px;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
  font-size: 14px;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
}
.row .title {
  flex: 1;
  min-width: 0;
  overflow-wrap: anywhere;
}
.picture {
  width: 56px;
  height: 56px;
  object-fit: cover;
  border-radius: 6px;
}
.foot {
  position: sticky;
  bottom: -18px;
  background: var(--paper);
  padding: 10px 0 18px;
}
.dot {
  width: 12px;
  height: 12px;
  border-radius: 3px;
  margin-right: 10px;
}
</style>
