<script setup lang="ts">
import type { JoinCode, Change } from '@gate-roster/contract';
import { askedFields, mostQuestions } from '@gate-roster/core';
import { refDebounced } from '@vueuse/core';
import { computed, reactive, ref, watch } from 'vue';
import PowersChoice from '../accounts/PowersChoice.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { useTree } from '../groups/tree-query.ts';
import { usePrice } from '../seats/use-price.ts';
import * as words from '../words.ts';
import { guessBits } from '../ui/strength.ts';
import DayField from '../ui/DayField.vue';
import { codeFields, codeValues, forLeadersAtFirst, newQuestion } from './code-fields.ts';

/** A join code: with nothing filled in it lets people into the group of the scope; all else may be said. */
const { groupId, code, forLeaders, currency } = defineProps<{
  groupId: number;
  code: JoinCode | null;
  forLeaders: boolean;
  /** null: nobody can pay here. */
  currency: string | null;
}>();
const emit = defineEmits<{ close: [] }>();
const w = words.waysIn.codes;
const tree = useTree();
const fields = reactive(codeFields(code, groupId));
const another = ref<number | null>(null);
watch(another, (id) => {
  if (id === null) return;
  if (!fields.groupIds.includes(id)) fields.groupIds.push(id);
  another.value = null;
});
const nameOf = (id: number): string => tree.value?.row(id)?.name ?? code?.groups.find((group) => group.id === id)?.name ?? '';
const isYoung = computed(() => fields.groupIds.some((id) => tree.value?.path(id).some(({ youngLearners }) => youngLearners) ?? false));

watch(
  () => fields.leads,
  (isOn) => {
    if (isOn) Object.assign(fields, forLeadersAtFirst(fields));
  },
);
const {
  typed: price,
  price: inMinor,
  isPrice,
} = usePrice(
  computed(() => currency ?? 'EUR'),
  code?.price ?? null,
);
const askings = (['no', 'may', 'must'] as const).map((value) => ({ value, title: w.asking[value] }));
const kinds = (['text', 'choice', 'date'] as const).map((value) => ({ value, title: w.questionKinds[value] }));
const addQuestion = (): unknown => fields.questions.push(newQuestion(crypto.randomUUID().slice(0, 8)));

const values = computed(() => codeValues(fields, { isYoung: isYoung.value, price: inMinor.value, paused: code?.paused ?? false }));
const change = computed<Change | null>(() =>
  fields.groupIds.length === 0 || !isPrice.value
    ? null
    : code
      ? { kind: 'edit-code', codeId: code.id, values: values.value, replace: false }
      : { kind: 'make-code', values: values.value },
);
const inHand = useChange(change, code ? w.saved : w.made, { settleMilliseconds: 250 });
const bits = ref<number | null>(null);
const chosenSettled = refDebounced(
  computed(() => fields.chosen),
  250,
);
watch([() => fields.isChosen, chosenSettled], async ([own, text]) => {
  // The groups' names are the first that somebody tries.
  const known = fields.groupIds.flatMap((id) => [nameOf(id), ...nameOf(id).split(/[^\p{L}\p{N}]+/u)]);
  bits.value = own && text && text.length >= 4 ? await guessBits(text, known) : null;
});
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const isOpen = ref(code !== null);
watch(
  () => fields.leads,
  (isOn) => {
    if (isOn) isOpen.value = true;
  },
);
</script>

<template>
  <section class="form">
    <h2>{{ code ? w.editTitle : w.makeTitle }}</h2>
    <div>
      <p class="label">{{ w.groups }}</p>
      <div class="chips">
        <v-chip
          v-for="id in fields.groupIds"
          :key="id"
          :closable="fields.groupIds.length > 1"
          :close-label="words.people.leaveOut(nameOf(id))"
          @click:close="fields.groupIds = fields.groupIds.filter((each) => each !== id)"
          >{{ nameOf(id) }}</v-chip
        >
      </div>
      <p class="soft small">{{ w.groupsHint }}</p>
    </div>
    <GroupPicker v-model="another" :label="words.waysIn.codes.also" :autofocus="false" />
    <p v-if="isYoung" class="soft">{{ w.young }}</p>
    <v-checkbox v-model="fields.needsDecision" :label="w.decision" :hint="w.decisionHint" />
    <v-checkbox v-if="forLeaders && !isYoung" v-model="fields.leads" :label="w.leaders" :hint="fields.leads ? w.leadersHint : undefined" />
    <PowersChoice v-if="fields.leads && forLeaders && !isYoung" v-model="fields.powers" />
    <button type="button" class="plain-link more" :aria-expanded="isOpen" @click="isOpen = !isOpen">{{ w.more }}</button>
    <template v-if="isOpen">
      <v-radio-group v-model="fields.isChosen" :label="w.kind" hide-details>
        <v-radio :value="false" :label="w.generated" />
        <v-radio :value="true" :label="w.chosen" />
      </v-radio-group>
      <template v-if="fields.isChosen">
        <v-text-field v-model="fields.chosen" class="own-code" :label="w.ownCode" :hint="w.ownHint" autocapitalize="characters" />
        <p v-if="bits !== null" class="soft small">{{ w.guessing(bits) }}</p>
      </template>
      <div class="two">
        <DayField v-model="fields.firstDay" :label="w.firstDay" />
        <DayField v-model="fields.lastDay" :label="w.lastDay" />
      </div>
      <v-text-field
        v-if="currency !== null && !fields.leads"
        v-model="price"
        type="number"
        min="0"
        step="any"
        :label="w.price"
        :hint="w.priceHint(currency)"
      />
      <v-text-field v-model="fields.limit" type="number" min="1" :label="w.limit" :hint="w.limitHint" />
      <v-text-field v-if="!isYoung" v-model="fields.ending" :label="w.ending" :hint="w.endingHint" />
      <fieldset>
        <legend class="label">{{ w.asks }}</legend>
        <v-select
          v-for="field in askedFields.filter((each) => !(isYoung && each === 'email'))"
          :key="field"
          v-model="fields.asks[field]"
          :items="askings"
          :label="w[field]"
          class="mt-2"
        />
      </fieldset>
      <fieldset>
        <legend class="label">{{ w.questions }}</legend>
        <div v-for="(question, index) in fields.questions" :key="question.key" class="question">
          <v-text-field v-model="question.label" :label="w.question" />
          <v-select v-model="question.kind" :items="kinds" :label="w.questionKind" />
          <v-text-field v-if="question.kind === 'choice'" v-model="question.typed" :label="w.choices" />
          <div class="line">
            <v-checkbox v-model="question.required" :label="w.required" hide-details density="compact" />
            <button type="button" class="plain-link" @click="fields.questions.splice(index, 1)">{{ w.dropQuestion }}</button>
          </div>
        </div>
        <v-btn v-if="fields.questions.length < mostQuestions" variant="text" @click="addQuestion">{{ w.addQuestion }}</v-btn>
      </fieldset>
      <v-combobox v-model="fields.tags" multiple chips closable-chips :label="w.tags" :hint="words.people.addTagsHint" />
      <v-text-field v-model="fields.note" :label="w.note" />
    </template>
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="code ? words.common.save : w.make"
      @apply="apply"
      @discard="emit('close')"
    />
  </section>
</template>

<style scoped>
.label {
  font-size: 13.5px;
  font-weight: 600;
  color: var(--ink2);
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 6px 0;
}
.small {
  font-size: 13px;
}
.more {
  align-self: flex-start;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
fieldset {
  border: 0;
  padding: 0;
}
.question {
  display: grid;
  gap: 8px;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.own-code :deep(input) {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
}
</style>
