<script setup lang="ts">
import { refDebounced } from '@vueuse/core';
import { ref, watch } from 'vue';
import { guessBits, phrase, strengthOf } from '../ui/strength.ts';
import * as words from '../words.ts';

/** A password of one's own: how strong it is, and four words for whoever has no idea for one. */
const {
  label,
  isOptional = false,
  problem = undefined,
} = defineProps<{
  label: string;
  isOptional?: boolean;
  /** What is wrong with it, said in place of the hint. */
  problem?: string | undefined;
}>();
const password = defineModel<string>({ required: true });
const isShown = ref(false);
const strength = ref<ReturnType<typeof strengthOf> | null>(null);
watch(refDebounced(password, 200), async (text) => {
  strength.value = text && text.length >= 10 ? strengthOf(await guessBits(text.slice(0, 100))) : null;
});
async function offer(): Promise<void> {
  password.value = await phrase();
  isShown.value = true;
}
</script>

<template>
  <div class="new-password">
    <v-text-field
      v-model="password"
      :type="isShown ? 'text' : 'password'"
      autocomplete="new-password"
      :label="label"
      :hint="isOptional ? `${words.accounts.passwordHint}. ${words.enter.later}` : words.accounts.passwordHint"
      :error-messages="problem ?? []"
    />
    <p class="line">
      <span :class="['strength', strength ?? 'none']" role="status"
        ><i aria-hidden="true" />{{ strength ? words.accounts.strength[strength] : '' }}</span
      >
      <span class="acts">
        <button type="button" class="plain-link" @click="isShown = !isShown">
          {{ isShown ? words.accounts.hide : words.accounts.show }}
        </button>
        <button type="button" class="plain-link" @click="offer">{{ words.accounts.fourWords }}</button>
      </span>
    </p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  margin-top: 6px;
  font-size: 14px;
  flex-wrap: wrap;
}
.acts {
  display: flex;
  gap: 14px;
}
.acts button {
  min-height: 32px;
}
.strength i {
  display: inline-block;
  width: 54px;
  height: 6px;
  border-radius: 3px;
  margin-right: 8px;
  background: var(--rule);
  vertical-align: middle;
}
.none i {
  visibility: hidden;
}
.weak i {
  background: linear-gradient(90deg, var(--wrong) 33%, var(--rule) 33%);
}
.fair i {
  background: linear-gradient(90deg, var(--brass) 66%, var(--rule) 66%);
}
.strong i {
  background: var(--kelp);
}
</style>
