<script setup lang="ts">
import type { Change, StatementAt } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';

/** What opens and blocks a course or a set, group by group; each statement can be ended with its preview. */
const {
  statements,
  elsewhere,
  units = [],
  licences,
} = defineProps<{
  statements: readonly StatementAt[];
  elsewhere: number;
  units?: readonly { id: number; name: string }[];
  licences: readonly { id: number; name: string }[];
}>();
const w = words.catalogue;
const ending = ref<number | null>(null);
const change = computed<Change | null>(() => (ending.value === null ? null : { kind: 'grant-access', begin: [], end: [ending.value] }));
const inHand = useChange(change, w.ended);
async function apply(): Promise<void> {
  if (await inHand.apply()) ending.value = null;
}
const facts = (said: StatementAt): string =>
  words.access
    .facts(said, {
      units: said.units === null ? null : units.filter(({ id }) => said.units?.includes(id)).map(({ name }) => name),
      licences: licences.filter(({ id }) => said.payers?.licences.includes(id)).map(({ name }) => name),
      hasBelow: !said.withSubgroups,
    })
    .join('; ');
</script>

<template>
  <section>
    <h2>{{ w.statements }}</h2>
    <p v-if="statements.length === 0" class="soft">{{ w.noStatements }}</p>
    <ul v-else class="plain-list">
      <li v-for="said in statements" :key="said.id" class="said">
        <div class="line">
          <router-link :to="{ name: 'access', params: { groupId: said.group.id } }">{{ said.group.name }}</router-link>
          <b :class="{ late: said.effect === 'block' }">{{ words.access.effects[said.effect] }}</b>
          <span v-if="said.set" class="soft">{{ words.access.bySet(said.set) }}</span>
          <span>{{ facts(said) }}</span>
          <span class="soft small">{{ words.access.madeBy(said.by, showDay(said.madeOn)) }}</span>
          <button v-if="said.mayEnd" type="button" class="plain-link end" @click="ending = ending === said.id ? null : said.id">
            {{ w.end }}
          </button>
        </div>
        <p v-if="said.note" class="note">{{ said.note }}</p>
        <LookPanel v-if="ending === said.id" :in-hand="inHand" :change="change" @apply="apply" @discard="ending = null" />
      </li>
    </ul>
    <p v-if="elsewhere > 0" class="soft small">{{ w.elsewhere(elsewhere) }}</p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 17px;
  margin-bottom: 4px;
}
.said {
  border-top: 1px solid var(--rule);
  padding: 7px 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}
.end {
  margin-left: auto;
}
.small {
  font-size: 13.5px;
}
.note {
  border-left: 3px solid var(--fog);
  padding-left: 8px;
}
</style>
