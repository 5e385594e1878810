<script setup lang="ts">
import type { AccessGrid, GrantDraft } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { words } from '../words.ts';
import { type AccessDraft, ofKey } from './use-access-draft.ts';

/** The words of the draft, each with its days, units, due day and reach. */
const { grid, draft } = defineProps<{ grid: AccessGrid; draft: AccessDraft }>();
const emit = defineEmits<{ refine: [groupId: number, courseId: number, more: Partial<GrantDraft>] }>();
const open = ref<string | null>(null);
const list = computed(() =>
  [...draft.cells.value].map(([key, cell]) => {
    const { groupId, courseId } = ofKey(key);
    const row = grid.rows.find(({ id }) => id === groupId);
    return {
      key,
      groupId,
      courseId,
      cell,
      group: row?.name ?? '',
      course: grid.courses.find(({ id }) => id === courseId),
      hasBelow: grid.rows.some(({ parentId }) => parentId === groupId),
      more: cell.more ?? {},
    };
  }),
);
const refine = (item: { groupId: number; courseId: number }, more: Partial<GrantDraft>): void => {
  emit('refine', item.groupId, item.courseId, more);
};
/** What may pay for a course: only where there are licences is there a question. */
const top = computed(() => grid.rows.find(({ isAbove }) => !isAbove)?.id ?? 0);
const { data: seats } = useQuery({
  queryKey: ['seats', top],
  queryFn: ({ signal }) => call('seats', { params: { groupId: top.value } }, signal),
});
const payersOf = (courseId: number | undefined): { value: number; title: string }[] => {
  const licences = (seats.value?.licences ?? []).filter(
    ({ courses, lastDay }) => courses.includes(courseId ?? 0) && (lastDay === null || lastDay >= today.value),
  );
  if (licences.length === 0) return [];
  return [
    { value: costsNothing, title: words.access.costsNothing },
    ...licences.map(({ id, name, firstDay }) => ({
      value: id,
      title: words.access.licence(name, firstDay !== null && firstDay > today.value ? firstDay : null),
    })),
  ];
};
const session = useSession();
const today = computed(() => session.me?.today ?? '');
const costsNothing = 0;
const dueDays = (more: Partial<GrantDraft>): number | null => (more.due && 'days' in more.due.at ? more.due.at.days : null);
const dueDay = (more: Partial<GrantDraft>): string | null => (more.due && 'day' in more.due.at ? more.due.at.day : null);
</script>

<template>
  <ul class="plain-list">
    <li v-for="item in list" :key="item.key" class="item">
      <p>
        {{ words.access.says[item.cell.effect] }} <b>{{ item.course?.name }}</b> {{ words.access.forGroup }} <b>{{ item.group }}</b>{{
          item.hasBelow && item.cell.effect !== 'end'
            ? item.more.withSubgroups === false
              ? words.access.alone
              : words.access.withSubgroups
            : ''
        }}
        <button
          v-if="item.cell.effect !== 'end'"
          type="button"
          class="plain-link"
          :aria-expanded="open === item.key"
          @click="open = open === item.key ? null : item.key"
        >
          {{ words.access.refine }}
        </button>
        {{ ' '
        }}<button type="button" class="plain-link" @click="draft.put(item.groupId, item.courseId, null)">{{ words.access.dropIt }}</button>
      </p>
      <div v-if="open === item.key" class="more">
        <v-text-field
          type="date"
          :label="words.access.firstDay"
          :model-value="item.more.firstDay ?? ''"
          @update:model-value="refine(item, { firstDay: $event || null })"
        />
        <v-text-field
          type="date"
          :label="words.access.lastDay"
          :model-value="item.more.lastDay ?? ''"
          @update:model-value="refine(item, { lastDay: $event || null })"
        />
        <v-checkbox
          v-if="item.hasBelow"
          :label="words.access.alsoBelow"
          :model-value="item.more.withSubgroups !== false"
          @update:model-value="refine(item, { withSubgroups: $event === true })"
        />
        <v-checkbox
          v-if="item.cell.effect === 'block'"
          :label="words.access.firm"
          :model-value="item.more.firm === true"
          @update:model-value="refine(item, { firm: $event === true })"
        />
        <template v-else>
          <v-text-field
            type="number"
            min="0"
            max="3650"
            :label="words.access.dueDays"
            :model-value="dueDays(item.more) ?? ''"
            @update:model-value="
              refine(item, {
                due: $event === '' || $event === null ? null : { at: { days: Number($event) }, leastDays: null, firm: false },
              })
            "
          />
          <v-text-field
            v-if="dueDays(item.more) === null"
            type="date"
            :label="words.access.dueDay"
            :model-value="dueDay(item.more) ?? ''"
            @update:model-value="refine(item, { due: $event ? { at: { day: $event }, leastDays: null, firm: false } : null })"
          />
        </template>
        <v-select
          v-if="item.cell.effect === 'open' && payersOf(item.course?.id).length > 0"
          :label="words.access.paidBy"
          :items="payersOf(item.course?.id)"
          :model-value="item.more.payers?.licences[0] ?? costsNothing"
          @update:model-value="(id: number) => refine(item, { payers: id === costsNothing ? null : { licences: [id], others: false } })"
        />
        <v-select
          multiple
          :label="words.access.units"
          :items="item.course?.units ?? []"
          item-value="id"
          item-title="name"
          :model-value="item.more.units ?? (item.course?.units ?? []).map(({ id }) => id)"
          @update:model-value="
            (units: number[]) => refine(item, { units: units.length === 0 || units.length === item.course?.units.length ? null : units })
          "
        >
          <template #selection="{ index }"
            ><span v-if="index === 0">{{ words.access.someUnits(item.more.units?.length ?? null) }}</span></template
          >
        </v-select>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.item {
  padding: 4px 0;
}
.more {
  display: grid;
  gap: 10px;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px;
  margin: 6px 0;
}
</style>
