<script setup lang="ts">
import { mdiBookOpenPageVariantOutline, mdiFileDelimitedOutline, mdiSitemapOutline } from '@mdi/js';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import * as words from '../words.ts';

/** A new site: three doors, and what is still missing before a learner can work. */
/** `compact`: only what is still missing, and nothing when nothing is. */
const { compact = false } = defineProps<{ compact?: boolean }>();
defineEmits<{ groups: []; courses: [] }>();
const scope = useScope();
const { data } = useQuery({ queryKey: ['group', 'missing'], queryFn: ({ signal }) => call('missing', {}, signal), staleTime: 0 });
const missing = computed(() =>
  (['groups', 'people', 'courses', 'access', 'signIns'] as const).map((what) => ({ what, isMissing: data.value?.[what] ?? true })),
);
</script>

<template>
  <p v-if="compact" class="compact">
    <template v-if="data && missing.some(({ isMissing }) => isMissing)">
      <b>{{ words.begin.missing }}</b>{{ ': ' }}
      <template v-for="({ what }, index) in missing.filter(({ isMissing }) => isMissing)" :key="what"
        >{{ index > 0 ? ', ' : ''
        }}<button v-if="what === 'courses'" type="button" class="plain-link" @click="$emit('courses')">
          {{ words.begin.missingWhat[what] }}</button
        ><router-link v-else-if="what === 'access'" class="plain-link" :to="scope.linkTo('access')">{{
          words.begin.missingWhat[what]
        }}</router-link
        ><template v-else>{{ words.begin.missingWhat[what] }}</template></template
      >
    </template>
  </p>
  <section v-else class="begin">
    <h2>{{ words.begin.title }}</h2>
    <p class="soft">{{ words.begin.lead }}</p>
    <div class="doors">
      <button type="button" class="door" @click="$emit('groups')">
        <v-icon :icon="mdiSitemapOutline" size="30" /><b>{{ words.begin.groups }}</b
        ><span class="soft">{{ words.begin.groupsWhat }}</span>
      </button>
      <router-link class="door" :to="scope.linkTo('ways-in')">
        <v-icon :icon="mdiFileDelimitedOutline" size="30" /><b>{{ words.begin.file }}</b
        ><span class="soft">{{ words.begin.fileWhat }}</span>
      </router-link>
      <button type="button" class="door" @click="$emit('courses')">
        <v-icon :icon="mdiBookOpenPageVariantOutline" size="30" /><b>{{ words.begin.courses }}</b
        ><span class="soft">{{ words.begin.coursesWhat }}</span>
      </button>
    </div>
    <h3>{{ missing.some(({ isMissing }) => isMissing) ? words.begin.missing : words.begin.nothingMissing }}</h3>
    <ol class="plain-list steps">
      <li v-for="{ what, isMissing } in missing" :key="what" :class="isMissing ? '' : 'good'">
        <span aria-hidden="true">{{ isMissing ? '○' : '●' }}</span> {{ words.begin.missingWhat[what] }}
      </li>
    </ol>
  </section>
</template>

<style scoped>
.compact:not(:empty) {
  margin-top: 10px;
  font-size: 14px;
}
.begin {
  padding: 22px 0;
  display: grid;
  gap: 12px;
  align-content: start;
  overflow: auto;
}
.doors {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 14px;
}
.door {
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--paper);
  padding: 18px;
  display: grid;
  gap: 8px;
  justify-items: start;
  text-align: left;
  font: inherit;
  color: inherit;
  text-decoration: none;
  cursor: pointer;
}
.door:hover {
  background: var(--tide2);
}
.door b {
  font: 600 17px var(--heading);
}
.door .v-icon {
  color: var(--tide);
}
.steps {
  display: grid;
  gap: 4px;
}
</style>
