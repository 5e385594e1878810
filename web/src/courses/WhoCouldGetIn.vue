<script setup lang="ts">
import { addDays } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import LoadState from '../ui/LoadState.vue';
import { showDay, showDayOf, today } from '../ui/format.ts';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** Who could get into a course between two days, through what, by whose word, and whether they used it; also as a file. */
const { courseId } = defineProps<{ courseId: number }>();
const emit = defineEmits<{ close: [] }>();
const w = words.couldGetIn;
const scope = useScope();
const session = useSession();
const firstDay = ref(addDays(today(), -30));
const lastDay = ref(today());
const isRight = computed(() => firstDay.value !== '' && lastDay.value !== '' && firstDay.value <= lastDay.value);
const question = computed(() => ({ ...scope.query.value, firstDay: firstDay.value, lastDay: lastDay.value }));
const params = computed(() => ({ groupId: scope.groupId.value, courseId }));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['access', 'could get in', params, question],
  queryFn: ({ signal }) => call('couldGetIn', { params: params.value, query: question.value }, signal),
  enabled: isRight,
});
type Row = NonNullable<typeof data.value>['rows'][number];
const makers = ({ by }: Row): string =>
  by.map(({ group, name, day }) => [group ?? w.person, name, showDay(day)].filter(Boolean).join(', ')).join('; ') || w.ownTerms;
const uses = ({ firstUse, lastUse }: Row): string =>
  firstUse === null ? w.never : [...new Set([firstUse, lastUse ?? firstUse].map(showDayOf))].join(' – ');
</script>

<template>
  <section class="form">
    <h2>{{ w.title }}</h2>
    <div class="pair">
      <DayField v-model="firstDay" :label="w.from" />
      <DayField v-model="lastDay" :label="w.until" />
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending && isRight" @again="refetch()" />
    <template v-else>
      <p>
        <b>{{ w.found(data.people) }}</b>
        <template v-if="session.hasPower('export') && data.people > 0">
          {{ ' '
          }}<a class="plain-link" :href="addressOf('couldGetInFile', { params, query: question })" download :title="w.fileHint">{{
            w.file
          }}</a>
        </template>
      </p>
      <p v-if="data.rows.length === 0" class="soft">{{ w.none }}</p>
      <p v-if="data.unnamed > 0" class="soft">{{ w.unnamed(data.unnamed) }}</p>
      <ul class="plain-list">
        <li v-for="(row, index) in data.rows" :key="index" class="row">
          <b>{{ row.name ?? w.erased }}</b> {{ `${showDay(row.firstDay)} – ${showDay(row.lastDay)}` }}
          <p v-if="row.through.length > 0" class="soft">{{ `${w.through} ${row.through.join(', ')}` }}</p>
          <p class="soft">{{ `${w.by} ${makers(row)}` }}</p>
          <p class="soft">{{ `${w.use}: ${uses(row)}` }}</p>
        </li>
      </ul>
      <p v-if="data.more > 0" class="soft">{{ w.more(data.more) }}</p>
    </template>
    <v-btn variant="text" @click="emit('close')">{{ words.common.close }}</v-btn>
  </section>
</template>

<style scoped>
.row {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
  font-size: 14px;
}
</style>
