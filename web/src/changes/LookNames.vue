<script setup lang="ts">
import type { Names } from './look-names.ts';
import * as words from '../words.ts';

/** The names behind a number of a look. */
defineProps<{ names: Names }>();
defineEmits<{ more: [] }>();
</script>

<template>
  <div class="names">
    <span v-if="names.newcomers > 0" class="soft">{{ words.changes.newcomers(names.newcomers) }}</span>
    {{ names.people.map(({ name, group }) => (group ? `${name} (${group})` : name)).join(', ') }}
    <button v-if="names.next !== null" type="button" class="plain-link" @click="$emit('more')">{{ words.common.more }}</button>
  </div>
</template>

<style scoped>
.names {
  margin-top: 8px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
  font-size: 14px;
  max-height: 180px;
  overflow: auto;
}
</style>
