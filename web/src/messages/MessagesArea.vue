<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import ScopeBar from '../shell/ScopeBar.vue';
import { keptQuery, useScope } from '../shell/scope.ts';
import ViewLinks from '../ui/ViewLinks.vue';
import * as words from '../words.ts';
import MessagesPage from './MessagesPage.vue';

/** What is written to groups, what is on its way, what people are reminded of, and what happened. */
const GoingOut = defineAsyncComponent(() => import('./GoingOut.vue'));
const RemindersPage = defineAsyncComponent(() => import('./RemindersPage.vue'));
const WhatHappened = defineAsyncComponent(() => import('./WhatHappened.vue'));
const scope = useScope();
const route = useRoute();
const router = useRouter();
const viewNames = ['groups', 'going-out', 'reminders', 'happened'] as const;
const views = viewNames.map((name) => ({ name, title: words.messages.views[name] }));
const view = computed(() => viewNames.find((name) => name === route.params['part']) ?? 'groups');
function go(wanted: string): void {
  void router.push({
    name: 'messages',
    params: { groupId: scope.groupId.value, ...(wanted === 'groups' ? {} : { part: wanted }) },
    query: keptQuery(route.query),
  });
}
</script>

<template>
  <ScopeBar>
    <ViewLinks :model-value="view" :views="views" :label="words.messages.viewsLabel" @update:model-value="go" />
  </ScopeBar>
  <GoingOut v-if="view === 'going-out'" />
  <RemindersPage v-else-if="view === 'reminders'" />
  <WhatHappened v-else-if="view === 'happened'" />
  <MessagesPage v-else />
</template>
