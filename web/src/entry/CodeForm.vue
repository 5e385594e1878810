<script setup lang="ts">
import type { JoinCode, Change, JoinCodeValues } from '@gate-roster/contract';
import { askedFields, type Asking, type JoinQuestion, mostQuestions, type Power, presets } from '@gate-roster/core';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import PowersChoice from '../accounts/PowersChoice.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { useTree } from '../groups/tree-query.ts';
import { usePrice } from '../seats/use-price.ts';
import * as words from '../words.ts';
import { guessBits } from '../ui/strength.ts';
import DayField from '../ui/DayField.vue';

const leadersAtFirst = 5;
const leadersDays = 14;
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
const groupIds = ref(code?.groups.map(({ id }) => id) ?? [groupId]);
const another = ref<number | null>(null);
watch(another, (id) => {
  if (id === null) return;
  if (!groupIds.value.includes(id)) groupIds.value = [...groupIds.value, id];
  another.value = null;
});
const nameOf = (id: number): string => tree.value?.row(id)?.name ?? code?.groups.find((group) => group.id === id)?.name ?? '';
const isYoung = computed(() => groupIds.value.some((id) => tree.value?.path(id).some(({ youngLearners }) => youngLearners) ?? false));

const isChosen = ref(code?.isChosen ?? false);
const chosen = ref(code?.isChosen ? code.code : '');
const day = (moment: string | null | undefined): string => (moment ? localDay(moment) : '');
const firstDay = ref(day(code?.firstAt));
const lastDay = ref(day(code?.lastAt));
const limit = ref(code?.useLimit?.toString() ?? '');
const ending = ref(code?.emailEnding ?? '');
const needsDecision = ref(code?.needsDecision ?? false);
const leads = ref(code ? code.powers !== null : false);
const held = ref<readonly Power[]>(code?.powers ?? presets.helper);
watch(leads, (isOn) => {
  if (!isOn) return;
  // Whoever finds a code for leaders leads: not for long, not many, and somebody looks.
  needsDecision.value = true;
  limit.value ||= String(leadersAtFirst);
  lastDay.value ||= localDay(new Date(Date.now() + leadersDays * 86_400_000).toISOString());
});
const {
  typed: price,
  price: inMinor,
  isPrice,
} = usePrice(
  computed(() => currency ?? 'EUR'),
  code?.price ?? null,
);
const note = ref(code?.note ?? '');
const tags = ref(code?.tags ?? []);
const asks = ref<{ email: Asking; idNumber: Asking }>({ email: code?.asks.email ?? 'may', idNumber: code?.asks.idNumber ?? 'no' });
const questions = ref<(JoinQuestion & { typed: string })[]>(
  (code?.asks.questions ?? []).map((question) => ({ ...question, typed: question.choices.join(', ') })),
);
const askings = (['no', 'may', 'must'] as const).map((value) => ({ value, title: w.asking[value] }));
const kinds = (['text', 'choice', 'date'] as const).map((value) => ({ value, title: w.questionKinds[value] }));
function addQuestion(): void {
  questions.value.push({ key: crypto.randomUUID().slice(0, 8), label: '', kind: 'text', choices: [], required: false, typed: '' });
}

const values = computed<JoinCodeValues>(() => ({
  groupIds: groupIds.value,
  chosen: isChosen.value ? chosen.value : null,
  note: note.value.trim() || null,
  tags: tags.value,
  powers: leads.value ? [...held.value] : null,
  firstAt: firstDay.value ? new Date(`${firstDay.value}T00:00:00`).toISOString() : null,
  // The last day is meant whole.
  lastAt: lastDay.value ? new Date(`${lastDay.value}T23:59:59`).toISOString() : null,
  useLimit: Number.parseInt(limit.value, 10) > 0 ? Number.parseInt(limit.value, 10) : null,
  emailEnding: isYoung.value ? null : ending.value.trim() || null,
  needsDecision: needsDecision.value,
  paused: code?.paused ?? false,
  price: inMinor.value === 0 ? null : inMinor.value,
  asks: {
    email: isYoung.value ? 'no' : asks.value.email,
    idNumber: asks.value.idNumber,
    questions: questions.value
      .filter(({ label }) => label.trim() !== '')
      .map(({ typed, ...question }) => ({
        ...question,
        choices:
          question.kind === 'choice'
            ? typed
                .split(',')
                .map((choice) => choice.trim())
                .filter(Boolean)
            : [],
      })),
  },
}));
const change = computed<Change | null>(() =>
  groupIds.value.length === 0 || !isPrice.value
    ? null
    : code
      ? { kind: 'edit-code', codeId: code.id, values: values.value, replace: false }
      : { kind: 'make-code', values: values.value },
);
const inHand = useChange(change, code ? w.saved : w.made, { settleMilliseconds: 250 });
const bits = ref<number | null>(null);
watch([isChosen, refDebounced(chosen, 250)], async ([own, text]) => {
  // The groups' names are the first that somebody tries.
  const known = groupIds.value.flatMap((id) => [nameOf(id), ...nameOf(id).split(/[^\p{L}\p{N}]+/u)]);
  bits.value = own && text && text.length >= 4 ? await guessBits(text, known) : null;
});
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const isOpen = ref(code !== null);
watch(leads, (isOn) => {
  if (isOn) isOpen.value = true;
});

