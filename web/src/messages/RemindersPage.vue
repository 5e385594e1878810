<script setup lang="ts">
import type { RehearsedReminder, ReminderRow } from '@gate-roster/contract';
import { courseOccasions, type ReminderOccasion, reminderOccasions } from '@gate-roster/core';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { showDay, showNumber, showWeekday } from '../ui/format.ts';
import * as words from '../words.ts';
import ReminderEditor from './ReminderEditor.vue';

/** When people of a group are reminded of what, and beside it whom the next days would remind. */
const w = words.reminders;
const scope = useScope();
const tree = useTree();
const params = computed(() => ({ groupId: scope.groupId.value }));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['messages', 'reminders', scope.groupId],
  queryFn: ({ signal }) => call('reminders', { params: params.value }, signal),
});
const { data: next } = useQuery({
  queryKey: ['messages', 'rehearsal', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('rehearseReminders', { params: params.value, query: scope.query.value }, signal),
  placeholderData: keepPreviousData,
});
const sections = computed(() =>
  reminderOccasions.map((occasion) => {
    const of = (data.value?.settings ?? []).filter((each) => each.occasion === occasion);
    return { occasion, counting: of.filter(({ counts }) => counts), below: of.filter(({ where }) => where === 'below') };
  }),
);
const edited = ref<{ occasion: ReminderOccasion; row: ReminderRow | null } | null>(null);
function edit(occasion: ReminderOccasion, row: ReminderRow | null): void {
  edited.value = { occasion, row };
}
watch(scope.groupId, () => {
  edited.value = null;
  chosen.value = null;
});
const own = computed(() => (data.value?.settings ?? []).filter(({ where }) => where === 'here'));
const byDay = computed(() => {
  const days = new Map<string, RehearsedReminder[]>();
  for (const line of next.value?.lines ?? []) days.set(line.day, [...(days.get(line.day) ?? []), line]);
  return [...days].map(([day, lines]) => ({ day, lines }));
});
const chosen = ref<RehearsedReminder | null>(null);
const keyOf = ({ day, occasion, aboutId }: RehearsedReminder): string => `${day}/${occasion}/${aboutId}`;
const { data: named } = useQuery({
  queryKey: ['messages', 'rehearsal-names', scope.groupId, scope.query, computed(() => chosen.value && keyOf(chosen.value))],
  queryFn: ({ signal }) => {
    const { day, occasion, aboutId } = chosen.value ?? {};
    return call(
      'rehearseReminders',
      { params: params.value, query: { ...scope.query.value, ...(day && occasion && aboutId ? { day, occasion, aboutId } : {}) } },
      signal,
    );
  },
  enabled: computed(() => chosen.value !== null),
});
const open = (line: RehearsedReminder): void => {
  chosen.value = chosen.value && keyOf(chosen.value) === keyOf(line) ? null : line;
};
</script>

<template>
  <div class="split">
    <main class="part scroll-part">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <ReminderEditor
        v-else-if="edited"
        :key="`${edited.occasion} ${edited.row?.course?.id ?? 0}`"
        :group-id="scope.groupId.value"
        :occasion="edited.occasion"
        :row="edited.row"
        :own="own"
        @close="edited = null"
      />
      <template v-else>
        <h1>{{ w.title }}</h1>
        <p class="soft">{{ w.what(tree?.row(scope.groupId.value)?.name ?? '') }}</p>
        <section v-for="{ occasion, counting, below } in sections" :key="occasion" class="occasion">
          <h2>{{ w.occasions[occasion] }}</h2>
          <ul class="plain-list">
            <li v-for="row in counting" :key="row.course?.id ?? 0">
              <span>
                <b>{{ w.says(row) }}</b>
                <span v-if="row.course" class="tag">{{ row.course.name }}</span>
                <span class="soft">{{ `${w.from(row)}${row.by ? `, ${row.by}` : ''}` }}</span>
              </span>
              <v-btn
                v-if="data.may.write"
                size="small"
                variant="text"
                :aria-label="`${w.change} ${w.occasions[occasion]}${row.course ? `: ${row.course.name}` : ''}`"
                @click="edit(occasion, row)"
                >{{ row.where === 'here' ? w.change : w.changeHere }}</v-btn
              >
            </li>
            <li v-if="!counting.some(({ course }) => course === null)">
              <span class="soft">{{ w.notSet }}</span>
              <v-btn
                v-if="data.may.write"
                size="small"
                variant="text"
                :aria-label="`${w.set} ${w.occasions[occasion]}`"
                @click="edit(occasion, null)"
                >{{ w.set }}</v-btn
              >
            </li>
          </ul>
          <details v-if="below.length > 0">
            <summary>{{ w.below(below.length) }}</summary>
            <ul class="plain-list">
              <li v-for="row in below" :key="`${row.group?.id} ${row.course?.id}`">
                <span
                  >{{ row.group?.name }}: {{ w.says(row) }} <span v-if="row.course" class="tag">{{ row.course.name }}</span></span
                >
                <v-btn
                  v-if="row.group"
                  size="small"
                  variant="text"
                  :to="{ name: 'messages', params: { groupId: row.group.id, part: 'reminders' } }"
                  :aria-label="`${w.change} ${row.group.name}`"
                  >{{ w.change }}</v-btn
                >
              </li>
            </ul>
          </details>
          <v-btn
            v-if="data.may.write && courseOccasions.includes(occasion) && counting.some(({ course }) => course === null)"
            size="small"
            variant="text"
            class="for-course"
            :aria-label="`${w.forCourse} ${w.occasions[occasion]}`"
            @click="edit(occasion, null)"
            >{{ w.forCourse }}</v-btn
          >
        </section>
      </template>
    </main>
    <aside class="panel" :aria-label="w.nextTitle">
      <h2>{{ w.nextTitle }}</h2>
      <p class="soft">{{ w.next }}</p>
      <p v-if="next && byDay.length === 0" class="soft">{{ w.nobodyNext }}</p>
      <section v-for="{ day, lines } in byDay" :key="day" class="day">
        <h3>
          {{ showDay(day) }} <span class="soft">{{ showWeekday(day) }}</span>
        </h3>
        <ul class="plain-list facts">
          <li v-for="line in lines" :key="keyOf(line)">
            <span>{{ w.line(line) }}</span>
            <button type="button" class="plain-link num" :aria-label="w.whoLabel(line)" @click="open(line)">
              {{ showNumber(line.people) }}
            </button>
            <ul v-if="chosen && keyOf(chosen) === keyOf(line) && named" class="plain-list names">
              <li v-for="person in named.names" :key="person.id">{{ person.name }}</li>
              <li v-if="named.more > 0" class="soft">{{ words.messages.namesMore(named.more) }}</li>
            </ul>
          </li>
        </ul>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.occasion {
  border-top: 1px solid var(--rule);
  padding: 10px 0 8px;
  max-width: 760px;
}
.occasion h2 {
  font-size: 16.5px;
}
.occasion li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  min-height: 34px;
}
.occasion li > span {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
}
.for-course {
  margin-left: -12px;
}
.panel > * {
  flex: none;
}
.day {
  margin-top: 10px;
}
.facts > li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 10px;
  padding: 3px 0;
}
.names {
  grid-column: 1 / -1;
  padding-left: 12px;
  color: var(--ink2);
}
</style>
