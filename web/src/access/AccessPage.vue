<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { keptQuery, useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import ViewLinks from '../ui/ViewLinks.vue';
import * as words from '../words.ts';
import AsOfField from './AsOfField.vue';
import GridView from './GridView.vue';

/** Who gets into what: the grid, and the catalogue of courses and course sets. */
const Catalogue = defineAsyncComponent(() => import('../courses/CatalogueList.vue'));
const ComingUp = defineAsyncComponent(() => import('./ComingUp.vue'));
const RulesPage = defineAsyncComponent(() => import('../rules/RulesPage.vue'));
const CourseSheet = defineAsyncComponent(() => import('../courses/CourseSheet.vue'));
const CourseSetSheet = defineAsyncComponent(() => import('../courses/CourseSetSheet.vue'));
const scope = useScope();
const route = useRoute();
const router = useRouter();
const session = useSession();
const part = computed(() => route.params['part'] || null);
const thing = computed(() => (route.params['thing'] ? Number(route.params['thing']) : null));
const viewNames = computed(() =>
  (['grid', 'courses', 'rules', 'coming'] as const).filter((name) => name !== 'coming' || session.hasPower('seeProgress')),
);
const views = computed(() => viewNames.value.map((name) => ({ name, title: words.access.views[name] })));
const view = computed(() => (part.value === null ? 'grid' : part.value === 'coming' || part.value === 'rules' ? part.value : 'courses'));
function go(wanted: string): void {
  void router.push({
    name: 'access',
    params: { groupId: scope.groupId.value, ...(wanted === 'grid' ? {} : { part: wanted }) },
    query: keptQuery(route.query),
  });
}
</script>

<template>
  <ScopeBar>
    <AsOfField v-if="part === null || (part === 'courses' && thing !== null)" />
    <ViewLinks :model-value="view" :views="views" :label="words.access.viewsLabel" @update:model-value="go" />
  </ScopeBar>
  <GridView v-if="part === null" />
  <CourseSheet v-else-if="part === 'courses' && thing !== null" :key="`course ${thing}`" :course-id="thing" />
  <CourseSetSheet v-else-if="part === 'sets' && thing !== null" :key="`set ${thing}`" :course-set-id="thing" />
  <RulesPage v-else-if="part === 'rules'" :rule-id="thing" />
  <ComingUp v-else-if="part === 'coming'" />
  <Catalogue v-else />
</template>
