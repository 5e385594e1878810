<script setup lang="ts">
import type { AccessGrid, GrantDraft } from '@gate-roster/contract';
import { computed } from 'vue';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** What a statement says besides course and group: for one statement of the draft, or for several at once. */
const {
  more,
  effects,
  course = undefined,
  licences,
  hasBelow,
} = defineProps<{
  /** What is said so far; a key that is left out is not the same in all of them, or not said. */
  more: Partial<GrantDraft>;
  effects: readonly ('open' | 'block')[];
  /** Whose units can be chosen; none where several courses are meant. */
  course?: AccessGrid['courses'][number] | undefined;
  /** Licences that can pay here; with none there is no question. */
  licences: readonly { id: number; name: string; firstDay: string | null }[];
  hasBelow: boolean;
}>();
const emit = defineEmits<{ refine: [more: Partial<GrantDraft>] }>();
const session = useSession();
const today = computed(() => session.me?.today ?? '');
const costsNothing = 0;
const payers = computed(() => [
  { value: costsNothing, title: words.access.costsNothing },
  ...licences.map(({ id, name, firstDay }) => ({
    value: id,
    title: words.access.licence(name, firstDay !== null && firstDay > today.value ? firstDay : null),
  })),
]);
const dueDays = computed(() => (more.due && 'days' in more.due.at ? more.due.at.days : null));
const dueDay = computed(() => (more.due && 'day' in more.due.at ? more.due.at.day : null));
const dueAt = (at: NonNullable<GrantDraft['due']>['at'] | null): void => {
  emit('refine', { due: at && { leastDays: null, firm: false, ...more.due, at } });
};
const refineDue = (part: Partial<NonNullable<GrantDraft['due']>>): void => {
  if (more.due) emit('refine', { due: { ...more.due, ...part } });
};
const days = (typed: string | number | null): number | null => (typed === '' || typed === null ? null : Number(typed));
/** All ticked says the same as no part at all; none would open nothing, so the last one stays. */
function tick(unitId: number): void {
  const every = (course?.units ?? []).map(({ id }) => id);
  const ticked = more.units ?? every;
  const units = every.filter((id) => ticked.includes(id) !== (id === unitId));
  if (units.length > 0) emit('refine', { units: units.length === every.length ? null : units });
}
</script>

<template>
  <div class="more">
    <DayField
      :label="words.access.firstDay"
      :model-value="more.firstDay ?? ''"
      @update:model-value="emit('refine', { firstDay: $event || null })"
    />
    <DayField
      :label="words.access.lastDay"
      :model-value="more.lastDay ?? ''"
      @update:model-value="emit('refine', { lastDay: $event || null })"
    />
    <v-checkbox
      v-if="hasBelow"
      :label="words.access.alsoBelow"
      :model-value="more.withSubgroups !== false"
      @update:model-value="emit('refine', { withSubgroups: $event === true })"
    />
    <v-checkbox
      v-if="!effects.includes('open')"
      :label="words.access.firm"
      :model-value="more.firm === true"
      @update:model-value="emit('refine', { firm: $event === true })"
    />
    <template v-if="!effects.includes('block')">
      <v-text-field
        type="number"
        min="0"
        max="3650"
        :label="words.access.dueDays"
        :hint="words.access.dueDaysHint"
        :model-value="dueDays ?? ''"
        @update:model-value="dueAt($event === '' || $event === null ? null : { days: Number($event) })"
      />
      <DayField
        v-if="dueDays === null"
        :label="words.access.dueDay"
        :model-value="dueDay ?? ''"
        @update:model-value="dueAt($event ? { day: $event } : null)"
      />
      <template v-if="more.due">
        <v-text-field
          type="number"
          min="0"
          max="3650"
          :label="words.access.leastDays"
          :hint="words.access.leastDaysHint"
          :model-value="more.due.leastDays ?? ''"
          @update:model-value="refineDue({ leastDays: days($event) })"
        />
        <v-checkbox :label="words.access.firmDue" :model-value="more.due.firm" @update:model-value="refineDue({ firm: $event === true })" />
      </template>
      <v-select
        v-if="licences.length > 0"
        :label="words.access.paidBy"
        :items="payers"
        :model-value="more.payers?.licences[0] ?? costsNothing"
        @update:model-value="(id: number) => emit('refine', { payers: id === costsNothing ? null : { licences: [id], others: false } })"
      />
    </template>
    <v-text-field
      maxlength="500"
      :label="words.access.note"
      :model-value="more.note ?? ''"
      @update:model-value="emit('refine', { note: $event.trim() === '' ? null : $event })"
    />
    <fieldset v-if="course && course.units.length > 1" class="units">
      <legend>{{ words.access.someUnits(more.units?.length ?? null) }}</legend>
      <v-checkbox
        v-for="unit in course.units"
        :key="unit.id"
        :label="unit.name"
        :model-value="more.units?.includes(unit.id) ?? true"
        @update:model-value="tick(unit.id)"
      />
    </fieldset>
  </div>
</template>

<style scoped>
.more {
  display: grid;
  gap: 10px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px;
  margin: 6px 0;
}
.units {
  border: 0;
  padding: 0;
  max-height: 320px;
  overflow: auto;
}
.units legend {
  font-weight: 600;
}
</style>
