<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import { showDay, showNumber } from '../ui/format.ts';
import LoadState from '../ui/LoadState.vue';
import { words } from '../words.ts';
import SeatBar from './SeatBar.vue';
import SeatPeople from './SeatPeople.vue';
import { useLimits } from './use-limits.ts';

/** Licences that pay in the scope: how many seats each group uses, has left and waits for, and the limits, set in place. */
const LicenceForm = defineAsyncComponent(() => import('./LicenceForm.vue'));
const scope = useScope();
const w = words.seats;
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: { groupId: scope.groupId.value } }, signal),
});
const chosen = ref<number | null>(null);
const licence = computed(() => data.value?.licences.find(({ id }) => id === chosen.value) ?? data.value?.licences[0]);
const panel = ref<'make' | 'edit' | null>(null);
/** The number that is opened to its people; at first those in line, when there are some. */
const opened = ref<{ group: { id: number; name: string }; list: 'in use' | 'in line' } | null>(null);
watch([scope.groupId, () => licence.value?.id], () => {
  panel.value = null;
  opened.value = null;
});
const limits = useLimits(licence);
const inHand = useChange(limits.change, w.limited, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) limits.clear();
}
const top = computed(() => licence.value?.groups[0]);
const shownPeople = computed(
  () => opened.value ?? (top.value && top.value.inLine > 0 ? { group: top.value, list: 'in line' as const } : null),
);
/** What all bars are drawn against. */
const whole = computed(
  () => licence.value?.seats ?? Math.max(1, ...(licence.value?.groups.map(({ used, most }) => Math.max(used, most ?? 0)) ?? [])),
);
const below = computed(() => {
  const least = Math.min(...(licence.value?.groups.slice(1).map(({ depth }) => depth) ?? []));
  return (licence.value?.groups ?? []).slice(1).filter(({ depth, most }) => depth === least && most !== null);
});
const limitsBelow = computed(() => below.value.reduce((sum, { most }) => sum + (most ?? 0), 0));
</script>

<template>
  <ScopeBar />
  <div class="page">
    <main class="side">
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <div class="head">
          <div v-if="licence">
            <h1>{{ licence.name }}</h1>
            <p class="soft">
              {{ w.about(licence.about.name, licence.seats, licence.lastDay && showDay(licence.lastDay), licence.inForce) }}
              {{ w.onLeaving[licence.onLeaving] }} {{ licence.byHand ? w.byHand : '' }}
            </p>
          </div>
          <h1 v-else>{{ words.areas.seats }}</h1>
          <div class="acts">
            <v-select
              v-if="data.licences.length > 1"
              class="pick"
              :model-value="licence?.id ?? null"
              :items="data.licences"
              item-value="id"
              item-title="name"
              :label="w.licence"
              @update:model-value="chosen = $event"
            />
            <v-btn v-if="data.mayMake" :variant="licence ? 'outlined' : 'flat'" @click="panel = 'make'">{{ w.make }}</v-btn>
            <v-btn v-if="licence?.mayEdit" variant="flat" @click="panel = 'edit'">{{ w.edit }}</v-btn>
          </div>
        </div>
        <p v-if="!licence" class="empty soft">{{ data.mayMake ? w.noneYet : w.none }}</p>
        <div v-else class="scroll" tabindex="0" role="region" :aria-label="licence.name">
          <table class="rows">
            <thead>
              <tr>
                <th>{{ w.group }}</th>
                <th>{{ w.bar }}</th>
                <th class="num">{{ w.used }}</th>
                <th class="num">{{ w.free }}</th>
                <th class="num">{{ w.inLine }}</th>
                <th class="num">{{ w.limit }}</th>
                <th class="num" :title="w.lastsHint">{{ w.lasts }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="group in licence.groups" :key="group.id">
                <td :style="{ paddingLeft: `${10 + Math.min(group.depth, 8) * 18}px` }">
                  <component :is="group === top ? 'b' : 'span'">{{ group.name }}</component>
                </td>
                <td><SeatBar :used="group.used" :limit="limits.at(group)" :whole="whole" :is-short="group.inLine > 0" /></td>
                <td class="num">
                  <button v-if="group.used > 0" type="button" class="plain-link" @click="opened = { group, list: 'in use' }">
                    {{ showNumber(group.used) }}
                  </button>
                  <template v-else>0</template>
                </td>
                <td class="num" :class="{ late: group.free !== null && (group.free < 0 || (group.free === 0 && group.inLine > 0)) }">
                  {{ group.free === null ? '–' : w.freeOrOver(group.free) }}
                </td>
                <td class="num">
                  <button v-if="group.inLine > 0" type="button" class="plain-link late" @click="opened = { group, list: 'in line' }">
                    {{ showNumber(group.inLine) }}
                  </button>
                  <template v-else>–</template>
                </td>
                <td class="num">
                  <input
                    v-if="group.mayLimit"
                    class="limit num"
                    type="number"
                    min="0"
                    :value="limits.at(group) ?? ''"
                    :placeholder="w.noLimit"
                    :aria-label="w.limitOf(group.name)"
                    @input="limits.put(group.id, ($event.target as HTMLInputElement).value)"
                  />
                  <template v-else>{{ group.most === null ? w.noLimit : showNumber(group.most) }}</template>
                </td>
                <td class="num lasts">
                  <template v-if="group.forecast">
                    {{ w.forecast(group.forecast, group.free).day }}
                    <p v-if="w.forecast(group.forecast, group.free).range" class="soft range">
                      {{ w.forecast(group.forecast, group.free).range }}
                    </p>
                  </template>
                  <template v-else>–</template>
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="licence.seats !== null && limitsBelow > licence.seats" class="soft small">
            {{ w.limitsAddUp(limitsBelow, licence.seats) }}
          </p>
          <p class="soft small">{{ w.lastsHint }}</p>
        </div>
      </template>
    </main>
    <aside v-if="panel === 'make' || (panel === 'edit' && licence)" class="panel">
      <LicenceForm
        :key="panel"
        :licence="panel === 'edit' ? (licence ?? null) : null"
        :home-id="scope.groupId.value"
        :course-sets="data?.courseSets ?? []"
        @close="panel = null"
      />
    </aside>
    <aside v-else-if="limits.change.value" class="panel">
      <LookPanel :in-hand="inHand" :change="limits.change.value" @apply="apply" @discard="limits.clear()">
        <h2>{{ words.changes.whatItWouldDo }}</h2>
      </LookPanel>
    </aside>
    <aside v-else-if="licence && shownPeople" class="panel"><SeatPeople v-bind="shownPeople" :licence="licence" /></aside>
  </div>
</template>

<style scoped>
.lasts {
  white-space: nowrap;
}
.range {
  font-size: 13.5px;
}
.page {
  display: flex;
  flex: 1;
  min-height: 0;
  background: var(--sheet);
}
.side {
  flex: 1;
  min-width: 0;
  padding: 14px 26px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  align-items: flex-start;
  flex-wrap: wrap;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.pick {
  width: 260px;
}
.scroll {
  overflow: auto;
  min-height: 0;
}
.limit {
  width: 84px;
  font: inherit;
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--field);
  border-radius: 4px;
  padding: 4px 8px;
}
.limit::placeholder {
  color: var(--ink2);
  opacity: 1;
}
.small {
  font-size: 13.5px;
  padding: 10px;
}
@media (max-width: 860px) {
  .page {
    flex-direction: column;
    overflow: auto;
  }
  .side {
    padding: 12px 14px;
    flex: none;
  }
}
</style>
