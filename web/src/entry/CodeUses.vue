<script setup lang="ts">
import type { JoinCode } from '@gate-roster/contract';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { showDayOf, showMoment } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';

/** Who came in by a code, latest first. */
const { code, mayExport } = defineProps<{ code: JoinCode; mayExport: boolean }>();
defineEmits<{ close: [] }>();
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['code-uses', computed(() => code.id)],
  queryFn: ({ pageParam, signal }) =>
    call('codeUses', { params: { codeId: code.id }, query: pageParam ? { after: pageParam } : {} }, signal),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
});
const uses = computed(() => data.value?.pages.flatMap((page) => page.uses) ?? []);
</script>

<template>
  <section class="form">
    <div class="line">
      <h2>{{ words.waysIn.codes.who }}</h2>
      <v-btn variant="text" @click="$emit('close')">{{ words.common.close }}</v-btn>
    </div>
    <p>
      <span class="mono">{{ code.code }}</span>
      <span v-if="code.madeBy" class="soft">{{ `, ${words.waysIn.codes.by(code.madeBy, showDayOf(code.madeAt))}` }}</span>
    </p>
    <p v-if="mayExport && uses.length > 0">
      <a class="plain-link" :href="addressOf('codeUsesFile', { params: { codeId: code.id } })">{{ words.waysIn.codes.whoFile }}</a>
    </p>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <p v-else-if="uses.length === 0" class="soft">{{ words.waysIn.codes.nobody }}</p>
    <ul class="plain-list">
      <li v-for="use in uses" :key="use.personId" class="line use">
        <span
          >{{ use.name || words.people.erasedName }}
          <span v-for="{ label, answer } in use.answers" :key="label" class="answer"
            ><span class="soft">{{ label }}</span> {{ answer }}</span
          >
        </span>
        <span class="soft when">{{ showMoment(use.at) }}</span>
      </li>
    </ul>
    <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.answer {
  display: block;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
.when {
  white-space: nowrap;
}
.use {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
</style>
