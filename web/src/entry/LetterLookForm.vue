<script setup lang="ts">
import type { Answer, Change, Routes } from '@gate-roster/contract';
import { computed, ref, watch } from 'vue';
import { uploadChosen } from '../api/upload.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import * as words from '../words.ts';

/** The name that a branch's emails come from, and the picture over them. */
const { groupId, look } = defineProps<{ groupId: number; look: Answer<Routes['letters']>['look'] }>();
const w = words.waysIn.letters.look;
const senderName = ref('');
const logoId = ref<number | null>(null);
watch(
  () => look,
  () => {
    senderName.value = look.senderName ?? '';
    logoId.value = look.logoId;
  },
  { immediate: true },
);
const problem = ref<string | null>(null);
const isChanged = computed(() => senderName.value.trim() !== (look.senderName ?? '') || logoId.value !== look.logoId);
const isOwn = computed(() => look.from?.id === groupId);
async function choose(event: Event): Promise<void> {
  const kept = await uploadChosen(event, problem);
  if (kept?.isPicture) logoId.value = kept.id;
  else if (kept) problem.value = words.failures['wrong-file'];
}
const keep = (wanted: { senderName: string | null; logoId: number | null } | null): Promise<boolean> => {
  const isEmpty = wanted !== null && wanted.senderName === null && wanted.logoId === null;
  const change: Change = { kind: 'set-letter-look', groupId, look: isEmpty ? null : wanted };
  return applyAtOnce(change, w.saved);
};
</script>

<template>
  <section class="look" :aria-label="w.title">
    <h2>{{ w.title }}</h2>
    <p class="soft">{{ isOwn ? w.own : look.from ? w.from(look.from.name) : look.senderName || look.logoId ? w.above : w.none }}</p>
    <v-text-field v-model="senderName" maxlength="80" :label="w.sender" :hint="w.senderHint" />
    <p>
      {{ logoId === null ? w.noLogo : w.hasLogo }}
      <label class="plain-link"
        >{{ w.choose }}<input type="file" accept="image/png,image/jpeg" class="sr-only" :aria-label="w.choose" @change="choose"
      /></label>
      <button v-if="logoId !== null" type="button" class="plain-link" @click="logoId = null">{{ w.remove }}</button>
    </p>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <div class="acts">
      <v-btn variant="flat" :disabled="!isChanged" @click="keep({ senderName: senderName.trim() || null, logoId })">{{ w.save }}</v-btn>
      <v-btn v-if="isOwn" variant="text" @click="keep(null)">{{ w.takeBack }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.look {
  display: grid;
  gap: 8px;
  margin-bottom: 18px;
  max-width: 620px;
}
h2 {
  font-size: 17px;
}
.plain-link {
  margin-left: 10px;
}
.acts {
  display: flex;
  gap: 12px;
}
</style>
