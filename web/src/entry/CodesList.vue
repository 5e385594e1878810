<script setup lang="ts">
import type { JoinCode, Change } from '@gate-roster/contract';
import { mdiDotsVertical } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { call } from '../api/call.ts';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { copyText } from '../ui/copy.ts';
import { showDayOf, showMoment } from '../ui/format.ts';
import DataList from '../ui/DataList.vue';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import CodeUses from './CodeUses.vue';

/** The codes that open groups of the scope: hand them out, pause, replace, see who came in. */
const CodeForm = defineAsyncComponent(() => import('./CodeForm.vue'));
const scope = useScope();
const session = useSession();
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['codes', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('codes', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
const w = words.waysIn.codes;
type Panel = { kind: 'new' } | { kind: 'edit' | 'uses'; code: JoinCode };
const panel = ref<Panel | null>(null);
const codes = computed(() => data.value?.codes ?? []);
const linkOf = (code: JoinCode): string => `${location.origin}/join#${code.code}`;
const textOf = (code: JoinCode): string =>
  w.invitationText({
    organisation: session.me?.organisation ?? '',
    groups: code.groups.map(({ name }) => name),
    link: linkOf(code),
    code: code.code,
    until: code.lastAt && showMoment(code.lastAt),
  });
async function act(change: Change, said: string): Promise<void> {
  panel.value = null;
  await applyAtOnce(change, said);
}
const columns: readonly ListColumn[] = [
  { key: 'code', title: w.code },
  { key: 'opens', title: w.opens },
  { key: 'until', title: w.until, roomFrom: 760 },
  { key: 'used', title: w.used, isNumber: true },
  { key: 'state', title: w.state, roomFrom: 640 },
  { key: 'acts', title: words.common.actions, hasHiddenTitle: true },
];
const facts = (code: JoinCode): string =>
  [
    code.powers ? w.forLeaders : [],
    code.needsDecision ? w.decides : [],
    code.price === null ? [] : w.costs(code.price, data.value?.currency ?? 'EUR'),
    code.emailEnding ? `@${code.emailEnding}` : [],
  ]
    .flat()
    .join(', ');
</script>

<template>
  <div class="split">
    <main class="part">
      <div class="head">
        <h1>{{ words.waysIn.parts.codes }}</h1>
        <v-btn v-if="data?.may.make" variant="flat" @click="panel = { kind: 'new' }">{{ w.make }}</v-btn>
      </div>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="codes.length === 0" class="soft empty">{{ w.none }}</p>
      <DataList
        v-else
        :label="words.waysIn.parts.codes"
        :columns="columns"
        :rows="codes"
        :look-of="(code) => ({ shut: code.state !== 'open' })"
      >
        <template #code="{ row: code }">
          <span class="mono code">{{ code.code }}</span>
          <p v-if="code.note" class="soft small">{{ code.note }}</p>
        </template>
        <template #opens="{ row: code }">
          {{ code.groups.map(({ name }) => name).join(', ') }}
          <p v-if="facts(code)" class="soft small">{{ facts(code) }}</p>
        </template>
        <template #until="{ row: code }">
          <span :title="code.lastAt ? showMoment(code.lastAt) : undefined">{{ code.lastAt ? showDayOf(code.lastAt) : w.noEnd }}</span>
        </template>
        <template #used="{ row: code }">
          <button type="button" class="plain-link" :aria-label="`${w.who}, ${code.code}`" @click="panel = { kind: 'uses', code }">
            {{ w.ofLimit(code.uses, code.useLimit) }}
          </button>
          <p v-if="code.paying > 0" class="soft small">{{ w.paying(code.paying) }}</p>
        </template>
        <template #state="{ row: code }">
          {{ w.states[code.state] }}{{ code.state === 'not yet' && code.firstAt ? ` ${w.from(showMoment(code.firstAt))}` : '' }}
        </template>
        <template #acts="{ row: code }">
          <div class="acts">
            <button type="button" class="plain-link" @click="copyText(linkOf(code))">{{ w.copyLink }}</button>
            <router-link class="plain-link" :to="{ name: 'door', params: { codeId: code.id } }">{{ w.door }}</router-link>
            <v-menu>
              <template #activator="{ props: activator }">
                <v-btn v-bind="activator" variant="text" size="small" :icon="mdiDotsVertical" :aria-label="w.acts(code.code)" />
              </template>
              <v-list>
                <v-list-item :title="w.copyText" @click="copyText(textOf(code))" />
                <v-list-item :title="w.copyCode" @click="copyText(code.code)" />
                <template v-if="code.mine">
                  <v-divider />
                  <v-list-item :title="w.change" @click="panel = { kind: 'edit', code }" />
                  <v-list-item
                    :title="code.paused ? w.unpause : w.pause"
                    @click="act({ kind: 'edit-code', codeId: code.id, values: { paused: !code.paused }, replace: false }, w.saved)"
                  />
                  <v-list-item
                    :title="w.replace"
                    @click="act({ kind: 'edit-code', codeId: code.id, values: {}, replace: true }, w.replaced)"
                  />
                  <v-list-item class="late" :title="w.remove" @click="act({ kind: 'delete-code', codeId: code.id }, w.deleted)" />
                </template>
              </v-list>
            </v-menu>
          </div>
        </template>
      </DataList>
    </main>
    <aside v-if="panel" class="panel">
      <CodeUses
        v-if="panel.kind === 'uses'"
        :key="panel.code.id"
        :code="panel.code"
        :may-export="session.hasPower('export')"
        @close="panel = null"
      />
      <CodeForm
        v-else
        :key="panel.kind === 'edit' ? panel.code.id : 0"
        :group-id="scope.groupId.value"
        :code="panel.kind === 'edit' ? panel.code : null"
        :currency="data?.currency ?? null"
        :for-leaders="data?.may.makeForLeaders ?? false"
        @close="panel = null"
      />
    </aside>
  </div>
</template>

<style scoped>
.code {
  font-size: 16px;
  font-weight: 600;
}
.small {
  font-size: 13px;
}
.acts {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: flex-end;
}
:deep(tr.shut) .code {
  color: var(--ink2);
  font-weight: 400;
}
</style>
