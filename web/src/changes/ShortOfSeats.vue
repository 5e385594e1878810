<script setup lang="ts">
import type { Look } from '@gate-roster/contract';
import { ref } from 'vue';
import * as words from '../words.ts';
import { applyAtOnce } from './apply-at-once.ts';

/** Limits that would keep people in line for a seat, each with the act that ends it. */
defineProps<{ short: Look['seats']['short'] }>();
const emit = defineEmits<{ raised: [] }>();
type Limit = Look['seats']['short'][number];
const isRaising = ref(false);

/** Enough for those in line there already, and for the new ones. */
const enough = ({ most, missing, waiting }: Limit): number => most + missing + waiting;

async function raise(limit: Limit): Promise<void> {
  const { licenceId, groupId, group } = limit;
  const most = enough(limit);
  isRaising.value = true;
  if (await applyAtOnce({ kind: 'limit-seats', licenceId, limits: [{ groupId, most }] }, words.changes.limitRaised(group, most)))
    emit('raised');
  isRaising.value = false;
}
</script>

<template>
  <ul class="plain-list short">
    <li v-for="limit in short.slice(0, 12)" :key="`${limit.licenceId}/${limit.groupId}`">
      {{ words.changes.shortOf(limit) }}
      <button v-if="limit.raise" type="button" class="plain-link" :disabled="isRaising" @click="raise(limit)">
        {{ words.changes.raiseLimit(enough(limit)) }}
      </button>
      <router-link
        v-else
        class="plain-link"
        :to="{ name: 'seats', params: { groupId: limit.groupId }, query: { licence: limit.licenceId } }"
        >{{ words.changes.toLicence(limit.licence) }}</router-link
      >
    </li>
  </ul>
</template>

<style scoped>
.short {
  margin-top: 6px;
  font-size: 14px;
}
</style>
