<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { showAgo, showDay, showMoment } from '../ui/format.ts';
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
      <div v-else class="scroll" tabindex="0" role="region" :aria-label="words.waysIn.parts.invitations">
        <table class="rows">
          <thead>
            <tr>
              <th>{{ w.to }}</th>
              <th>{{ w.group }}</th>
              <th>{{ w.state }}</th>
              <th>{{ w.when }}</th>
              <th>{{ w.until }}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in invitations" :key="each.id">
              <td>
                {{ each.name || each.email }}
                <p v-if="each.name" class="soft small">{{ each.email }}</p>
              </td>
              <td>
                {{ each.group.name }}<span v-if="each.leads" class="soft">{{ ` ${w.asLeader}` }}</span>
              </td>
              <td>
                <span :class="{ good: each.state === 'joined', wrong: each.state === 'bounced', soft: each.state === 'over' }">{{
                  w.states[each.state]
                }}</span>
                <p v-if="each.trouble" class="soft small">{{ each.trouble }}</p>
              </td>
              <td class="soft" :title="showMoment(each.at)">{{ showAgo(each.at) }}</td>
              <td class="soft">{{ showDay(each.until.slice(0, 10)) }}</td>
              <td>
                <div v-if="each.state !== 'joined'" class="acts end">
                  <button type="button" class="plain-link" @click="again([each.id])">{{ w.again }}</button>
                  <button type="button" class="plain-link late" @click="takeBack(each.id)">{{ w.takeBack }}</button>
                </div>
              </td>
            </tr>
          </tbody>
        </table>
        <v-btn v-if="hasNextPage" variant="text" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
      </div>
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
