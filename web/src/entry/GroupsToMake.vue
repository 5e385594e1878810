<script setup lang="ts">
import { extendTree, type GroupId, nameKey, Tree } from '@gate-roster/core';
import { computed } from 'vue';
import { useTree } from '../groups/tree-query.ts';
import { words } from '../words.ts';
import type { RosterFile } from './use-roster-file.ts';

/** What would be made, as the tree it would be: groups that stand lead down to it, new ones can be struck out. */
const { file, into } = defineProps<{ file: RosterFile; into: number }>();
const tree = useTree();

interface Line {
  id: number;
  name: string;
  depth: number;
  isNew: boolean;
  key: string;
}
const keyOf = (of: Tree, id: GroupId): string =>
  of
    .path(id)
    .map((step) => nameKey(of.node(step).name))
    .join('>');
const lines = computed<Line[]>(() => {
  const nodes = tree.value?.nodes() ?? [];
  if (nodes.length === 0) return [];
  const { tree: wished, made } = extendTree(new Tree(nodes), into, file.newGroups.value);
  const shown = new Set(made.flatMap(({ id }) => wished.path(id)).filter((id) => wished.isInBranch(id, into)));
  const top = wished.path(into).length;
  return wished
    .branch(into)
    .filter((id) => shown.has(id))
    .map((id) => ({ id, name: wished.node(id).name, depth: wished.path(id).length - top, isNew: id < 0, key: keyOf(wished, id) }));
});

/** With a group go all paths that lead to it or through it. */
function strike({ key }: Line): void {
  const standing = new Tree(tree.value?.nodes() ?? []);
  const makes = (path: string): boolean => {
    const alone = extendTree(standing, into, [path]);
    return alone.made.some(({ id }) => keyOf(alone.tree, id) === key);
  };
  void file.dontMake(file.newGroups.value.filter(makes));
}
</script>

<template>
  <section class="made" :aria-label="words.entry.wouldMake">
    <p class="soft">{{ words.entry.wouldMake }}</p>
    <ul>
      <li v-for="line in lines" :key="line.id" :style="{ paddingInlineStart: `${line.depth * 18}px` }">
        <span :class="line.isNew ? 'new' : 'soft'">{{ line.name }}</span>
        <button v-if="line.isNew" type="button" class="plain-link" :aria-label="words.entry.dontMake(line.name)" @click="strike(line)">
          {{ words.entry.strike }}
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.made {
  display: flex;
  gap: 14px;
  flex: none;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 112px;
  overflow: auto;
  flex: 1;
}
li {
  display: flex;
  gap: 12px;
  line-height: 1.5;
}
.new {
  font-weight: 600;
}
</style>
