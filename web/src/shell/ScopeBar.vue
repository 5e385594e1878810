<script setup lang="ts">
import { computed, ref } from 'vue';
import { useTree } from '../groups/tree-query.ts';
import { showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import { useScope } from './scope.ts';

/** Which group one is in, in every area; each crumb opens its siblings, the last one what lies below it too. */
const { hint = '' } = defineProps<{ hint?: string }>();
const scope = useScope();
const tree = useTree();
const path = computed(() => tree.value?.path(scope.groupId.value) ?? []);
const below = computed(() => (tree.value ? tree.value.branchSize(scope.groupId.value) - 1 : 0));
const narrow = ref('');
/** Groups right below one, narrowed by what was typed. */
const groupsBelow = (parentId: number | null) =>
  (tree.value?.children(parentId) ?? []).filter(({ name }) => name.toLowerCase().includes(narrow.value.toLowerCase()));
const many = 8;
</script>

<template>
  <div class="scope">
    <nav :aria-label="words.shell.scope" class="crumbs">
      <template v-for="(step, index) in path" :key="step.id">
        <span v-if="index > 0" class="soft" aria-hidden="true">{{ '›' }}</span>
        <v-menu :close-on-content-click="false" @update:model-value="narrow = ''">
          <template #activator="{ props: activator }">
            <button
              v-bind="activator"
              type="button"
              class="crumb"
              :class="{ here: index === path.length - 1 }"
              :aria-current="index === path.length - 1 ? 'location' : undefined"
            >
              {{ step.name }}<span v-if="index === path.length - 1" aria-hidden="true">{{ '\u00a0▾' }}</span>
            </button>
          </template>
          <v-card min-width="260" max-height="380" class="menu">
            <v-text-field
              v-if="groupsBelow(step.parentId).length > many || narrow !== ''"
              v-model="narrow"
              autofocus
              class="ma-2"
              :label="words.groups.narrow"
            />
            <v-list>
              <v-list-item
                v-for="each in groupsBelow(step.parentId)"
                :key="each.id"
                :title="each.name"
                :active="each.id === step.id"
                @click="scope.goTo(each.id)"
              >
                <template #append
                  ><span class="num soft">{{ showNumber(each.people) }}</span></template
                >
              </v-list-item>
              <template v-if="index === path.length - 1 && groupsBelow(step.id).length > 0">
                <v-divider />
                <v-list-subheader>{{ words.shell.belowOf(step.name) }}</v-list-subheader>
                <v-list-item v-for="each in groupsBelow(step.id)" :key="each.id" :title="each.name" @click="scope.goTo(each.id)">
                  <template #append
                    ><span class="num soft">{{ showNumber(each.people) }}</span></template
                  >
                </v-list-item>
              </template>
            </v-list>
          </v-card>
        </v-menu>
      </template>
    </nav>
    <v-switch
      v-if="below > 0"
      class="subgroups small-switch"
      :model-value="scope.withSubgroups.value"
      :label="words.shell.withSubgroups"
      @update:model-value="scope.setSubgroups($event === true)"
    />
    <span v-if="below > 0" class="soft">{{ words.shell.below(below) }}</span>
    <span v-if="hint" class="soft">{{ hint }}</span>
    <slot />
  </div>
</template>

<style scoped>
.scope {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 4px 26px;
  min-height: 39px;
  border-bottom: 1px solid var(--rule);
  font-size: 14px;
  background: var(--paper2);
  flex: none;
  overflow: hidden;
  white-space: nowrap;
}
.scope > .soft {
  flex: 0 10 auto;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.crumbs {
  display: flex;
  align-items: center;
  gap: 6px;
  min-width: 0;
}
.crumb {
  color: var(--ink2);
  background: none;
  border: 0;
  border-bottom: 1px dotted var(--ink2);
  font: inherit;
  cursor: pointer;
  padding: 2px 0;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 24px;
}
.crumb.here {
  flex-shrink: 0;
  max-width: 60vw;
}
.crumb.here {
  color: var(--ink);
  font-weight: 700;
  border-bottom-color: transparent;
}
.subgroups {
  flex: none;
}
.subgroups :deep(.v-label) {
  font-size: 14px;
  padding-left: 6px;
  color: var(--ink);
}
@media (max-width: 860px) {
  .scope {
    flex-wrap: wrap;
    gap: 2px 14px;
    padding: 4px 14px;
  }
}
.menu {
  display: flex;
  flex-direction: column;
  overflow: auto;
}
</style>
