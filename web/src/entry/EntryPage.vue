<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import { type EntryPart, entryParts } from './parts.ts';

/** The ways into a scope: who asks, codes, invitations, a file, letters. The figures on top are the navigation too. */
const scope = useScope();
const route = useRoute();
const session = useSession();
const screens = {
  asking: defineAsyncComponent(() => import('./AskingList.vue')),
  codes: defineAsyncComponent(() => import('./CodesList.vue')),
  invitations: defineAsyncComponent(() => import('./InvitationsList.vue')),
  file: defineAsyncComponent(() => import('./BringIn.vue')),
  letters: defineAsyncComponent(() => import('./LettersEditor.vue')),
};
const { data: figures } = useQuery({
  queryKey: ['entry-figures', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('entryFigures', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
});
const shown = computed(() =>
  entryParts.filter((part) =>
    part === 'asking' ? session.hasPower('decideEntry') || session.hasPower('openCourses') : session.hasPower('managePeople'),
  ),
);
const part = computed<EntryPart>(() => {
  const asked = entryParts.find((each) => each === route.params['part']);
  if (asked) return asked;
  return shown.value.includes('codes') && (figures.value?.asking ?? 0) === 0 ? 'codes' : (shown.value[0] ?? 'codes');
});
const figureOf = (each: EntryPart): { big: string; word: string } | null => {
  if (!figures.value) return null;
  if (each === 'asking') return { big: showNumber(figures.value.asking), word: words.waysIn.asking.what(figures.value.asking) };
  if (each === 'codes') return { big: showNumber(figures.value.codesOpen), word: words.figures.codesOpen(figures.value.codesOpen) };
  if (each === 'invitations')
    return { big: showNumber(figures.value.invitationsOut), word: words.waysIn.invitations.what(figures.value.invitationsOut) };
  return null;
};
const link = (each: EntryPart) => ({
  name: 'ways-in',
  params: { groupId: scope.groupId.value, part: each },
  query: scope.query.value.subgroups === 'no' ? { subgroups: 'no' } : {},
});
</script>

<template>
  <ScopeBar :hint="words.entry.goHere" />
  <nav class="strip entry-strip" :aria-label="words.areas['ways-in']">
    <router-link
      v-for="each in shown"
      :key="each"
      class="figure"
      :class="{ on: each === part }"
      :to="link(each)"
      :aria-current="each === part ? 'page' : undefined"
    >
      <small>{{ words.waysIn.parts[each] }}</small>
      <p v-if="figureOf(each)">
        <b class="big" :class="{ late: each === 'asking' && (figures?.asking ?? 0) > 0 }">{{ figureOf(each)?.big }}</b>
        {{ figureOf(each)?.word }}
      </p>
      <p v-else-if="each === 'file' || each === 'letters'" class="soft">{{ words.waysIn.partWhat[each] }}</p>
    </router-link>
  </nav>
  <component :is="screens[part]" />
</template>

<style scoped>
.entry-strip {
  margin: 12px 26px 0;
  border-radius: 8px;
}
.figure {
  min-height: 52px;
}
@media (max-width: 860px) {
  .entry-strip {
    margin: 8px 14px 0;
    grid-auto-flow: column;
    overflow-x: auto;
  }
}
</style>
