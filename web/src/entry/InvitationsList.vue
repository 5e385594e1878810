<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useScope } from '../shell/scope.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import { showAgo, showDayOf, showMoment } from '../ui/format.ts';
import * as words from '../words.ts';

/** Who was invited, and what came of it. */
const InvitePeople = defineAsyncComponent(() => import('./InvitePeople.vue'));
const scope = useScope();
const w = words.waysIn.invitations;
const { data, error, isPending, refetch, fetchNextPage, hasNextPage } = useInfiniteQuery({
  queryKey: ['invitations', scope.groupId, scope.query],
  queryFn: ({ pageParam, signal }) =>
    call(
      'invitations',
      { params: { groupId: scope.groupId.value }, query: { ...scope.query.value, ...(pageParam ? { after: pageParam } : {}) } },
      signal,
    ),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
});
const invitations = computed(() => data.value?.pages.flatMap((page) => page.invitations) ?? []);
const columns: readonly ListColumn[] = [
  { key: 'to', title: w.to },
  { key: 'group', title: w.group },
  { key: 'state', title: w.state },
  { key: 'when', title: w.when, roomFrom: 640 },
  { key: 'until', title: w.until, roomFrom: 760 },
  { key: 'acts', title: words.common.actions, hasHiddenTitle: true },
];
const isInviting = ref(false);
const unanswered = computed(() => invitations.value.filter(({ state }) => state === 'bounced' || state === 'over'));
const again = (ids: number[]): Promise<boolean> => applyAtOnce({ kind: 'send-invitations-again', invitationIds: ids }, w.sentAgain);
const takeBack = (id: number): Promise<boolean> => applyAtOnce({ kind: 'take-back-invitation', invitationId: id }, w.takenBack);
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ words.waysIn.parts.invitations }}</h1>
        <div class="acts">
          <v-btn v-if="unanswered.length > 0" @click="again(unanswered.map(({ id }) => id))">{{ w.againSome(unanswered.length) }}</v-btn>
          <v-btn variant="flat" @click="isInviting = true">{{ w.title }}</v-btn>
        </div>
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="invitations.length === 0" class="soft">{{ w.none }}</p>
      <template v-else>
        <DataList :label="words.waysIn.parts.invitations" :columns="columns" :rows="invitations">
          <template #to="{ row: each }">
            {{ each.name || each.email }}
            <p v-if="each.name" class="soft small">{{ each.email }}</p>
          </template>
          <template #group="{ row: each }">
            {{ each.group.name }}<span v-if="each.leads" class="soft">{{ ` ${w.asLeader}` }}</span>
          </template>
          <template #state="{ row: each }">
            <span :class="{ good: each.state === 'joined', wrong: each.state === 'bounced', soft: each.state === 'over' }">{{
              w.states[each.state]
            }}</span>
            <p v-if="each.trouble" class="soft small">{{ each.trouble }}</p>
          </template>
          <template #when="{ row: each }"
            ><span class="soft" :title="showMoment(each.at)">{{ showAgo(each.at) }}</span></template
          >
          <template #until="{ row: each }"
            ><span class="soft">{{ showDayOf(each.until) }}</span></template
          >
          <template #acts="{ row: each }">
            <div v-if="each.state !== 'joined'" class="acts end">
              <button type="button" class="plain-link" @click="again([each.id])">{{ w.again }}</button>
              <button type="button" class="plain-link late" @click="takeBack(each.id)">{{ w.takeBack }}</button>
            </div>
          </template>
        </DataList>
        <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
      </template>
    </main>
    <aside v-if="isInviting" class="panel"><InvitePeople :group-id="scope.groupId.value" @close="isInviting = false" /></aside>
  </div>
</template>

<style scoped>
.small {
  font-size: 13px;
}
.acts {
  display: flex;
  gap: 14px;
}
.end {
  justify-content: flex-end;
}
</style>
