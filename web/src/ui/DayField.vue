<script setup lang="ts">
import { computed } from 'vue';
import { dayOfDate, dayOfText, showDay } from './format.ts';

/** A calendar day, picked or typed in the order of the interface; '' and null: none. */
defineProps<{
  label: string;
  min?: string | null | undefined;
  max?: string | null | undefined;
  /** In a line of text, with its label before it. */
  inline?: boolean;
}>();
const day = defineModel<string | null>();
const date = computed({
  get: () => day.value || null,
  set: (picked: unknown) => {
    day.value = picked instanceof Date ? dayOfDate(picked) : '';
  },
});
/** The menu says of the frame around the field that it opens, which only a control may say of itself. */
const plainFrame = {
  activatorProps: { 'aria-haspopup': undefined, 'aria-expanded': undefined, 'aria-controls': undefined, 'aria-owns': undefined },
};
/** Typing is in one order only; a day from elsewhere comes in others. */
function paste(event: ClipboardEvent): void {
  const pasted = dayOfText(event.clipboardData?.getData('text') ?? '');
  if (pasted === null) return;
  event.preventDefault();
  day.value = pasted;
}
</script>

<template>
  <v-date-input
    v-model="date"
    :class="{ inline }"
    :label="inline ? undefined : label"
    :aria-label="inline ? label : undefined"
    :display-format="(each: unknown) => (each instanceof Date ? showDay(dayOfDate(each)) : '')"
    input-format="dd/mm/yyyy"
    :min="min ?? undefined"
    :max="max ?? undefined"
    prepend-icon=""
    :menu-props="plainFrame"
    clearable
    @paste="paste"
  >
    <template v-if="inline" #prepend>
      <span class="before" aria-hidden="true">{{ label }}</span>
    </template>
  </v-date-input>
</template>

<style scoped>
.inline {
  align-self: center;
  flex: none;
  width: auto;
}
.inline :deep(.v-field) {
  width: 156px;
  font-size: 14px;
  --v-field-padding-start: 10px;
  --v-field-padding-end: 6px;
  background: var(--sheet);
}
.inline :deep(.v-input__prepend) {
  margin-inline-end: 8px;
  padding-top: 0;
}
.inline :deep(.v-field__input) {
  min-height: 28px;
  padding-block: 0;
}
.before {
  color: var(--ink2);
  font-size: 14px;
  white-space: nowrap;
}
</style>
