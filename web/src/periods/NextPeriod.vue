<script setup lang="ts">
import type { Answer, Change, Routes } from '@gate-roster/contract';
import { computed, reactive, ref } from 'vue';
import { useRouter } from 'vue-router';
import JobProgress from '../changes/JobProgress.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import { showNumber } from '../ui/format.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';
import { useApplyPeriod } from './apply-period.ts';
import { allSame, allUp, goNowhere, type MoveTable } from './next-table.ts';

/** The next period of a branch: what is copied, and where its people go. */
const { group, period } = defineProps<{ group: { id: number; name: string }; period: Answer<Routes['period']> }>();
const w = words.periods;
const router = useRouter();
const name = ref('');
const parentId = ref<number | null>(period.parent?.id ?? null);
const byDays = -1;
const years = ref(1);
const days = ref(365);
const copies = reactive({ courses: true, leaders: true, codes: true, limits: true });
const table = ref<MoveTable>(allSame(period.groups));
const targets = computed(() => [
  ...period.groups.map(({ id, name: called, depth }) => ({
    value: id,
    title: `${'\u2003'.repeat(depth)}${depth === 0 ? name.value || called : called}`,
  })),
  { value: null, title: w.leaves },
]);
const shifts = [...[1, 2, 3].map((value) => ({ value, title: w.years(value) })), { value: byDays, title: w.days }];
const change = computed<Change | null>(() =>
  name.value.trim() === '' || parentId.value === null
    ? null
    : {
        kind: 'make-next-period',
        groupId: group.id,
        parentId: parentId.value,
        name: name.value.trim(),
        shift: years.value === byDays ? { days: Math.round(Number(days.value)) } : { years: years.value },
        copies: { ...copies },
        moves: period.groups.map(({ id }) => ({ fromId: id, toCopyOf: table.value[id] ?? null })),
      },
);
const inHand = useChange(change, w.made, { settleMilliseconds: 400 });
const nowhere = computed(() => goNowhere(period.groups, table.value));
const { job, apply } = useApplyPeriod(change, inHand, {
  said: w.made,
  done: () => void router.push({ name: 'groups', params: { groupId: parentId.value ?? group.id } }),
});
</script>

<template>
  <div class="two">
    <section class="lines">
      <v-text-field v-model="name" v-focus-first maxlength="120" :label="w.name" />
      <GroupPicker v-model="parentId" :label="w.parent" :autofocus="false" />
      <div class="pair">
        <v-select v-model="years" :items="shifts" :label="w.shift" />
        <v-text-field v-if="years === byDays" v-model.number="days" type="number" :label="w.daysField" />
      </div>
      <fieldset class="copies">
        <legend>{{ w.copiesTitle }}</legend>
        <v-checkbox
          v-for="what in ['courses', 'leaders', 'codes', 'limits'] as const"
          :key="what"
          v-model="copies[what]"
          :label="w.copies[what]"
        />
        <p class="soft">{{ w.copiesHint }}</p>
      </fieldset>
      <h2>{{ w.table }}</h2>
      <p class="acts">
        <v-btn @click="table = allSame(period.groups)">{{ w.allSame }}</v-btn>
        <v-btn v-if="period.groups.length > 1" @click="table = allUp(period.groups)">{{ w.allUp }}</v-btn>
      </p>
      <table class="rows">
        <thead>
          <tr>
            <th scope="col">{{ w.from }}</th>
            <th scope="col" class="num">{{ w.peopleHead }}</th>
            <th scope="col">{{ w.to }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in period.groups" :key="each.id">
            <th scope="row" :style="{ paddingLeft: `${12 + each.depth * 16}px` }">{{ each.name }}</th>
            <td class="num">{{ showNumber(each.people) }}</td>
            <td>
              <select v-model="table[each.id]" class="target" :aria-label="`${each.name}: ${w.to}`">
                <option v-for="target in targets" :key="target.value ?? 0" :value="target.value">{{ target.title }}</option>
              </select>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="nowhere > 0" class="late">{{ w.nowhere(nowhere) }}</p>
    </section>
    <aside class="panel" :aria-label="w.views.next">
      <JobProgress v-if="job.sheet.value?.state === 'waiting'" :job="job" :title="w.views.next" />
      <p v-if="job.said.value" role="alert">{{ job.said.value }}</p>
      <LookPanel :in-hand="inHand" :change="change" :apply-label="w.make" @apply="apply" @discard="$router.back()">
        <h2>{{ name || w.views.next }}</h2>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped src="./period.css"></style>
