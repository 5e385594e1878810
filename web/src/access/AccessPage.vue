<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { keptQuery, useScope } from '../shell/scope.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import ViewLinks from '../ui/ViewLinks.vue';
import { words } from '../words.ts';
import GridView from './GridView.vue';

/** Who gets into what: the grid, and the catalogue of courses and course sets. */
const Catalogue = defineAsyncComponent(() => import('../courses/CatalogueList.vue'));
const CourseSheet = defineAsyncComponent(() => import('../courses/CourseSheet.vue'));
const CourseSetSheet = defineAsyncComponent(() => import('../courses/CourseSetSheet.vue'));
const scope = useScope();
const route = useRoute();
const router = useRouter();
const part = computed(() => route.params['part'] || null);
const thing = computed(() => (route.params['thing'] ? Number(route.params['thing']) : null));
const viewNames = ['grid', 'courses'] as const;
const views = viewNames.map((name) => ({ name, title: words.access.views[name] }));
function go(view: string): void {
  void router.push({
    name: 'access',
    params: { groupId: scope.groupId.value, ...(view === 'courses' ? { part: view } : {}) },
    query: keptQuery(route.query),
  });
}
</script>

<template>
  <ScopeBar>
    <ViewLinks :model-value="part === null ? 'grid' : 'courses'" :views="views" :label="words.access.viewsLabel" @update:model-value="go" />
  </ScopeBar>
  <GridView v-if="part === null" />
  <CourseSheet v-else-if="part === 'courses' && thing !== null" :key="`course ${thing}`" :course-id="thing" />
  <CourseSetSheet v-else-if="part === 'sets' && thing !== null" :key="`set ${thing}`" :course-set-id="thing" />
  <Catalogue v-else />
</template>
