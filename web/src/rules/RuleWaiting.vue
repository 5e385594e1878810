<script setup lang="ts">
import type { Change, RuleRow } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';

/** People for whom a rule waits: a leader says that it acts on all of them, or on one, or leaves them alone. */
const { rule } = defineProps<{ rule: RuleRow }>();
const w = words.rules;
const asked = ref<{ personIds: number[]; acts: boolean } | null>(null);
const all = computed(() => rule.waiting.people.map(({ id }) => id));
const change = computed<Change | null>(() => asked.value && { kind: 'answer-rule', ruleId: rule.id, ...asked.value });
const inHand = useChange(change, w.answered);
async function apply(): Promise<void> {
  if (await inHand.apply()) asked.value = null;
}
</script>

<template>
  <section class="waiting" :aria-label="w.waitingTitle(rule.waiting.count)">
    <h2>{{ w.waitingTitle(rule.waiting.count) }}</h2>
    <p class="acts">
      <v-btn variant="flat" @click="asked = { personIds: all, acts: true }">{{ w.actOnAll(rule.waiting.count) }}</v-btn>
      <v-btn @click="asked = { personIds: all, acts: false }">{{ w.leaveAll }}</v-btn>
    </p>
    <LookPanel v-if="asked" :in-hand="inHand" :change="change" :apply-label="words.changes.apply" @apply="apply" @discard="asked = null" />
    <ul class="plain-list">
      <li v-for="person in rule.waiting.people" :key="person.id">
        <router-link :to="{ name: 'groups', params: { groupId: rule.group.id }, query: { person: String(person.id) } }">{{
          person.name
        }}</router-link>
        <span class="acts">
          <button
            type="button"
            class="plain-link"
            :aria-label="w.actOn(person.name)"
            @click="asked = { personIds: [person.id], acts: true }"
          >
            {{ w.actOnAll(1) }}
          </button>
          <button
            type="button"
            class="plain-link"
            :aria-label="w.leave(person.name)"
            @click="asked = { personIds: [person.id], acts: false }"
          >
            {{ w.leaveOne }}
          </button>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.waiting {
  background: var(--sheet);
  border: 1px solid var(--tide);
  border-radius: 8px;
  padding: 14px 16px;
  display: grid;
  gap: 10px;
}
h2 {
  font-size: 17px;
}
.acts {
  display: flex;
  gap: 12px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}
</style>