function localDay(moment: string): string {
  const at = new Date(moment);
  return `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}`;
}
</script>

<template>
  <section class="form">
    <h2>{{ code ? w.editTitle : w.makeTitle }}</h2>
    <div>
      <p class="label">{{ w.groups }}</p>
      <div class="chips">
        <v-chip
          v-for="id in groupIds"
          :key="id"
          :closable="groupIds.length > 1"
          :close-label="words.people.leaveOut(nameOf(id))"
          @click:close="groupIds = groupIds.filter((each) => each !== id)"
          >{{ nameOf(id) }}</v-chip
        >
      </div>
      <p class="soft small">{{ w.groupsHint }}</p>
    </div>
    <GroupPicker v-model="another" :label="words.waysIn.codes.also" :autofocus="false" />
    <p v-if="isYoung" class="soft">{{ w.young }}</p>
    <v-checkbox v-model="needsDecision" :label="w.decision" :hint="w.decisionHint" />
    <v-checkbox v-if="forLeaders && !isYoung" v-model="leads" :label="w.leaders" :hint="leads ? w.leadersHint : undefined" />
    <PowersChoice v-if="leads && forLeaders && !isYoung" v-model="held" />
    <button type="button" class="plain-link more" :aria-expanded="isOpen" @click="isOpen = !isOpen">{{ w.more }}</button>
    <template v-if="isOpen">
      <v-radio-group v-model="isChosen" :label="w.kind" hide-details>
        <v-radio :value="false" :label="w.generated" />
        <v-radio :value="true" :label="w.chosen" />
      </v-radio-group>
      <template v-if="isChosen">
        <v-text-field v-model="chosen" class="own-code" :label="w.ownCode" :hint="w.ownHint" autocapitalize="characters" />
        <p v-if="bits !== null" class="soft small">{{ w.guessing(bits) }}</p>
      </template>
      <div class="two">
        <DayField v-model="firstDay" :label="w.firstDay" />
        <DayField v-model="lastDay" :label="w.lastDay" />
      </div>
      <v-text-field
        v-if="currency !== null && !leads"
        v-model="price"
        type="number"
        min="0"
        step="any"
        :label="w.price"
        :hint="w.priceHint(currency)"
      />
      <v-text-field v-model="limit" type="number" min="1" :label="w.limit" :hint="w.limitHint" />
      <v-text-field v-if="!isYoung" v-model="ending" :label="w.ending" :hint="w.endingHint" />
      <fieldset>
        <legend class="label">{{ w.asks }}</legend>
        <v-select
          v-for="field in askedFields.filter((each) => !(isYoung && each === 'email'))"
          :key="field"
          v-model="asks[field]"
          :items="askings"
          :label="w[field]"
          class="mt-2"
        />
      </fieldset>
      <fieldset>
        <legend class="label">{{ w.questions }}</legend>
        <div v-for="(question, index) in questions" :key="question.key" class="question">
          <v-text-field v-model="question.label" :label="w.question" />
          <v-select v-model="question.kind" :items="kinds" :label="w.questionKind" />
          <v-text-field v-if="question.kind === 'choice'" v-model="question.typed" :label="w.choices" />
          <div class="line">
            <v-checkbox v-model="question.required" :label="w.required" hide-details density="compact" />
            <button type="button" class="plain-link" @click="questions.splice(index, 1)">{{ w.dropQuestion }}</button>
          </div>
        </div>
        <v-btn v-if="questions.length < mostQuestions" variant="text" @click="addQuestion">{{ w.addQuestion }}</v-btn>
      </fieldset>
      <v-combobox v-model="tags" multiple chips closable-chips :label="w.tags" :hint="words.people.addTagsHint" />
      <v-text-field v-model="note" :label="w.note" />
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
