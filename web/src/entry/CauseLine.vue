<script setup lang="ts">
import { computed } from 'vue';
import OfferedList from '../ui/OfferedList.vue';
import * as words from '../words.ts';
import type { ShownLine } from './roster-lines.ts';
import type { RosterFile } from './use-roster-file.ts';

/** The head of rows that stand together, with what can be done to all of them at once. */
const { line, file } = defineProps<{ line: Exclude<ShownLine, { kind: 'row' }>; file: RosterFile }>();
const missing = computed(() =>
  line.kind === 'cause' && line.cause === 'group' ? (file.summary.value?.causes.find(({ cause }) => cause === 'group')?.groups ?? []) : [],
);
const mostOffered = 30;
/** All that are missing, and each of the first. */
const offered = computed(() => [
  ...(missing.value.length > 1 ? [{ title: words.entry.makeAll(missing.value.length), paths: missing.value }] : []),
  ...missing.value.slice(0, mostOffered).map((path) => ({ title: words.entry.makeOne(path), paths: [path] })),
]);
const hasOthers = computed(() => (file.summary.value?.lines ?? 0) > 1 && (file.summary.value?.causes.length ?? 0) > 0);
</script>

<template>
  <span class="line">
    <b>{{
      line.kind === 'cause'
        ? words.entry.causeRows(words.entry.causes[line.cause], line.rows)
        : line.kind === 'changing'
          ? words.entry.changingRows(line.rows)
          : words.entry.goodRows(line.rows)
    }}</b>
    <span class="acts">
      <template v-if="line.kind === 'cause'">
        <button v-if="line.proposals > 0" type="button" class="plain-link" @click="file.takeProposals(line.cause)">
          {{ words.entry.takeProposals(line.proposals) }}
        </button>
        <v-menu v-if="missing.length > 0">
          <template #activator="{ props: activator }">
            <button v-bind="activator" type="button" class="plain-link">{{ words.entry.makeMissing(missing.length) }}</button>
          </template>
          <!-- Plain lines: thirty of Vuetify's take longer to draw than one may keep the page waiting. -->
          <v-card max-height="420">
            <OfferedList :items="offered.map(({ title }, key) => ({ key, title }))" @take="file.makeGroups(offered[$event]?.paths ?? [])" />
          </v-card>
        </v-menu>
        <button type="button" class="plain-link" @click="file.leaveOutCause(line.cause)">{{ words.entry.leaveRowsOut(line.rows) }}</button>
      </template>
      <template v-else-if="line.kind === 'good'">
        <button v-if="line.left > 0" type="button" class="plain-link" @click="file.takeBackLeft()">
          {{ words.entry.leftRows(line.left) }}
        </button>
        <button
          v-if="hasOthers && line.rows > 0"
          type="button"
          class="plain-link"
          :aria-expanded="file.isGoodOpen.value"
          @click="file.openGood(!file.isGoodOpen.value)"
        >
          {{ file.isGoodOpen.value ? words.entry.hide : words.entry.show }}
        </button>
      </template>
    </span>
  </span>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  position: sticky;
  left: 6px;
  /* As wide as the window onto the table, not as the table: what can be done stays in sight. */
  width: calc(100cqi - 18px);
}
.acts {
  display: flex;
  gap: 16px;
}
</style>
