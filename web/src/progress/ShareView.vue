<script setup lang="ts">
import { namelessViews, routes, type ShownView, sharedViewNames } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { useFilterWords } from '../filters/filter-words.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { copyText } from '../ui/copy.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** A link to what is shown now, for people without an account. */
const { shown } = defineProps<{ shown: ShownView }>();
defineEmits<{ close: [] }>();
const w = words.views;
const usualDays = 30;
const scope = useScope();
const session = useSession();
const tree = useTree();
const view = computed(() => sharedViewNames.find((name) => name === shown.view) ?? 'groups');
const mayBeNameless = computed(() => namelessViews.includes(view.value) && shown.rows === 'groups');
const title = ref(tree.value?.path(scope.groupId.value).at(-1)?.name ?? '');
const withNames = ref(!mayBeNameless.value);
const frozen = ref(false);
const lastDay = ref(addDays(session.me?.today ?? '2026-01-01', usualDays));
const says = useFilterWords(() => shown.filter);
const link = ref<string | null>(null);
const isBusy = ref(false);
const problem = ref<string | null>(null);
async function make(): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    const body = {
      title: title.value.trim(),
      shown: { ...shown, view: view.value },
      withNames: withNames.value,
      // A past day does not change any more.
      frozen: (frozen.value || shown.day !== null) && !withNames.value,
      lastDay: lastDay.value,
      says: says.value,
    };
    const { key } = await call('shareView', { params: { groupId: scope.groupId.value }, body: routes.shareView.body.parse(body) });
    link.value = `${window.location.origin}/shared#${key}`;
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <form @submit.prevent="make">
    <h2>{{ w.shareTitle }}</h2>
    <p class="soft">{{ w.shareWhat }}</p>
    <template v-if="link === null">
      <v-text-field v-model="title" maxlength="200" :label="w.shareTitleField" />
      <v-checkbox v-if="mayBeNameless" v-model="withNames" :label="w.withNames" />
      <p class="soft">{{ mayBeNameless ? (withNames ? w.withNamesHint : w.namelessHint) : `${w.needsNames} ${w.withNamesHint}` }}</p>
      <v-radio-group v-if="!withNames && shown.day === null" v-model="frozen">
        <v-radio :label="w.live" :value="false" />
        <v-radio :label="w.frozen" :value="true" />
      </v-radio-group>
      <p v-else-if="withNames" class="soft">{{ w.frozenHint }}</p>
      <DayField v-model="lastDay" :min="session.me?.today" :label="w.lastDay" />
      <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
      <div class="foot">
        <v-btn type="submit" variant="flat" :loading="isBusy" :disabled="title.trim() === '' || lastDay === ''">{{ w.make }}</v-btn>
        <v-btn variant="text" @click="$emit('close')">{{ words.common.cancel }}</v-btn>
      </div>
    </template>
    <template v-else>
      <p>{{ w.made }}</p>
      <p class="mono link">{{ link }}</p>
      <div class="foot">
        <v-btn variant="flat" @click="copyText(link)">{{ w.copy }}</v-btn>
        <v-btn variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
      </div>
    </template>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
.foot {
  display: flex;
  gap: 8px;
}
.link {
  overflow-wrap: anywhere;
}
</style>
