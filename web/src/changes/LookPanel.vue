<script setup lang="ts">
import type { Change } from '@gate-roster/core';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { showDay, showNumber } from '../ui/format.ts';
import { words } from '../words.ts';
import type { ChangeInHand } from './use-change.ts';

/** What a change would do: numbers that open to names, what stands in the way, and the one button that does it. */
const {
  inHand,
  change,
  applyLabel = words.changes.apply,
  later = '',
} = defineProps<{
  inHand: ChangeInHand;
  change: Change | null;
  applyLabel?: string;
  later?: string;
}>();
const look = computed(() => inHand.look.value);
defineEmits<{ apply: []; discard: [] }>();

type List = 'gains' | 'loses' | 'still';
const isBlocked = computed(() => look.value?.conflicts.some(({ blocks }) => blocks) ?? true);
const names = ref<{ key: string; people: { id: number; name: string }[]; newcomers: number; next: number | null } | null>(null);

async function openNames(list: List, courseId: number | null, after: number | null = null): Promise<void> {
  const key = `${list}/${courseId ?? ''}`;
  if (after === null && names.value?.key === key) {
    names.value = null;
    return;
  }
  if (!change) return;
  const page = await call('lookPeople', { body: { change, list, courseId, after } });
  names.value = {
    key,
    people: [...(after === null ? [] : (names.value?.people ?? [])), ...page.people],
    newcomers: page.newcomers,
    next: page.next,
  };
}
const sections = computed(() =>
  look.value
    ? ([
        ['gains', look.value.gaining],
        ['loses', look.value.losing],
        ['still', look.value.still.reduce((most, { people }) => Math.max(most, people), 0)],
      ] as [List, number][])
    : [],
);
const mostGroups = 6;
const moreGroups = computed(() =>
  [look.value?.joins ?? [], look.value?.leaves ?? []].reduce((sum, { length }) => sum + Math.max(0, length - mostGroups), 0),
);
const spoken = computed(() => (look.value ? words.changes.spoken(look.value.gaining, look.value.losing) : ''));
</script>

<template>
  <section class="look" :aria-label="words.changes.whatItWouldDo">
    <slot />
    <p class="sr-only" role="status">{{ spoken }}</p>
    <div v-if="inHand.isLooking.value && !look" class="card soft">{{ words.changes.looking }}</div>
    <template v-if="look">
      <div
        v-for="conflict in look.conflicts"
        :key="conflict.code"
        class="card"
        :class="conflict.code === 'nothing to do' ? 'soft' : conflict.blocks ? 'stop' : 'warn'"
      >
        {{ words.changes.conflicts[conflict.code](conflict.count) }}
      </div>
      <div v-if="look.newPeople > 0" class="card">
        <b class="big good">{{ showNumber(look.newPeople) }}</b> {{ words.changes.newPeople(look.newPeople) }}
      </div>
      <div v-if="look.takenBack > 0" class="card">
        <b class="big late">{{ showNumber(look.takenBack) }}</b> {{ words.changes.takenBack(look.takenBack) }}
      </div>
      <div v-for="move in look.joins.slice(0, mostGroups)" :key="`j${move.groupId}`" class="card">
        <b class="big">{{ showNumber(move.people) }}</b> {{ words.changes.join(move.people) }} <b>{{ move.group }}</b>
      </div>
      <div v-for="move in look.leaves.slice(0, mostGroups)" :key="`l${move.groupId}`" class="card">
        <b class="big">{{ showNumber(move.people) }}</b> {{ words.changes.leave(move.people) }} <b>{{ move.group }}</b>
      </div>
      <div v-if="moreGroups > 0" class="card soft">{{ words.changes.moreGroups(moreGroups) }}</div>
      <div v-for="[list, people] in sections" v-show="list === 'loses' || people > 0" :key="list" class="card">
        <p>
          <b class="big" :class="{ good: list === 'gains' && people > 0, late: list === 'loses' && people > 0 }">{{
            showNumber(people)
          }}</b>
          {{ words.changes[list](people) }}
          <button
            v-if="people > 0"
            type="button"
            class="plain-link"
            :aria-expanded="names?.key === `${list}/`"
            @click="openNames(list, null)"
          >
            {{ words.changes.who }}
          </button>
        </p>
        <ul v-if="look[list].length > 1 || look[list][0]?.day" class="plain-list courses">
          <li v-for="effect in look[list].slice(0, 12)" :key="`${effect.courseId}${effect.day}`">
            {{ effect.course }}<template v-if="effect.day">{{ words.changes.fromDay(showDay(effect.day)) }}</template
            >{{ ': ' }}
            <button type="button" class="plain-link num" @click="openNames(list, effect.courseId)">{{ showNumber(effect.people) }}</button>
          </li>
        </ul>
        <div v-if="names?.key.startsWith(`${list}/`)" class="names">
          <span v-if="names.newcomers > 0" class="soft">{{ words.changes.newcomers(names.newcomers) }}</span>
          {{ names.people.map(({ name }) => name).join(', ') }}
          <button
            v-if="names.next !== null"
            type="button"
            class="plain-link"
            @click="openNames(list, Number(names.key.split('/')[1]) || null, names.next)"
          >
            {{ words.common.more }}
          </button>
        </div>
      </div>
      <div v-if="later && look.gaining > 0" class="card">{{ later }}</div>
    </template>
    <div v-if="inHand.problem.value" class="card stop" role="alert">{{ inHand.problem.value }}</div>
    <div class="acts">
      <v-btn
        variant="flat"
        :disabled="!look || isBlocked || inHand.isLooking.value"
        :loading="inHand.isApplying.value"
        @click="$emit('apply')"
        >{{ applyLabel }}</v-btn
      >
      <v-btn variant="text" @click="$emit('discard')">{{ words.changes.discard }}</v-btn>
    </div>
    <p class="soft small">{{ words.changes.canBeUndone }}</p>
  </section>
</template>

<style scoped>
.look {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 10px 12px;
}
.card .big {
  font-size: 20px;
}
.warn {
  background: var(--brass2);
  border-color: var(--brass);
}
.stop {
  background: var(--wrong2);
  border-color: var(--wrong);
  color: var(--wrong);
}
.courses {
  margin-top: 4px;
  font-size: 14px;
  color: var(--ink2);
}
.names {
  margin-top: 8px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  font-size: 14px;
  max-height: 180px;
  overflow: auto;
}
.acts {
  display: flex;
  gap: 8px;
  margin-top: 4px;
}
.small {
  font-size: 13.5px;
}
</style>
