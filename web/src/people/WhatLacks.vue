<script setup lang="ts">
import type { PersonSheet } from '@gate-roster/contract';
import { whatLacks } from '@gate-roster/core';
import { computed } from 'vue';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';

/** What somebody lacks to work on a course, with the one act that would change it where the reader may. */
const { person, course } = defineProps<{ person: PersonSheet; course: PersonSheet['courses'][number] }>();
defineEmits<{ open: []; account: [] }>();
const session = useSession();
const w = words.access.lacks;
const lack = computed(() => whatLacks(course));
const groupId = computed(() => person.groups[0]?.id ?? null);
</script>

<template>
  <p v-if="lack" class="lacks">
    {{ w.said(lack) }}
    <button v-if="lack.what === 'account' && person.may.account" type="button" class="plain-link" @click="$emit('account')">
      {{ w.account }}
    </button>
    <button
      v-else-if="['day', 'blocked', 'opening'].includes(lack.what) && person.may.exceptIn !== null"
      type="button"
      class="plain-link"
      @click="$emit('open')"
    >
      {{ w.open }}
    </button>
    <router-link
      v-else-if="lack.what === 'seat' && groupId !== null && session.hasPower('handOutSeats')"
      class="plain-link"
      :to="{ name: 'seats', params: { groupId } }"
      >{{ w.seat }}</router-link
    >
    <router-link
      v-else-if="lack.what === 'decision' && groupId !== null && session.hasPower('openCourses')"
      class="plain-link"
      :to="{ name: 'ways-in', params: { groupId, part: 'asking' } }"
      >{{ w.decision }}</router-link
    >
  </p>
</template>

<style scoped>
.lacks {
  font-size: 13.5px;
}
</style>
